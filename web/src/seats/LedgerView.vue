<script setup lang="ts">
import { useInfiniteQuery, useQuery } from '@tanstack/vue-query';
import { computed } from 'vue';
import { addressOf, call } from '../api/call.ts';
import { useScope } from '../shell/scope.ts';
import { useSession } from '../shell/session.ts';
import { idCode, textCode, useUrlState } from '../shell/url-state.ts';
import DataList from '../ui/DataList.vue';
import DayField from '../ui/DayField.vue';
import { showMoment } from '../ui/format.ts';
import type { ListColumn } from '../ui/list-columns.ts';
import LoadState from '../ui/LoadState.vue';
import * as words from '../words.ts';

/** Everything that altered seats in the scope, and whether it adds up to what is in use. */
const w = words.ledger;
const scope = useScope();
const session = useSession();
const params = computed(() => ({ groupId: scope.groupId.value }));
const licence = useUrlState('licence', null, idCode);
const firstDay = useUrlState('from', '', textCode);
const lastDay = useUrlState('until', '', textCode);
const isDay = (text: string): boolean => /^\d{4}-\d{2}-\d{2}$/u.test(text);
const filter = computed(() => ({
  ...(licence.value === null ? {} : { licence: licence.value }),
  ...(isDay(firstDay.value) ? { firstDay: firstDay.value } : {}),
  ...(isDay(lastDay.value) ? { lastDay: lastDay.value } : {}),
}));
const { data: sheets } = useQuery({
  queryKey: ['seats', scope.groupId],
  queryFn: ({ signal }) => call('seats', { params: params.value }, signal),
});
const licences = computed(() => [
  { id: null, name: w.allLicences },
  ...(sheets.value?.licences.map(({ id, name }) => ({ id, name })) ?? []),
]);
const { data, error, isPending, refetch, hasNextPage, fetchNextPage, isFetchingNextPage } = useInfiniteQuery({
  queryKey: ['seats', scope.groupId, 'ledger', filter],
  queryFn: ({ pageParam, signal }) =>
    call('ledger', { params: params.value, query: { ...filter.value, ...(pageParam === null ? {} : { after: pageParam }) } }, signal),
  initialPageParam: null as string | null,
  getNextPageParam: ({ next }) => next,
});
const pages = { hasNextPage, fetchNextPage, isFetchingNextPage };
/** A line has no number of its own: its place will do, since more are only added below. */
const lines = computed(() => data.value?.pages.flatMap((page) => page.lines).map((line, id) => ({ ...line, id })) ?? []);
const columns: ListColumn[] = [
  { key: 'at', title: w.head.at },
  { key: 'what', title: w.head.what },
  { key: 'by', title: w.head.by, isNumber: true },
  { key: 'group', title: w.head.group },
  { key: 'licence', title: w.head.licence },
];
const sum = computed(() => data.value?.pages[0]?.inUse);
</script>

<template>
  <main class="part">
    <div class="head">
      <div>
        <h1>{{ w.title }}</h1>
        <p class="soft">{{ w.what }}</p>
      </div>
      <v-menu v-if="session.hasPower('export')">
        <template #activator="{ props: activator }">
          <v-btn v-bind="activator" variant="outlined">{{ words.orders.takeAway }}</v-btn>
        </template>
        <v-list>
          <v-list-item :href="addressOf('ledgerFile', { params, query: filter })" download :title="words.orders.asCsv" />
          <v-list-item :href="addressOf('ledgerJson', { params, query: filter })" download="ledger.json" :title="words.orders.asJson" />
        </v-list>
      </v-menu>
    </div>
    <div class="filters">
      <v-select v-model="licence" :items="licences" item-value="id" item-title="name" :label="w.licence" class="wide" />
      <DayField v-model="firstDay" :label="w.from" />
      <DayField v-model="lastDay" :label="w.until" />
      <p v-if="sum" :class="sum.byLedger === sum.counted ? 'soft' : 'wrong'" role="status">
        {{ sum.byLedger === sum.counted ? w.addsUp(sum.counted) : w.doesNot(sum.byLedger, sum.counted) }}
      </p>
    </div>
    <LoadState v-if="!data" :error="error" :is-pending="isPending" @again="refetch()" />
    <p v-else-if="lines.length === 0" class="soft">{{ w.none }}</p>
    <DataList v-else :label="w.title" :columns="columns" :rows="lines" :row-pixels="37" :pages="pages">
      <template #at="{ row: line }">{{ showMoment(line.at) }}</template>
      <template #what="{ row: line }">{{ w.line(line) }}</template>
      <template #by="{ row: line }">{{ w.by(line) }}</template>
      <template #group="{ row: line }">{{ line.group?.name ?? '' }}</template>
      <template #licence="{ row: line }">{{ line.licence.name }}</template>
    </DataList>
  </main>
</template>

<style scoped>
.filters {
  display: flex;
  gap: 10px;
  flex-wrap: wrap;
  align-items: center;
}
.filters > .v-input {
  max-width: 180px;
}
.filters > .wide {
  max-width: 280px;
}
</style>
