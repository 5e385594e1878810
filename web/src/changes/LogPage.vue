<script setup lang="ts">
import type { Answer, LogEntry, Routes, Change } from '@gate-roster/contract';
import { useInfiniteQuery, useQuery } from '@tanstack/vue-query';
import { computed, ref } from 'vue';
import { call } from '../api/call.ts';
import { dayCode } from '../access/as-of.ts';
import { idCode, maybeTextCode, useUrlState } from '../shell/url-state.ts';
import LoadState from '../ui/LoadState.vue';
import { personName, showAgo, showMoment } from '../ui/format.ts';
import GroupPicker from '../groups/GroupPicker.vue';
import PersonPicker from '../people/PersonPicker.vue';
import { failureWords } from '../ui/failure-words.ts';
import { tell } from '../ui/notice.ts';
import * as words from '../words.ts';
import FollowedActs from './FollowedActs.vue';
import JobProgress from './JobProgress.vue';
import LookPanel from './LookPanel.vue';
import { useChange } from './use-change.ts';
import { useLargeChange } from './use-large-change.ts';
import DayField from '../ui/DayField.vue';

const kind = useUrlState('kind', null, maybeTextCode);
const groupId = useUrlState('group', null, idCode);
const personId = useUrlState('person', null, idCode);
const firstDay = useUrlState('from', null, dayCode);
const lastDay = useUrlState('until', null, dayCode);
/** Who is named in the address is called by name. */
const { data: person } = useQuery({
  queryKey: ['person', personId],
  queryFn: ({ signal }) => call('person', { params: { personId: personId.value ?? 0 } }, signal),
  enabled: () => personId.value !== null,
});
const known = computed(() => person.value && { id: person.value.id, name: personName(person.value) });
const filter = computed(() => ({
  ...(kind.value ? { kind: kind.value } : {}),
  ...(groupId.value === null ? {} : { groupId: groupId.value }),
  ...(personId.value === null ? {} : { personId: personId.value }),
  ...(firstDay.value ? { firstDay: firstDay.value } : {}),
  ...(lastDay.value ? { lastDay: lastDay.value } : {}),
}));
const { data, error, isPending, refetch, hasNextPage, fetchNextPage, isFetchingNextPage } = useInfiniteQuery({
  queryKey: ['log', filter],
  queryFn: ({ pageParam, signal }) => call('log', { query: { ...filter.value, ...(pageParam ? { after: pageParam } : {}) } }, signal),
  initialPageParam: 0,
  getNextPageParam: (last) => last.next,
});
const isExporting = ref(false);
/** The whole of what is filtered, in the same words, as a CSV file. */
async function exportLog(): Promise<void> {
  isExporting.value = true;
  try {
    const lines: string[][] = [];
    for (let after: number | null = 0; after !== null;) {
      const page: Answer<Routes['log']> = await call('log', { query: { ...filter.value, ...(after ? { after } : {}), limit: 500 } });
      for (const entry of page.entries)
        lines.push([
          entry.madeAt,
          words.changes.whoDid(entry),
          words.changes.sentence(entry),
          entry.undoneBy === null ? '' : words.changes.exportYes,
        ]);
      after = page.next;
    }
    const { saveCsv } = await import('../ui/save-csv.ts');
    await saveCsv(words.changes.exportFile, words.changes.exportHead, lines);
  } catch (failure) {
    tell(failureWords(failure));
  } finally {
    isExporting.value = false;
  }
}
const entries = computed(() => data.value?.pages.flatMap((page) => page.entries) ?? []);
const undoing = ref<LogEntry | null>(null);
/** What rules did because of it, and is undone as well. */
const followed = ref<number[]>([]);
const change = computed<Change | null>(() =>
  undoing.value ? { kind: 'undo', changeId: undoing.value.id, ...(followed.value.length > 0 ? { actIds: followed.value } : {}) } : null,
);
function begin(entry: LogEntry): void {
  followed.value = [];
  undoing.value = entry;
}
const inHand = useChange(change, words.changes.undone);
const peopleSeen = (): number => {
  const seen = inHand.look.value;
  return seen === null ? 0 : seen.takenBack + seen.changedPeople;
};
const { job, apply: applyIt } = useLargeChange('undo', { change, inHand, people: peopleSeen }, () => {
  undoing.value = null;
  tell(words.changes.undone);
});
async function apply(): Promise<void> {
  if ((await applyIt()) !== 'refused') undoing.value = null;
}
const kinds = Object.entries(words.changes.kinds).map(([value, title]) => ({ value, title }));
</script>

