<script setup lang="ts">
import { type ProgressReport, rowKinds, scoreKinds } from '@gate-roster/contract';
import type { FilterPart } from '@gate-roster/core';
import { keepPreviousData, useQuery } from '@tanstack/vue-query';
import { computed, ref, watch } from 'vue';
import { call } from '../api/call.ts';
import { filterCode } from '../filters/use-filter.ts';
import { useScope } from '../shell/scope.ts';
import { idsCode, oneOf, useUrlState } from '../shell/url-state.ts';
import * as words from '../words.ts';
import LoadState from '../ui/LoadState.vue';
import CellPeople from './CellPeople.vue';
import ProgressFigures from './ProgressFigures.vue';
import ProgressTable from './ProgressTable.vue';
import { levelsCode } from './report-rows.ts';
import type { ReportQuery } from './shown-view.ts';

/** Figures of the scope, and group by course; or other rows than groups. */
const { query, waits = null } = defineProps<{
  query: ReportQuery;
  waits?: { pieces: number; oldestDays: number; medianDays: number } | null;
}>();
const emit = defineEmits<{
  speaksOf: [of: Pick<ProgressReport, 'learners' | 'ofAll' | 'notCounted'>];
  /** Shows the groups of those in a row. */
  filterBy: [part: FilterPart];
}>();
const rows = useUrlState<(typeof rowKinds)[number]>('rows', 'groups', oneOf(rowKinds));
const levels = useUrlState('levels', 0, levelsCode);
const unfolded = useUrlState('unfold', [], idsCode);
const scores = useUrlState<(typeof scoreKinds)[number]>('scores', 'mean', oneOf(scoreKinds));
const asked = computed(() => ({ ...query, rows: rows.value, scores: scores.value, levels: levels.value, unfold: unfolded.value.join() }));
type Row = ProgressReport['rows'][number];
const scope = useScope();
const {
  data: report,
  error,
  isPending,
  refetch,
} = useQuery({
  queryKey: ['progress', scope.groupId, asked],
  queryFn: ({ signal }) => call('progress', { params: { groupId: scope.groupId.value }, query: asked.value }, signal),
  placeholderData: keepPreviousData,
});
/** Comes after the report, which does not wait for it. */
const { data: above } = useQuery({
  queryKey: ['progress', 'above', scope.groupId, computed(() => query)],
  queryFn: ({ signal }) => call('progressAbove', { params: { groupId: scope.groupId.value }, query }, signal),
});
watch(
  report,
  (now) => {
    if (now) emit('speaksOf', now);
  },
  { immediate: true },
);
/** Who stands behind a cell: those of a group, or of the scope who fit the row's own part as well. */
const cell = computed(() => {
  if (!open.value) return null;
  const { group, course } = open.value;
  const { part } = group;
  if (part === null) return { group, course, query };
  const filter = [...(filterCode.read(query.filter) ?? []), part];
  return {
    group: { id: scope.groupId.value, name: words.progress.rowName(group) },
    course,
    query: { ...query, filter: filterCode.write(filter) },
  };
});
const open = ref<{ group: Row; course: { id: number; name: string } } | null>(null);
watch(scope.groupId, () => {
  open.value = null;
});
</script>

<template>
  <LoadState v-if="!report" :error="error" :is-pending="isPending" @again="refetch()" />
  <template v-else>
    <ProgressFigures :report="report" :waits="waits" :scores="scores" :above="above?.branch ?? null" />
    <ProgressTable
      v-model:rows="rows"
      v-model:scores="scores"
      v-model:levels="levels"
      v-model:unfolded="unfolded"
      :report="report"
      :is-filtered="query.filter !== ''"
      :has-subgroups="query.subgroups === 'yes'"
      @open="(group, course) => (open = { group, course })"
      @filter-by="emit('filterBy', $event)"
    />
  </template>
  <CellPeople
    v-if="cell && open"
    :key="`${open.group.depth}/${open.group.id}/${open.course.id}`"
    :group="cell.group"
    :course="cell.course"
    :query="cell.query"
    @close="open = null"
  />
</template>
