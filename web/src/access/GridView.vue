<script setup lang="ts">
import type { Change } from '@gate-roster/contract';
import { keepPreviousData, useQuery } from '@tanstack/vue-query';
import { useSessionStorage } from '@vueuse/core';
import { computed, ref, watch } from 'vue';
import { call } from '../api/call.ts';
import LookPanel from '../changes/LookPanel.vue';
import { useChange } from '../changes/use-change.ts';
import { useScope } from '../shell/scope.ts';
import { useSession } from '../shell/session.ts';
import { idCode, useUrlState } from '../shell/url-state.ts';
import LoadState from '../ui/LoadState.vue';
import { useLeaveGuard } from '../ui/leave-guard.ts';
import * as words from '../words.ts';
import AsOfBand from './AsOfBand.vue';
import { useAsOf } from './as-of.ts';
import AccessMark from './AccessMark.vue';
import AccessTable from './AccessTable.vue';
import ChooseSeats from './ChooseSeats.vue';
import CellPanel from './CellPanel.vue';
import DraftList from './DraftList.vue';
import { type CellDraft, useAccessDraft } from './use-access-draft.ts';

const scope = useScope();
const session = useSession();
const day = useAsOf();
const {
  data: grid,
  error,
  isPending,
  refetch,
} = useQuery({
  queryKey: ['access', scope.groupId, day],
  queryFn: ({ signal }) =>
    call('accessGrid', { params: { groupId: scope.groupId.value }, query: day.value === null ? {} : { day: day.value } }, signal),
  placeholderData: keepPreviousData,
});
/** A draft belongs to its scope, and survives a reload of this tab. */
const kept = useSessionStorage<Record<string, [string, CellDraft][]>>('access-draft', {});
const cells = computed({
  get: () => new Map(kept.value[scope.groupId.value] ?? []),
  set: (next) => {
    kept.value = { ...kept.value, [scope.groupId.value]: [...next] };
  },
});
const draft = useAccessDraft(grid, cells);
/** A link may name a course: what applies to it at the scope is then open. */
const asked = useUrlState('course', null, idCode);
const shown = ref<{ groupId: number; courseId: number } | null>(null);
watch(
  scope.groupId,
  (groupId) => {
    shown.value = asked.value === null ? null : { groupId, courseId: asked.value };
  },
  { immediate: true },
);
useLeaveGuard(
  () => draft.count.value > 0,
  () => words.access.leave(draft.count.value),
);
/** Nothing is drafted on a past day; what was drafted before waits. */
const seatsFirst = ref<number[]>([]);
const change = computed<Change | null>(() =>
  grid.value?.isPast || draft.change.value === null
    ? null
    : { ...draft.change.value, ...(seatsFirst.value.length > 0 && { seatsFirst: seatsFirst.value }) },
);
watch(
  () => draft.count.value === 0,
  () => {
    seatsFirst.value = [];
  },
);
const inHand = useChange(change, words.access.applied, { ownGuard: true });
async function apply(): Promise<void> {
  if (await inHand.apply()) draft.clear();
}
const legend = ['here', 'above', 'part', 'later', 'blocked', 'closed'] as const;
</script>

<template>
  <div class="page">
    <main class="grid-side">
      <h1>{{ words.access.title }}</h1>
      <AsOfBand :shown="grid" />
      <ul class="plain-list legend" :aria-label="words.access.legend">
        <li v-for="state in legend" :key="state"><AccessMark :state="state" sample /> {{ words.access.states[state] }}</li>
      </ul>
      <LoadState v-if="!grid" :error="error" :is-pending="isPending" @again="refetch()" />
      <AccessTable v-else :key="scope.groupId.value" :grid="grid" :draft="draft" @show="shown = $event" />
    </main>
    <aside v-if="change || (shown && grid)" class="panel">
      <CellPanel v-if="shown && grid" v-bind="shown" :grid="grid" :draft="draft" @close="shown = null" />
      <LookPanel v-if="change" :in-hand="inHand" :change="change" :later="words.access.joinLater" @apply="apply" @discard="draft.clear()">
        <p class="soft small">{{ words.access.draft(draft.count.value) }}</p>
        <h2>{{ words.changes.whatItWouldDo }}</h2>
        <DraftList v-if="grid" :grid="grid" :draft="draft" />
        <template v-if="draft.loose.value.length > 0" #still>
          <v-btn size="small" class="late" @click="draft.holdFirmly()">{{ words.access.stopOtherWays }}</v-btn>
        </template>
        <template #inLine>
          <ChooseSeats v-if="session.hasPower('handOutSeats')" v-model="seatsFirst" :change="change" />
        </template>
      </LookPanel>
    </aside>
  </div>
</template>

<style scoped>
.page {
  display: flex;
  flex: 1;
  min-height: 0;
  background: var(--sheet);
}
.grid-side {
  flex: 1;
  min-width: 0;
  padding: 12px 26px;
  display: flex;
  flex-direction: column;
  min-height: 0;
}
.legend {
  display: flex;
  gap: 18px;
  flex-wrap: wrap;
  margin: 8px 0;
  font-size: 14px;
  color: var(--ink2);
}
.legend li {
  display: flex;
  gap: 8px;
  align-items: center;
}
.panel {
  width: 346px;
  flex: none;
  background: var(--paper);
  border-left: 1px solid var(--rule);
  padding: 18px 20px;
  overflow: auto;
  box-shadow: -10px 0 30px #0000000d;
}
.small {
  font-size: 13.5px;
}
@media (max-width: 860px) {
  .page {
    flex-direction: column;
    overflow: auto;
  }
  .grid-side {
    padding: 12px 14px;
    flex: none;
  }
  .panel {
    width: 100%;
    border-left: 0;
    border-top: 1px solid var(--rule);
  }
}
</style>
