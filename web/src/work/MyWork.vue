<script setup lang="ts">
import type { MyActivity } from '@gate-roster/contract';
import { useQuery } from '@tanstack/vue-query';
import { computed, ref } from 'vue';
import { useRoute } from 'vue-router';
import { call } from '../api/call.ts';
import { queryClient } from '../api/queries.ts';
import { failureWords } from '../ui/failure-words.ts';
import LoadState from '../ui/LoadState.vue';
import * as words from '../words.ts';
import ActivityContentShown from './ActivityContentShown.vue';
import MyPiece from './MyPiece.vue';

/** The activities of an own course: handing in, ticking off, and what came of it. */
const w = words.myWork;
const route = useRoute();
const courseId = computed(() => Number(route.params['courseId']));
const { data, error, isPending, refetch } = useQuery({
  queryKey: ['my-work', courseId],
  queryFn: ({ signal }) => call('myWork', { params: { courseId: courseId.value } }, signal),
});
const shown = useQuery({ queryKey: ['my-work', 'skills'], queryFn: ({ signal }) => call('mySkills', {}, signal) });
const skills = computed(() => shown.data.value?.skills ?? []);
const problem = ref<string | null>(null);
const activities = computed(() => data.value?.activities.filter(({ finishedBy }) => finishedBy !== 'player') ?? []);
async function tick(activity: MyActivity): Promise<void> {
  problem.value = null;
  try {
    await call('tickActivity', { params: { activityId: activity.id }, body: { finished: !activity.finished } });
    await queryClient.invalidateQueries({ predicate: ({ queryKey }) => ['my-work', 'my-courses'].includes(String(queryKey[0])) });
  } catch (failure) {
    problem.value = failureWords(failure);
  }
}
async function open(): Promise<void> {
  problem.value = null;
  try {
    location.assign((await call('launch', { params: { courseId: courseId.value } })).address);
  } catch (failure) {
    problem.value = failureWords(failure);
  }
}
</script>

<template>
  <main class="mine">
    <div class="column">
      <router-link :to="{ name: 'my-courses' }" class="back">{{ w.back }}</router-link>
      <LoadState v-if="!data" :error="error" :is-pending="isPending" @again="refetch()" />
      <template v-else>
        <h1>{{ data.course.name }}</h1>
        <p v-if="problem" class="stop" role="alert">{{ problem }}</p>
        <p v-if="activities.length === 0" class="soft">{{ w.none }}</p>
        <p v-if="activities.length < data.activities.length || activities.length === 0">
          <v-btn variant="outlined" height="44" @click="open">{{ w.openCourse }}</v-btn>
        </p>
        <template v-for="activity in activities" :key="activity.id">
          <article v-if="activity.finishedBy === 'learner'" class="card">
            <p class="soft small">{{ activity.unit }}</p>
            <h2>{{ activity.name }}</h2>
            <ActivityContentShown v-if="activity.content" :activity-id="activity.id" :content="activity.content" />
            <v-checkbox
              :model-value="activity.finished"
              :label="w.tickShort"
              :aria-label="w.tick(activity.name)"
              @update:model-value="tick(activity)"
            />
          </article>
          <MyPiece v-else :activity="activity" :skills="data.skills" />
        </template>
        <section v-if="skills.length > 0" class="shown">
          <h2>{{ w.skillsTitle }}</h2>
          <ul class="plain-list">
            <li v-for="skill in skills" :key="skill.name">
              {{ skill.name }}
              <span class="soft">{{ [skill.course, words.work.times(skill.times)].filter(Boolean).join(', ') }}</span>
            </li>
          </ul>
        </section>
      </template>
    </div>
  </main>
</template>

<style scoped>
.back {
  display: inline-flex;
  align-items: center;
  min-height: 44px;
}
.card h2,
.shown h2 {
  font-size: 18px;
}
.small {
  font-size: 13.5px;
}
.stop {
  background: var(--wrong2);
  color: var(--wrong);
  padding: 10px 14px;
  border-radius: 8px;
}
</style>
