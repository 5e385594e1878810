<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query';
import { computed } from 'vue';
import { call } from '../api/call.ts';
import { useScope } from '../shell/scope.ts';
import * as words from '../words.ts';

/** Courses and course sets to be put into a set. */
const { without, inIt = [] } = defineProps<{
  /** The set itself, which cannot be put into itself. */
  without: number | null;
  /** Courses that stand in it already. */
  inIt?: readonly number[];
}>();
const holds = defineModel<{ courses: number[]; sets: number[] }>({ required: true });
const w = words.catalogue;
const scope = useScope();
const { data } = useQuery({
  queryKey: ['filter-names', scope.groupId],
  queryFn: ({ signal }) => call('filterNames', { params: { groupId: scope.groupId.value } }, signal),
});
const courses = computed(() =>
  (data.value?.courses ?? []).filter(({ id }) => !inIt.includes(id)).map(({ id, name }) => ({ value: id, title: name })),
);
const sets = computed(() =>
  (data.value?.courseSets ?? []).filter(({ id }) => id !== without).map(({ id, name }) => ({ value: id, title: name })),
);
</script>

<template>
  <v-autocomplete
    :model-value="holds.courses"
    multiple
    chips
    closable-chips
    clear-on-select
    :items="courses"
    :label="w.coursesToAdd"
    @update:model-value="holds = { ...holds, courses: $event }"
  />
  <v-autocomplete
    v-if="sets.length > 0"
    :model-value="holds.sets"
    multiple
    chips
    closable-chips
    clear-on-select
    :items="sets"
    :label="w.setsToAdd"
    @update:model-value="holds = { ...holds, sets: $event }"
  />
</template>
