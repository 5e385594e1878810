<script setup lang="ts">
import type { ProgressReport } from '@gate-roster/contract';
import { keepPreviousData, useQuery } from '@tanstack/vue-query';
import { computed, ref, watch } from 'vue';
import { addressOf, call } from '../api/call.ts';
import { useSession } from '../shell/session.ts';
import ScopeBar from '../shell/ScopeBar.vue';
import { useScope } from '../shell/scope.ts';
import LoadState from '../ui/LoadState.vue';
import FilterChips from '../filters/FilterChips.vue';
import { filterCode, useFilter } from '../filters/use-filter.ts';
import { words } from '../words.ts';
import CellPeople from './CellPeople.vue';
import ProgressFigures from './ProgressFigures.vue';
import ProgressTable from './ProgressTable.vue';
import ReportOf from './ReportOf.vue';

type Row = ProgressReport['rows'][number];

const scope = useScope();
const session = useSession();
const filter = useFilter();
const query = computed(() => ({ ...scope.query.value, filter: filterCode.write(filter.value) }));
const {
  data: report,
  error,
  isPending,
  refetch,
} = useQuery({
  queryKey: ['progress', scope.groupId, query],
  queryFn: ({ signal }) => call('progress', { params: { groupId: scope.groupId.value }, query: query.value }, signal),
  placeholderData: keepPreviousData,
});
const open = ref<{ group: Row; course: { id: number; name: string } } | null>(null);
watch(scope.groupId, () => {
  open.value = null;
});
</script>

<template>
  <ScopeBar />
  <main class="progress">
    <div class="head">
      <h1>{{ words.progress.title }}</h1>
      <a
        v-if="session.hasPower('export')"
        class="export"
        :href="addressOf('progressFile', { params: { groupId: scope.groupId.value }, query })"
        download
        >{{ words.common.exportCsv }}</a
      >
    </div>
    <FilterChips v-model="filter" class="filters" :group-id="scope.groupId.value">
      <ReportOf v-if="report" :report="report" :query="query" />
    </FilterChips>
    <LoadState v-if="!report" :error="error" :is-pending="isPending" @again="refetch()" />
    <template v-else>
      <ProgressFigures :report="report" />
      <ProgressTable :report="report" :is-filtered="filter.length > 0" @open="(group, course) => (open = { group, course })" />
    </template>
    <CellPeople
      v-if="open"
      :key="`${open.group.id}/${open.course.id}`"
      :group="open.group"
      :course="open.course"
      :query="query"
      @close="open = null"
    />
  </main>
</template>

<style scoped>
.progress {
  flex: 1;
  min-height: 0;
  overflow: auto;
  padding: 12px 26px 20px;
  background: var(--paper);
}
.head {
  display: flex;
  align-items: baseline;
  gap: 18px;
  flex-wrap: wrap;
}
.export {
  margin-left: auto;
  color: var(--tide);
  font-weight: 600;
  border: 1px solid var(--tide);
  border-radius: 6px;
  padding: 6px 13px;
  text-decoration: none;
}
.filters {
  margin: 8px 0 12px;
}
@media (max-width: 960px) {
  .progress {
    padding: 12px 14px;
  }
}
</style>