<template>
  <main class="log">
    <div class="head">
      <h1>{{ words.areas.log }}</h1>
      <v-btn :loading="isExporting" @click="exportLog">{{ words.common.exportCsv }}</v-btn>
    </div>
    <div class="filters">
      <GroupPicker v-model="groupId" :autofocus="false" clearable :label="words.changes.branch" />
      <PersonPicker v-model="personId" :known="known ?? null" :label="words.changes.person" />
      <v-select v-model="kind" :label="words.changes.kind" :items="kinds" clearable />
      <DayField v-model="firstDay" :label="words.changes.from" />
      <DayField v-model="lastDay" :label="words.changes.until" />
    </div>
    <div v-if="job.sheet.value?.state === 'waiting'">
      <h2>{{ words.changes.undoing }}</h2>
      <JobProgress :job="job" :title="words.changes.undoing" />
    </div>
    <p v-if="job.said.value" role="alert">{{ job.said.value }}</p>
    <LoadState v-if="!data" :error="error" :is-pending="isPending" @again="refetch()" />
    <p v-else-if="entries.length === 0" class="none">
      {{ Object.keys(filter).length > 0 ? words.changes.noneMatch : words.changes.noneYet }}
    </p>
    <ol v-else class="plain-list entries">
      <li v-for="entry in entries" :key="entry.id" :class="{ over: entry.undoneBy !== null }">
        <span class="soft when" :title="showMoment(entry.madeAt)">{{ showAgo(entry.madeAt) }}</span>
        <span class="who">{{ words.changes.whoDid(entry) }}</span>
        <span class="what"
          >{{ words.changes.sentence(entry) }} <span v-if="entry.undoneBy !== null" class="soft">{{ words.changes.wasUndone }}</span></span
        >
        <v-btn v-if="entry.canUndo" size="small" @click="begin(entry)">{{ words.changes.undoLook }}</v-btn>
      </li>
    </ol>
    <v-btn v-if="hasNextPage" class="mt-4" :loading="isFetchingNextPage" @click="fetchNextPage()">{{ words.common.more }}</v-btn>
    <v-dialog
      :model-value="undoing !== null"
      max-width="480"
      scrollable
      :aria-label="words.changes.undoTitle"
      @update:model-value="undoing = null"
    >
      <v-card>
        <div v-if="undoing" class="undo">
          <h2>{{ words.changes.undoTitle }}</h2>
          <p>{{ words.changes.sentence(undoing) }}</p>
          <FollowedActs v-model="followed" :entry="undoing" />
          <LookPanel :in-hand="inHand" :change="change" :apply-label="words.changes.undo" @apply="apply" @discard="undoing = null" />
        </div>
      </v-card>
    </v-dialog>
  </main>
</template>

<style scoped>
.log {
  padding: 18px 26px;
  overflow: auto;
  flex: 1;
  background: var(--sheet);
}
.head {
  display: flex;
  justify-content: space-between;
  align-items: center;
  gap: 18px;
}
.filters {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(160px, 1fr));
  gap: 10px;
  margin-top: 12px;
}
.none {
  padding: 24px 0;
}
.entries {
  margin-top: 12px;
  border-top: 1px solid var(--rule);
}
.entries li {
  display: grid;
  grid-template-columns: 120px 150px minmax(0, 1fr) auto;
  gap: 14px;
  align-items: center;
  min-height: 44px;
  border-bottom: 1px solid var(--rule);
}
.over .what {
  color: var(--ink2);
}
.undo {
  padding: 20px 24px;
  display: grid;
  gap: 12px;
  overflow: auto;
}
@media (max-width: 860px) {
  .log {
    padding: 12px 14px;
  }
  .entries li {
    grid-template-columns: 1fr;
    gap: 2px;
    padding: 8px 0;
  }
}
</style>
