<script setup lang="ts">
import type { Change } from '@gate-roster/contract';
import { type CourseFile, coursesOfFile, coursesOfOutline } from '@gate-roster/core';
import { computed, ref, shallowRef } from 'vue';
import LookPanel from '../changes/LookPanel.vue';
import { useChange } from '../changes/use-change.ts';
import { vFocusFirst } from '../ui/focus-first.ts';
import * as words from '../words.ts';

/** New courses from pasted lines or a file: courses, their units, their activities. */
const { home, mayForAll } = defineProps<{
  /** The branch that can have courses of its own; null: none can be made here. */
  home: { id: number; name: string } | null;
  mayForAll: boolean;
}>();
const isOwn = ref(!mayForAll);
const whose = computed(() => [
  { value: false, title: words.catalogue.everybodys },
  { value: true, title: words.catalogue.onlyOf(home?.name ?? '') },
]);
const emit = defineEmits<{ close: [] }>();
const typed = ref('');
/** What a chosen file says goes before what is typed. */
const file = shallowRef<(CourseFile & { name: string }) | null>(null);
async function choose(event: Event): Promise<void> {
  const field = event.target as HTMLInputElement;
  const chosen = field.files?.[0];
  field.value = '';
  if (chosen) file.value = { name: chosen.name, ...coursesOfFile(new Uint8Array(await chosen.arrayBuffer())) };
}
const courses = computed(() => (file.value ? (file.value.problems.length > 0 ? [] : file.value.courses) : coursesOfOutline(typed.value)));
const units = computed(() => courses.value.flatMap((course) => course.units));
const change = computed<Change | null>(() =>
  courses.value.length === 0 ? null : { kind: 'make-courses', courses: courses.value, homeId: isOwn.value ? (home?.id ?? null) : null },
);
const inHand = useChange(change, words.makeCourses.made, { settleMilliseconds: 250 });
async function apply(): Promise<void> {
  if (await inHand.apply()) emit('close');
}
</script>

<template>
  <section class="add">
    <h2>{{ mayForAll ? words.makeCourses.title : words.catalogue.makeOwn(home?.name ?? '') }}</h2>
    <v-select v-if="mayForAll && home" v-model="isOwn" :items="whose" :label="words.catalogue.whose" />
    <p v-if="isOwn" class="soft">{{ words.makeCourses.ownHint }}</p>
    <v-textarea
      v-if="!file"
      v-model="typed"
      v-focus-first
      rows="8"
      auto-grow
      max-rows="18"
      class="outline"
      :label="words.makeCourses.outline"
      :placeholder="words.makeCourses.example"
      persistent-placeholder
      :hint="words.makeCourses.hint"
    />
    <label v-if="!file" class="choose-file"
      >{{ words.makeCourses.file }}<input type="file" accept=".csv,.json,.txt,text/csv,application/json" class="sr-only" @change="choose"
    /></label>
    <template v-else>
      <p>
        {{ words.makeCourses.fromFile(file.name) }}
        <button type="button" class="plain-link" @click="file = null">{{ words.makeCourses.dropFile }}</button>
      </p>
      <p v-for="(problem, at) in file.problems.slice(0, 10)" :key="at" class="wrong" role="alert">
        {{ words.makeCourses.problem(problem) }}
      </p>
      <p v-if="file.ignored.length > 0" class="soft">{{ words.makeCourses.ignored(file.ignored) }}</p>
      <ul class="plain-list names">
        <li v-for="course in courses.slice(0, 200)" :key="course.name">{{ course.name }}</li>
      </ul>
    </template>
    <p v-if="courses.length > 0" class="soft">
      {{
        words.makeCourses.counts(
          courses.length,
          units.length,
          units.reduce((sum, { activities }) => sum + activities.length, 0),
        )
      }}
    </p>
    <LookPanel
      :in-hand="inHand"
      :change="change"
      :apply-label="words.makeCourses.make(Math.max(1, courses.length))"
      @apply="apply"
      @discard="emit('close')"
    />
  </section>
</template>

<style scoped>
.outline :deep(textarea) {
  font-family: 'Atkinson Hyperlegible Mono Variable', monospace;
  font-size: 14px;
}
.names {
  max-height: 220px;
  overflow: auto;
}
.add {
  display: flex;
  flex-direction: column;
  gap: 12px;
}
</style>
