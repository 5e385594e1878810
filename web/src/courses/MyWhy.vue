<script setup lang="ts">
import type { MyCourse } from '@gate-roster/contract';
import { whatLacks } from '@gate-roster/core';
import { useQuery } from '@tanstack/vue-query';
import { computed, ref } from 'vue';
import { call } from '../api/call.ts';
import * as words from '../words.ts';

/** Why a course is open to the learner, or not, and what is missing: in their words, and only when they ask. */
const { course } = defineProps<{ course: MyCourse }>();
const isOpen = ref(false);
const w = words.learner.why;
const { data } = useQuery({
  queryKey: ['my-courses', 'why', computed(() => course.id)],
  queryFn: ({ signal }) => call('myWhy', { params: { courseId: course.id } }, signal),
  enabled: isOpen,
});
/** What opens it comes first. */
const said = computed(() => {
  const decided = (data.value?.why ?? []).filter(({ verdict }) => verdict === 'decided');
  return [
    ...new Set([...decided.filter(({ effect }) => effect !== 'block'), ...decided.filter(({ effect }) => effect === 'block')].map(w.step)),
  ];
});
const lack = computed(() => data.value && whatLacks({ ...course, opensLater: course.opensOn, asked: false, why: data.value.why }));
</script>

<template>
  <details class="soft" @toggle="isOpen = ($event.target as HTMLDetailsElement).open">
    <summary :aria-label="w.title(course.name)">{{ words.access.why }}</summary>
    <template v-if="data">
      <p v-for="line in said" :key="line">{{ line }}</p>
      <p v-if="lack">
        <b>{{ w.lack(lack) }}</b>
      </p>
    </template>
  </details>
</template>

<style scoped>
summary {
  min-height: 44px;
  display: inline-flex;
  align-items: center;
  cursor: pointer;
  text-decoration: underline;
}
</style>
