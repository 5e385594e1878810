<script setup lang="ts">
import type { Change } from '@gate-roster/contract';
import { coursesOfOutline } from '@gate-roster/core';
import { computed, ref } from 'vue';
import LookPanel from '../changes/LookPanel.vue';
import { useChange } from '../changes/use-change.ts';
import { words } from '../words.ts';

/** New courses from pasted lines: courses, their units, their activities. */
const emit = defineEmits<{ close: [] }>();
const typed = ref('');
const courses = computed(() => coursesOfOutline(typed.value));
const units = computed(() => courses.value.flatMap((course) => course.units));
const change = computed<Change | null>(() => (courses.value.length === 0 ? null : { kind: 'make-courses', courses: courses.value }));
const inHand = useChange(change, words.makeCourses.made, { settleMilliseconds: 250 });
async function apply(): Promise<void> {
  if (await inHand.apply()) emit('close');
}
</script>

<template>
  <section class="add">
    <h2>{{ words.makeCourses.title }}</h2>
    <v-textarea
      v-model="typed"
      autofocus
      rows="8"
      auto-grow
      max-rows="18"
      class="outline"
      :label="words.makeCourses.outline"
      :placeholder="words.makeCourses.example"
      persistent-placeholder
      :hint="words.makeCourses.hint"
      persistent-hint
    />
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
.add {
  display: flex;
  flex-direction: column;
  gap: 12px;
}
</style>
