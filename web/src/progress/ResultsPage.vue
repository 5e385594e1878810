<script setup lang="ts">
import { mostResults, type ResultFile } from '@gate-roster/contract';
import { isZip, readResults, readTable, resultColumns, type ResultColumns, resultFields, type Table } from '@gate-roster/core';
import { useQuery } from '@tanstack/vue-query';
import { computed, ref, shallowRef, watch } from 'vue';
import { call } from '../api/call.ts';
import { readSheet } from '../entry/read-sheet.ts';
import { failureWords } from '../ui/failure-words.ts';
import LoadState from '../ui/LoadState.vue';
import { tell } from '../ui/notice.ts';
import * as words from '../words.ts';

/** Results from a file: chosen, its columns named, checked line by line, brought in; and what was brought in before. */
const w = words.results;
const shownLines = 12;
const file = shallowRef<{ name: string; table: Table } | null>(null);
const columns = ref<ResultColumns>({});
const order = ref<'dayFirst' | 'monthFirst' | null>(null);
const problem = ref<string | null>(null);

async function choose(event: Event): Promise<void> {
  const field = event.target as HTMLInputElement;
  const chosen = field.files?.[0];
  field.value = '';
  if (!chosen) return;
  problem.value = null;
  const bytes = new Uint8Array(await chosen.arrayBuffer());
  const read = isZip(bytes) ? await readSheet(bytes) : readTable(bytes);
  const table = 'table' in read ? read.table : read;
  if ('problem' in table) {
    problem.value = w.cannot(table.problem);
    return;
  }
  order.value = null;
  columns.value = resultColumns(table.lines[0]?.cells ?? []);
  file.value = { name: chosen.name, table };
}
const heads = computed(() => [
  { title: w.noColumn, value: -1 },
  ...(file.value?.table.lines[0]?.cells ?? []).map((title, value) => ({ title: title || String(value + 1), value })),
]);
const read = computed(() => (file.value ? readResults(file.value.table, columns.value, order.value) : null));
const isReady = computed(
  () =>
    read.value !== null &&
    columns.value.person !== undefined &&
    columns.value.course !== undefined &&
    read.value.rows.length > 0 &&
    read.value.rows.length <= mostResults &&
    (!read.value.asksOrder || order.value !== null),
);
const checked = useQuery({
  queryKey: ['results', 'check', computed(() => (isReady.value ? read.value?.rows : null))],
  queryFn: ({ signal }) => call('checkResults', { body: { rows: read.value?.rows ?? [] } }, signal),
  enabled: isReady,
  staleTime: Number.POSITIVE_INFINITY,
});
const leftOut = computed(() =>
  [
    ...(read.value?.problems.map(({ row, code }) => ({ row, what: w.unread[code] })) ?? []),
    ...(checked.data.value?.troubles.map(({ row, code }) => ({ row, what: w.troubles[code] })) ?? []),
  ].sort((a, b) => a.row - b.row),
);
const {
  data: before,
  error,
  isPending,
  refetch,
} = useQuery({ queryKey: ['results'], queryFn: ({ signal }) => call('resultFiles', {}, signal) });
const isBusy = ref(false);
async function act(doing: () => Promise<unknown>, done: string): Promise<void> {
  isBusy.value = true;
  problem.value = null;
  try {
    await doing();
    tell(done);
    await refetch();
  } catch (failure) {
    problem.value = failureWords(failure);
  } finally {
    isBusy.value = false;
  }
}
const bring = (): Promise<void> =>
  act(async () => {
    await call('takeResults', { body: { name: file.value?.name ?? '', rows: read.value?.rows ?? [] } });
    file.value = null;
  }, w.brought);
const takeBack = ({ id }: ResultFile): Promise<void> => act(() => call('takeBackResults', { params: { fileId: id } }), w.takenBackNow);
watch(columns, () => (problem.value = null), { deep: true });
</script>

<template>
  <main class="results">
    <h1>{{ w.title }}</h1>
    <p class="soft">{{ w.what }}</p>
    <label class="choose-file">
      {{ file ? w.another : w.choose }}
      <input type="file" accept=".csv,.txt,.tsv,.xlsx,text/csv" class="sr-only" @change="choose" />
    </label>
    <p v-if="problem" class="wrong" role="alert">{{ problem }}</p>
    <section v-if="file && read" :aria-label="file.name">
      <p>
        <strong>{{ w.from(file.name, file.table.lines.length - 1) }}</strong>
      </p>
      <div class="columns" role="group" :aria-label="w.columns">
        <v-select
          v-for="field in resultFields"
          :key="field"
          :model-value="columns[field] ?? -1"
          :items="heads"
          :label="w.fields[field]"
          @update:model-value="columns = { ...columns, [field]: $event === -1 ? undefined : $event }"
        />
      </div>
      <v-radio-group v-if="read.asksOrder || order !== null" v-model="order" inline :label="w.order">
        <v-radio :label="w.orders.dayFirst" value="dayFirst" />
        <v-radio :label="w.orders.monthFirst" value="monthFirst" />
      </v-radio-group>
      <p v-if="columns.person === undefined || columns.course === undefined" class="wrong" role="alert">{{ w.needs }}</p>
      <p v-if="read.rows.length > mostResults" class="wrong" role="alert">{{ w.tooMany(mostResults) }}</p>
      <LoadState v-if="isReady && !checked.data.value" :error="checked.error.value" :is-pending="true" @again="checked.refetch()" />
      <p v-if="isReady && checked.data.value" role="status">
        {{ w.counts(checked.data.value.counts, checked.data.value.people) }} {{ leftOut.length > 0 ? w.left(leftOut.length) : '' }}
      </p>
      <ul v-if="leftOut.length > 0" class="plain-list">
        <li v-for="each in leftOut.slice(0, shownLines)" :key="each.row">{{ w.line(each.row, each.what) }}</li>
        <li v-if="leftOut.length > shownLines" class="soft">{{ w.more(leftOut.length - shownLines) }}</li>
      </ul>
      <v-btn
        v-if="checked.data.value && isReady"
        variant="flat"
        :loading="isBusy"
        :disabled="checked.data.value.counts === 0"
        @click="bring"
        >{{ w.bring(checked.data.value.counts) }}</v-btn
      >
    </section>
    <section>
      <h2>{{ w.files }}</h2>
      <LoadState v-if="!before" :error="error" :is-pending="isPending" @again="refetch()" />
      <p v-else-if="before.files.length === 0" class="soft">{{ w.none }}</p>
      <ul v-else class="plain-list files">
        <li v-for="each in before.files" :key="each.id">
          <span
            ><strong>{{ each.name }}</strong> <span class="soft">{{ w.file(each) }}</span></span
          >
          <span v-if="each.takenBackAt" class="soft">{{ w.takenBack }}</span>
          <v-btn v-else variant="text" :disabled="isBusy" :aria-label="w.takeBackOf(each.name)" @click="takeBack(each)">{{
            w.takeBack
          }}</v-btn>
        </li>
      </ul>
    </section>
  </main>
</template>

<style scoped>
.results {
  flex: 1;
  overflow: auto;
  padding: 18px 26px;
  background: var(--sheet);
}
.results > *,
section > * {
  margin-bottom: 12px;
  max-width: 860px;
}
.columns {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(180px, 1fr));
  gap: 10px;
}
h2 {
  margin-top: 24px;
  font-size: 17px;
}
.files li {
  display: flex;
  justify-content: space-between;
  gap: 12px;
  align-items: center;
  border-bottom: 1px solid var(--rule);
  min-height: 40px;
}
</style>
