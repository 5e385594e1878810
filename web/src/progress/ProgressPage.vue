<script setup lang="ts">
import type { ProgressReport } from '@gate-roster/contract';
import { useQuery } from '@tanstack/vue-query';
import { ref, watch } from 'vue';
import { addressOf, call } from '../api/call.ts';
import { useSession } from '../shell/session.ts';
import ScopeBar from '../shell/ScopeBar.vue';
import { useScope } from '../shell/scope.ts';
import LoadState from '../ui/LoadState.vue';
import { showNumber } from '../ui/format.ts';
import { words } from '../words.ts';
import CellPeople from './CellPeople.vue';
import ProgressFigures from './ProgressFigures.vue';
import ProgressTable from './ProgressTable.vue';

type Row = ProgressReport['rows'][number];

const scope = useScope();
const session = useSession();
const {
  data: report,
  error,
  isPending,
  refetch,
} = useQuery({
  queryKey: ['progress', scope.groupId, scope.query],
  queryFn: ({ signal }) => call('progress', { params: { groupId: scope.groupId.value }, query: scope.query.value }, signal),
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
      <span class="soft">{{ report ? words.progress.counted(showNumber(report.learners), report.notCounted) : '' }}</span>
      <a
        v-if="session.hasPower('export')"
        class="export"
        :href="addressOf('progressFile', { params: { groupId: scope.groupId.value }, query: scope.query.value })"
        download
        >{{ words.common.exportCsv }}</a
      >
    </div>
    <LoadState v-if="!report" :error="error" :is-pending="isPending" @again="refetch()" />
    <template v-else>
      <ProgressFigures :report="report" />
      <ProgressTable :report="report" @open="(group, course) => (open = { group, course })" />
    </template>
    <CellPeople v-if="open" :key="`${open.group.id}/${open.course.id}`" :group="open.group" :course="open.course" @close="open = null" />
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
@media (max-width: 960px) {
  .progress {
    padding: 12px 14px;
  }
}
</style>
