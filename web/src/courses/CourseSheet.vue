<script setup lang="ts">
import type { Change } from '@gate-roster/contract';
import { useQuery } from '@tanstack/vue-query';
import { computed, defineAsyncComponent, ref } from 'vue';
import { useRoute } from 'vue-router';
import { useAsOf } from '../access/as-of.ts';
import WhyHere from '../access/WhyHere.vue';
import { call } from '../api/call.ts';
import LookPanel from '../changes/LookPanel.vue';
import { useChange } from '../changes/use-change.ts';
import { keptQuery, useScope } from '../shell/scope.ts';
import { useSession } from '../shell/session.ts';
import { copyText } from '../ui/copy.ts';
import LoadState from '../ui/LoadState.vue';
import * as words from '../words.ts';
import ActivityContentShown from '../work/ActivityContentShown.vue';
import StatementList from './StatementList.vue';

/** One course: what it says of itself, what opens it here, how its learners are, and its units. */
const CourseForm = defineAsyncComponent(() => import('./CourseForm.vue'));
const OpenForGroups = defineAsyncComponent(() => import('./OpenForGroups.vue'));
const CourseOnDay = defineAsyncComponent(() => import('./CourseOnDay.vue'));
const SkillsForm = defineAsyncComponent(() => import('../work/SkillsForm.vue'));
const WhoCouldGetIn = defineAsyncComponent(() => import('./WhoCouldGetIn.vue'));
const { courseId } = defineProps<{ courseId: number }>();
const w = words.catalogue;
const scope = useScope();
const session = useSession();
const route = useRoute();
const {
  data: course,
  error,
  isPending,
  refetch,
} = useQuery({
  queryKey: ['access', scope.groupId, 'course', computed(() => courseId), scope.query],
  queryFn: ({ signal }) => call('course', { params: { groupId: scope.groupId.value, courseId }, query: scope.query.value }, signal),
});
const panel = ref<'edit' | 'open' | 'state' | 'who' | 'skills' | null>(null);
const day = useAsOf();
const stateChange = computed<Change | null>(() =>
  panel.value === 'state' && course.value ? { kind: 'edit-course', courseId, values: { archived: !course.value.archived } } : null,
);
const inHand = useChange(stateChange, w.saved);
async function apply(): Promise<void> {
  if (await inHand.apply()) panel.value = null;
}
const activities = computed(() => course.value?.units.flatMap((unit) => unit.activities) ?? []);
/** Under which a platform reports on it. */
const addressOf = (activityId: number): string => `${window.location.origin}/activities/${activityId}`;
const isNamed = (id: number): boolean => course.value?.doneByActivities?.includes(id) ?? false;
const to = (part: 'courses' | 'sets', thing?: number) => ({
  name: 'access',
  params: { groupId: scope.groupId.value, part, ...(thing ? { thing } : {}) },
  query: keptQuery(route.query),
});
</script>

