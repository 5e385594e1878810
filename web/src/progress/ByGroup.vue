<script setup lang="ts">
import type { ProgressReport } from '@gate-roster/contract';
import { keepPreviousData, useQuery } from '@tanstack/vue-query';
import { computed, ref, watch } from 'vue';
import { call } from '../api/call.ts';
import { useScope } from '../shell/scope.ts';
import LoadState from '../ui/LoadState.vue';
import CellPeople from './CellPeople.vue';
import ProgressFigures from './ProgressFigures.vue';
import ProgressTable from './ProgressTable.vue';

/** Figures of the scope, and group by course. */
const { query, waits = null } = defineProps<{
  query: { subgroups: 'yes' | 'no'; filter: string };
  waits?: { pieces: number; oldestDays: number; medianDays: number } | null;
}>();
const emit = defineEmits<{ speaksOf: [of: Pick<ProgressReport, 'learners' | 'ofAll' | 'notCounted'>] }>();
type Row = ProgressReport['rows'][number];
const scope = useScope();
const {
  data: report,
  error,
  isPending,
  refetch,
} = useQuery({
  queryKey: ['progress', scope.groupId, computed(() => query)],
  queryFn: ({ signal }) => call('progress', { params: { groupId: scope.groupId.value }, query }, signal),
  placeholderData: keepPreviousData,
});
watch(
  report,
  (now) => {
    if (now) emit('speaksOf', now);
  },
  { immediate: true },
);
const open = ref<{ group: Row; course: { id: number; name: string } } | null>(null);
watch(scope.groupId, () => {
  open.value = null;
});
</script>

<template>
  <LoadState v-if="!report" :error="error" :is-pending="isPending" @again="refetch()" />
  <template v-else>
    <ProgressFigures :report="report" :waits="waits" />
    <ProgressTable :report="report" :is-filtered="query.filter !== ''" @open="(group, course) => (open = { group, course })" />
  </template>
  <CellPeople
    v-if="open"
    :key="`${open.group.id}/${open.course.id}`"
    :group="open.group"
    :course="open.course"
    :query="query"
    @close="open = null"
  />
</template>
