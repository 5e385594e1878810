<script setup lang="ts">
import type { Change, CourseSheet } from '@gate-roster/contract';
import { computed, ref } from 'vue';
import LookPanel from '../changes/LookPanel.vue';
import { useChange } from '../changes/use-change.ts';
import * as words from '../words.ts';

/** The skills of a course, or those that any course can show, one in each line. */
const { course } = defineProps<{ course: CourseSheet }>();
const emit = defineEmits<{ close: [] }>();
const w = words.handInForm;
const whose = ref<'course' | 'all'>('course');
const kept = computed(() => course.skills.filter(({ courseId }) => (whose.value === 'course') === (courseId !== null)));
const asLines = (which: 'course' | 'all'): string =>
  course.skills
    .filter(({ courseId }) => (which === 'course') === (courseId !== null))
    .map(({ name }) => name)
    .join('\n');
const typed = ref({ course: asLines('course'), all: asLines('all') });
/** A line with the name of a skill keeps that skill; if the number of lines is the same, a changed line renames it. */
const change = computed<Change | null>(() => {
  const names = typed.value[whose.value]
    .split('\n')
    .map((line) => line.trim())
    .filter((line) => line !== '');
  const isRenamed = names.length === kept.value.length;
  const skills = names.map((name, at) => {
    const same = kept.value.find((skill) => skill.name === name);
    const inPlace = isRenamed && !names.includes(kept.value[at]?.name ?? '') ? kept.value[at] : undefined;
    return { id: same?.id ?? inPlace?.id ?? null, name };
  });
  if (asLines(whose.value) === names.join('\n')) return null;
  return { kind: 'set-skills', courseId: whose.value === 'course' ? course.id : null, skills };
});
const inHand = useChange(change, w.skillsSaved, { settleMilliseconds: 400 });
async function apply(): Promise<void> {
  if (await inHand.apply()) emit('close');
}
const choices = [
  { value: 'course', title: w.skillsOfCourse },
  { value: 'all', title: w.skillsForAll },
];
</script>

<template>
  <LookPanel :in-hand="inHand" :change="change" :apply-label="w.saveSkills" @apply="apply" @discard="emit('close')">
    <h2>{{ words.work.skillsTitle }}</h2>
    <v-select v-model="whose" :items="choices" :aria-label="words.work.skillsTitle" />
    <v-textarea
      v-model="typed[whose]"
      :label="whose === 'course' ? w.skillsOfCourse : w.skillsForAll"
      :hint="w.skillsHint"
      rows="8"
      auto-grow
    />
  </LookPanel>
</template>
