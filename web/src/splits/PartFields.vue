<script setup lang="ts">
import type { SplitPart } from '@gate-roster/contract';
import { type AllowanceMode, allowanceModes } from '@gate-roster/core';
import { computed, ref } from 'vue';
import * as words from '../words.ts';

/** What a part is called, and what its people get while it runs. */
const { part, called, courses } = defineProps<{
  part: SplitPart;
  called: string;
  courses: readonly { id: number; name: string; units: readonly { id: number; name: string }[] }[];
}>();
const emit = defineEmits<{ edit: [values: Partial<SplitPart>]; remove: []; close: [] }>();
const w = words.splits;
const modes = [{ value: null, title: w.usual }, ...allowanceModes.map((value) => ({ value, title: w.modes[value] }))];
const chosen = computed(() => part.allowance?.courses.map(({ courseId }) => courseId) ?? []);
const named = computed(() => courses.filter(({ id }) => chosen.value.includes(id)));
const link = ref(part.link ?? '');
const isLinkWrong = computed(() => link.value !== '' && !/^https?:\/\/[^/\s]+\.[^/\s]+/u.test(link.value));

const setMode = (mode: AllowanceMode | null): void => {
  emit('edit', { allowance: mode && { mode, courses: part.allowance?.courses ?? [] } });
};
function setCourses(ids: number[]): void {
  if (!part.allowance) return;
  const known = part.allowance.courses;
  emit('edit', {
    allowance: {
      ...part.allowance,
      courses: ids.map((courseId) => known.find((each) => each.courseId === courseId) ?? { courseId, units: null }),
    },
  });
}
/** All ticked says the same as the whole course; the last one stays. */
function tick(courseId: number, unitId: number): void {
  const every = courses.find(({ id }) => id === courseId)?.units.map(({ id }) => id) ?? [];
  const ticked = unitsOf(courseId) ?? every;
  const units = every.filter((id) => ticked.includes(id) !== (id === unitId));
  if (units.length === 0 || !part.allowance) return;
  emit('edit', {
    allowance: {
      ...part.allowance,
      courses: part.allowance.courses.map((each) =>
        each.courseId === courseId ? { courseId, units: units.length === every.length ? null : units } : each,
      ),
    },
  });
}
const unitsOf = (courseId: number) => part.allowance?.courses.find((each) => each.courseId === courseId)?.units ?? null;
function setLink(typed: string): void {
  link.value = typed.trim();
  if (!isLinkWrong.value) emit('edit', { link: link.value || null });
}
</script>

<template>
  <section class="fields">
    <h2>{{ w.editPart(called) }}</h2>
    <v-text-field
      v-if="part.leaderId === null"
      :model-value="part.name"
      maxlength="60"
      :label="w.name"
      @update:model-value="emit('edit', { name: $event })"
    />
    <v-select :model-value="part.allowance?.mode ?? null" :items="modes" :label="w.mode" @update:model-value="setMode" />
    <template v-if="part.allowance">
      <v-autocomplete
        :model-value="chosen"
        multiple
        chips
        closable-chips
        :items="courses"
        item-title="name"
        item-value="id"
        :label="w.courses"
        @update:model-value="setCourses"
      />
      <fieldset v-for="course in named" :key="course.id" class="units">
        <legend>{{ course.name }}</legend>
        <v-checkbox
          v-for="unit in course.units"
          :key="unit.id"
          density="compact"
          :label="unit.name"
          :model-value="unitsOf(course.id)?.includes(unit.id) ?? true"
          @update:model-value="tick(course.id, unit.id)"
        />
      </fieldset>
    </template>
    <v-text-field
      :model-value="link"
      maxlength="500"
      :label="w.link"
      :error-messages="isLinkWrong ? w.linkWrong : ''"
      @update:model-value="setLink"
    />
    <v-textarea
      :model-value="part.words"
      rows="2"
      auto-grow
      maxlength="500"
      :label="w.words"
      @update:model-value="emit('edit', { words: $event })"
    />
    <div class="acts">
      <v-btn variant="text" class="late" @click="emit('remove')">{{ w.removePart }}</v-btn>
      <v-btn @click="emit('close')">{{ w.done }}</v-btn>
    </div>
  </section>
</template>

<style scoped>
.fields {
  display: grid;
  gap: 10px;
}
.units {
  border: 0;
  padding: 0;
}
.units legend {
  font-weight: 600;
}
.acts {
  display: flex;
  justify-content: space-between;
}
</style>
