<script setup lang="ts">
import { mdiClockOutline } from '@mdi/js';
import type { MyCourse } from '@gate-roster/contract';
import { useQuery } from '@tanstack/vue-query';
import { computed, onUnmounted, ref, watch } from 'vue';
import { useRoute } from 'vue-router';
import { call } from '../api/call.ts';
import { useSession } from '../shell/session.ts';
import { failureWords } from '../ui/failure-words.ts';
import AskWhom from '../groups/AskWhom.vue';
import LoadState from '../ui/LoadState.vue';
import ProgressBar from '../ui/ProgressBar.vue';
import { showDay, showScore, showTime } from '../ui/format.ts';
import MyCertificates from '../certificates/MyCertificates.vue';
import AskForCourse from './AskForCourse.vue';
import MyWhy from './MyWhy.vue';
import MyTasks from '../messages/MyTasks.vue';
import MyInvitations from '../accounts/MyInvitations.vue';
import NotOpen from '../entry/NotOpen.vue';
import * as words from '../words.ts';

const session = useSession();
const route = useRoute();
/** A link to one course, which somebody may have passed on. */
const asked = computed(() => (route.params['courseId'] ? Number(route.params['courseId']) : null));
const { data, error, isPending, refetch } = useQuery({
  queryKey: ['my-courses'],
  queryFn: ({ signal }) => call('myCourses', {}, signal),
  staleTime: 0,
  refetchOnWindowFocus: 'always',
});
const opening = ref<number | null>(null);
const problem = ref<string | null>(null);
async function open(course: MyCourse): Promise<void> {
  opening.value = course.id;
  problem.value = null;
  try {
    location.assign((await call('launch', { params: { courseId: course.id } })).address);
  } catch (failure) {
    problem.value = failureWords(failure);
    opening.value = null;
  }
}
/** When the next split ends, the page is asked again. */
let ending: ReturnType<typeof setTimeout> | undefined;
watch(
  () => data.value?.forNow,
  (now) => {
    clearTimeout(ending);
    const [next] = (now ?? []).map(({ until }) => Date.parse(until) - Date.now()).sort((a, b) => a - b);
    if (next !== undefined) ending = setTimeout(() => void refetch(), Math.min(Math.max(next, 0) + 1000, 2 ** 31 - 1));
  },
  { immediate: true },
);
onUnmounted(() => {
  clearTimeout(ending);
});
const canOpen = (course: MyCourse): boolean => course.open && course.inLine === null && !course.noLicence;
const isFirst = (index: number, course: MyCourse): boolean => index === 0 && canOpen(course) && course.status !== 'done';
</script>

<template>
  <NotOpen v-if="data && asked !== null && !data.courses.some(({ id }) => id === asked)" />
  <main v-else class="mine">
    <div class="column">
      <h1>{{ words.learner.hello(session.me?.givenName ?? '') }}</h1>
      <LoadState v-if="!data" :error="error" :is-pending="isPending" @again="refetch()" />
      <template v-else>
        <MyInvitations />
        <div v-for="group in data.groups" :key="group.id">
          <p class="soft">{{ [...group.path, group.name].join(': ') }}</p>
          <AskWhom :people="group.ask" />
        </div>
        <section v-for="(part, index) in data.forNow" :key="index" class="card now">
          <p>{{ words.splits.untilThen(showTime(part.until)) }}</p>
          <p v-if="part.words">{{ part.words }}</p>
          <p v-if="part.link">
            <a :href="part.link" target="_blank" rel="noreferrer noopener" class="open-link">{{ words.splits.openLink }}</a>
          </p>
        </section>
        <MyTasks />
        <p v-if="problem" class="stop" role="alert">{{ problem }}</p>
        <p v-if="data.courses.length === 0" class="none">{{ words.learner.none }}</p>
        <article
          v-for="(course, index) in data.courses"
          :key="course.id"
          class="card"
          :class="{ first: isFirst(index, course), shut: !canOpen(course) && course.status !== 'done' }"
        >
          <h2>{{ course.name }}</h2>
          <template v-if="canOpen(course) || course.status === 'done'">
            <p class="line">
              <span class="soft">{{ words.learner.units(course.unitsDone, course.units, course.setBy?.name ?? null) }}</span>
              <b v-if="course.due && course.status !== 'done'" class="due" :class="{ late: course.lateness === 'overdue' }"
                ><v-icon :icon="mdiClockOutline" size="16" /> {{ words.learner.due(course.lateness, showDay(course.due)) }}</b
              >
            </p>
            <ProgressBar
              class="bar"
              :all="course.units"
              :done="course.status === 'done' ? course.units : 0"
              :under-way="course.status === 'done' ? 0 : Math.max(course.unitsDone, course.status === 'under way' ? 0.3 : 0)"
            />
            <p v-if="course.forNowUntil" class="soft">{{ words.splits.opened(showTime(course.forNowUntil)) }}</p>
            <p v-if="words.learner.renewal(course)" class="soft">{{ words.learner.renewal(course) }}</p>
            <p class="line">
              <span :class="course.status === 'done' ? 'good' : 'soft'">{{
                words.learner.standing(
                  course.status,
                  course.doneDay ? showDay(course.doneDay) : null,
                  course.score === null ? null : showScore(course.score),
                )
              }}</span>
              <router-link
                v-if="course.ownActivities > 0"
                class="work"
                :to="{ name: 'my-work', params: { courseId: course.id } }"
                :aria-label="words.myWork.open(course.name)"
                >{{ course.toHandIn > 0 ? words.myWork.toHandIn(course.toHandIn) : words.myWork.handedInLink }}</router-link
              >
              <v-btn
                v-if="canOpen(course)"
                :variant="isFirst(index, course) ? 'flat' : 'outlined'"
                height="44"
                :loading="opening === course.id"
                :aria-label="words.learner.openLabel(course.status, course.name)"
                @click="open(course)"
                >{{ words.learner.open[course.status] }}</v-btn
              >
            </p>
          </template>
          <p v-else-if="course.forNowUntil" class="soft">{{ words.splits.setAside(showTime(course.forNowUntil)) }}</p>
          <p v-else-if="course.inLine !== null" class="soft">{{ words.learner.inLine(course.inLine) }}</p>
          <p v-else-if="course.noLicence" class="soft">{{ words.learner.noLicence }}</p>
          <p v-else class="soft">{{ course.opensOn ? words.learner.opens(showDay(course.opensOn)) : words.learner.closed }}</p>
          <MyWhy :course="course" />
        </article>
        <MyCertificates />
        <AskForCourse />
      </template>
    </div>
  </main>
</template>

<style scoped>
.card.first {
  border: 2px solid var(--tide);
}
.card.shut {
  background: transparent;
  border-style: dashed;
}
.card.shut h2 {
  color: var(--ink2);
}
.card h2 {
  font-size: 18px;
}
.card.now {
  border-left: 4px solid var(--tide);
}
.open-link {
  display: inline-flex;
  align-items: center;
  min-height: 44px;
}
.line {
  display: flex;
  justify-content: space-between;
  gap: 12px;
  align-items: center;
  flex-wrap: wrap;
}
.bar {
  width: 100%;
}
.due {
  display: inline-flex;
  gap: 4px;
  align-items: center;
}
.work {
  display: inline-flex;
  align-items: center;
  min-height: 44px;
}
.stop {
  background: var(--wrong2);
  color: var(--wrong);
  padding: 10px 14px;
  border-radius: 8px;
}
.none {
  padding: 16px 0;
}
</style>
