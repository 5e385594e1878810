<script setup lang="ts">
import type { LogEntry } from '@gate-roster/contract';
import type { Change } from '@gate-roster/core';
import { useInfiniteQuery } from '@tanstack/vue-query';
import { computed, ref } from 'vue';
import { call } from '../api/call.ts';
import LoadState from '../ui/LoadState.vue';
import { showAgo, showMoment } from '../ui/format.ts';
import { words } from '../words.ts';
import LookPanel from './LookPanel.vue';
import { useChange } from './use-change.ts';

const kind = ref<string | null>(null);
const { data, error, isPending, refetch, hasNextPage, fetchNextPage, isFetchingNextPage } = useInfiniteQuery({
  queryKey: ['log', kind],
  queryFn: ({ pageParam, signal }) =>
    call('log', { query: { ...(pageParam ? { after: pageParam } : {}), ...(kind.value ? { kind: kind.value } : {}) } }, signal),
  initialPageParam: 0,
  getNextPageParam: (last) => last.next,
});
const entries = computed(() => data.value?.pages.flatMap((page) => page.entries) ?? []);
const undoing = ref<LogEntry | null>(null);
const change = computed<Change | null>(() => (undoing.value ? { kind: 'undo', changeId: undoing.value.id } : null));
const inHand = useChange(change, words.changes.undone);
async function apply(): Promise<void> {
  if (await inHand.apply()) undoing.value = null;
}
const kinds = Object.entries(words.changes.kinds).map(([value, title]) => ({ value, title }));
</script>

<template>
  <main class="log">
    <div class="head">
      <h1>{{ words.areas.log }}</h1>
      <v-select v-model="kind" class="kind" :label="words.changes.kind" :items="kinds" clearable />
    </div>
    <LoadState v-if="!data" :error="error" :is-pending="isPending" @again="refetch()" />
    <p v-else-if="entries.length === 0" class="none">{{ words.changes.noneYet }}</p>
    <ol v-else class="plain-list entries">
      <li v-for="entry in entries" :key="entry.id" :class="{ over: entry.undoneBy !== null }">
        <span class="soft when" :title="showMoment(entry.madeAt)">{{ showAgo(entry.madeAt) }}</span>
        <span class="who">{{ entry.isMine ? words.changes.you : (entry.actor ?? words.changes.somebodyAbove) }}</span>
        <span class="what"
          >{{ words.changes.sentence(entry) }} <span v-if="entry.undoneBy !== null" class="soft">{{ words.changes.wasUndone }}</span></span
        >
        <v-btn v-if="entry.canUndo" size="small" @click="undoing = entry">{{ words.changes.undoLook }}</v-btn>
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
.kind {
  max-width: 240px;
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