<template>
  <div class="split">
    <main class="part">
      <router-link class="back" :to="to('courses')">{{ `‹ ${w.back}` }}</router-link>
      <LoadState v-if="!course" :error="error" :is-pending="isPending" @again="refetch()" />
      <template v-else>
        <div class="head">
          <div>
            <h1>{{ course.name }}</h1>
            <p class="soft">
              <span v-if="course.code" class="code">{{ course.code }}</span>
              {{ [course.subject, course.home ? '' : w.termsOf[course.terms]].filter(Boolean).join(', ') }}
            </p>
            <p v-if="course.tags.length > 0" class="tags">
              <router-link
                v-for="tag in course.tags"
                :key="tag"
                class="tag"
                :to="{ ...to('courses'), query: { ...keptQuery(route.query), tag } }"
                >{{ tag }}</router-link
              >
            </p>
            <p v-if="course.home" class="soft">{{ w.ownNote(course.home.name) }}</p>
          </div>
          <div class="acts">
            <v-btn v-if="course.standing" variant="text" @click="panel = 'who'">{{ words.couldGetIn.open }}</v-btn>
            <v-btn
              v-if="session.hasPower('managePeople') && !course.archived"
              variant="text"
              :to="{
                name: 'access',
                params: { groupId: scope.groupId.value, part: 'rules' },
                query: { ...keptQuery(route.query), write: 'new', gets: String(courseId) },
              }"
              >{{ words.rules.joinsGroup }}</v-btn
            >
            <v-btn v-if="course.mayEdit" variant="text" @click="panel = 'state'">{{ course.archived ? w.takeUp : w.archive }}</v-btn>
            <v-btn v-if="course.mayEdit" variant="text" @click="panel = 'skills'">{{ words.work.skillsTitle }}</v-btn>
            <v-btn v-if="course.mayEdit" @click="panel = 'edit'">{{ w.edit }}</v-btn>
            <v-btn v-if="course.mayOpen && !course.archived" variant="flat" @click="panel = 'open'">{{ w.openFor }}</v-btn>
          </div>
        </div>
        <CourseOnDay v-if="day !== null" :course-id="courseId" :units="course.units" :licences="course.licences" />
        <p v-if="course.archived && day === null" class="archived">{{ w.archivedNote }}</p>
        <p v-if="course.description">{{ course.description }}</p>
        <div v-if="day === null" class="facts">
          <section v-if="course.standing">
            <h2>{{ w.standing }}</h2>
            <p>{{ w.standingWords(course.standing.all, course.standing.underWay, course.standing.done, course.standing.overdue) }}</p>
            <router-link
              :to="{
                name: 'progress',
                params: { groupId: scope.groupId.value },
                query: { ...keptQuery(route.query), view: 'course', course: String(courseId) },
              }"
              >{{ w.showProgress }}</router-link
            >
          </section>
          <section>
            <h2>{{ w.seats }}</h2>
            <p v-if="course.licences.length === 0">{{ w.noLicence }}</p>
            <ul v-else class="plain-list">
              <li v-for="licence in course.licences" :key="licence.id">{{ w.licence(licence.name, licence.lastDay) }}</li>
            </ul>
          </section>
          <section>
            <h2>{{ w.inSets }}</h2>
            <p v-if="course.sets.length === 0">{{ w.inNoSet }}</p>
            <ul v-else class="plain-list">
              <li v-for="set in course.sets" :key="set.id">
                <router-link :to="to('sets', set.id)">{{ set.name }}</router-link>
              </li>
            </ul>
          </section>
        </div>
        <section v-if="day === null && !course.archived">
          <h2>{{ w.whyHere }}</h2>
          <WhyHere :group-id="scope.groupId.value" :course-id="courseId" />
        </section>
        <StatementList
          v-if="day === null"
          :statements="course.statements"
          :elsewhere="course.elsewhere"
          :units="course.units"
          :licences="course.licences"
        />
        <section>
          <h2>{{ w.content }}</h2>
          <p class="soft">
            {{ w.rule(course.passScore, course.doneByActivities?.length ?? 0, activities.length) }}
            {{ course.validMonths === null ? '' : w.valid(course.validMonths, course.reopensDays) }}
            {{ course.source ? w.from(course.source) : '' }}
          </p>
          <ol class="units">
            <li v-for="unit in course.units" :key="unit.id">
              <b>{{ unit.name }}</b>
              <ul class="plain-list">
                <li v-for="activity in unit.activities" :key="activity.id">
                  {{ activity.name
                  }}<span class="soft">{{
                    [
                      activity.scored ? w.scored : '',
                      activity.finishedBy === 'player' ? '' : words.handInForm.finishedByFact[activity.finishedBy],
                      isNamed(activity.id) ? w.countsForDone : '',
                    ]
                      .filter(Boolean)
                      .map((fact) => `, ${fact}`)
                      .join('')
                  }}</span>
                  <button
                    v-if="course.mayEdit && activity.finishedBy === 'player'"
                    type="button"
                    class="plain-link small soft"
                    :aria-label="w.copyAddressOf(activity.name)"
                    @click="copyText(addressOf(activity.id))"
                  >
                    {{ w.copyAddress }}
                  </button>
                  <ActivityContentShown v-if="activity.content" :activity-id="activity.id" :content="activity.content" />
                </li>
              </ul>
            </li>
          </ol>
        </section>
      </template>
    </main>
    <aside v-if="course && panel" class="panel">
      <WhoCouldGetIn v-if="panel === 'who'" :course-id="courseId" @close="panel = null" />
      <SkillsForm v-else-if="panel === 'skills'" :course="course" @close="panel = null" />
      <CourseForm v-else-if="panel === 'edit'" :course="course" @close="panel = null" />
      <OpenForGroups
        v-else-if="panel === 'open'"
        :about="{ courseId }"
        :name="course.name"
        :units="course.units"
        :course-ids="[courseId]"
        @close="panel = null"
      />
      <LookPanel v-else :in-hand="inHand" :change="stateChange" @apply="apply" @discard="panel = null">
        <h2>{{ course.archived ? w.takeUp : w.archive }}</h2>
        <p v-if="!course.archived" class="soft">{{ w.archivedNote }}</p>
      </LookPanel>
    </aside>
  </div>
</template>

<style scoped>
.back {
  color: var(--tide);
}
.acts {
  display: flex;
  gap: 10px;
  align-items: center;
  flex-wrap: wrap;
}
.code {
  font-family: 'Atkinson Hyperlegible Mono Variable', monospace;
  margin-right: 10px;
}
.archived {
  border-left: 3px solid var(--flare);
  padding-left: 10px;
}
.facts {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(220px, 1fr));
  gap: 10px 26px;
}
h2 {
  font-size: 17px;
  margin-bottom: 4px;
}
.units {
  columns: 2 300px;
  padding-left: 20px;
  margin: 8px 0 0;
}
.units > li {
  break-inside: avoid;
  margin-bottom: 10px;
}
</style>
