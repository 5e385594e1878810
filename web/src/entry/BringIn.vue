<script setup lang="ts">
import type { Change, CheckedRow, RosterField } from '@gate-roster/core';
import { fileLimits } from '@gate-roster/core';
import { useDropZone, watchDebounced } from '@vueuse/core';
import { computed, ref, shallowRef, useTemplateRef, watch } from 'vue';
import { useRouter } from 'vue-router';
import LookPanel from '../changes/LookPanel.vue';
import { useChange } from '../changes/use-change.ts';
import ScopeBar from '../shell/ScopeBar.vue';
import { useScope } from '../shell/scope.ts';
import { showNumber } from '../ui/format.ts';
import { words } from '../words.ts';
import ColumnMapping from './ColumnMapping.vue';
import FileReading from './FileReading.vue';
import RosterTable from './RosterTable.vue';
import { useRosterFile } from './use-roster-file.ts';

/** Bringing in a file is one screen: what the columns are, what each row would do, mending in place, one button. */
const scope = useScope();
const router = useRouter();
const file = useRosterFile();
const input = useTemplateRef<HTMLInputElement>('input');
const zone = useTemplateRef<HTMLElement>('zone');
const { isOverDropZone } = useDropZone(zone, {
  onDrop: (files) => {
    if (files?.[0]) void file.open(files[0]);
  },
  multiple: false,
});

const wanted = computed<Change | null>(() => file.change(scope.groupId.value));
// Mending in a row asks once one pauses. Shallow: a file may have 50,000 rows.
const change = shallowRef<Change | null>(null);
watchDebounced(
  wanted,
  (now) => {
    change.value = now;
  },
  { debounce: 250, immediate: true },
);
const inHand = useChange(change, words.entry.done);
const look = inHand.look;
const isCurrent = computed(() => change.value === wanted.value && !inHand.isLooking.value);
const rowsOf = (outcome: CheckedRow['outcome']): CheckedRow[] => look.value?.rows.filter((row) => row.outcome === outcome) ?? [];
const problems = computed(() => rowsOf('needs a look'));
const counts = computed(() => [
  { key: 'new', label: words.entry.new, count: look.value?.newPeople ?? 0 },
  { key: 'joins', label: words.entry.joins, count: rowsOf('joins').length },
  { key: 'changes', label: words.entry.changes, count: rowsOf('changes').length },
  { key: 'nothing', label: words.entry.nothing, count: rowsOf('nothing').length },
  { key: 'needs a look', label: words.entry.needsALook, count: problems.value.length },
]);
const good = computed(() => (look.value?.rows.length ?? 0) - problems.value.length);
const isDetails = ref(false);
watch(scope.groupId, () => {
  isDetails.value = false;
});

function pick(event: Event): void {
  const [chosen] = (event.target as HTMLInputElement).files ?? [];
  if (chosen) void file.open(chosen);
  (event.target as HTMLInputElement).value = '';
}
async function apply(): Promise<void> {
  if (!(await inHand.apply())) return;
  file.close();
  await router.push(scope.linkTo('groups'));
}
/** The problem rows as a file of their own, with a column that says why; it can be brought in again once mended. */
async function getProblemRows(): Promise<void> {
  const fields = (file.mapping.value?.columns ?? []).flatMap(({ field }) => field ?? []);
  const header = [...fields.map((field: RosterField) => words.entry.fields[field]), words.entry.whyColumn];
  const lines = problems.value.map((row) => [
    ...fields.map((field) => row.cells[field] ?? ''),
    row.reason ? words.entry.reason(row.reason, row.cells) : '',
  ]);
  const { saveCsv } = await import('../ui/save-csv.ts');
  saveCsv(words.entry.problemFile(file.name.value ?? ''), header, lines);
}
const mostMegabytes = fileLimits.bytes / 1024 / 1024;
</script>

<template>
  <ScopeBar :hint="words.entry.goHere" />
  <main ref="zone" class="bring-in" :class="{ over: isOverDropZone }">
    <input ref="input" type="file" hidden accept=".csv,.txt,.tsv,text/csv,text/plain" @change="pick" />
    <template v-if="!file.read.value">
      <h1>{{ words.entry.bringIn }}</h1>
      <div class="door">
        <p>{{ words.entry.dropHere }}</p>
        <v-btn variant="flat" @click="input?.click()">{{ words.entry.chooseFile }}</v-btn>
        <p class="soft">{{ words.entry.what(mostMegabytes, showNumber(fileLimits.rows)) }}</p>
      </div>
      <p v-if="file.problem.value" class="stop" role="alert">
        <b>{{ file.name.value }}</b> {{ words.entry.fileProblems[file.problem.value](mostMegabytes, showNumber(fileLimits.rows)) }}
      </p>
    </template>
    <template v-else>
      <div class="head">
        <div>
          <h1>{{ file.name.value }}</h1>
          <FileReading :file="file" />
        </div>
        <div class="acts">
          <v-btn variant="text" @click="input?.click()">{{ words.entry.another }}</v-btn>
          <v-btn v-if="problems.length > 0" @click="getProblemRows">{{ words.entry.getProblems(problems.length) }}</v-btn>
          <v-btn
            variant="flat"
            :disabled="!look || !isCurrent || look.conflicts.some(({ blocks }) => blocks)"
            :loading="inHand.isApplying.value"
            @click="apply"
            >{{ look ? words.entry.bring(look.newPeople, good - rowsOf('nothing').length) : words.entry.bringIn }}</v-btn
          >
        </div>
      </div>
      <div class="body">
        <ColumnMapping :file="file" />
        <div class="rows">
          <div class="counts">
            <div v-for="each in counts" :key="each.key" class="count" :class="{ look: each.key === 'needs a look' && each.count > 0 }">
              <small>{{ each.label }}</small>
              <b class="big num">{{ look ? showNumber(each.count) : '–' }}</b>
            </div>
            <button type="button" class="count plain" :aria-expanded="isDetails" @click="isDetails = !isDetails">
              <small>{{ words.entry.access }}</small>
              <span
                ><b class="big num">{{ look ? showNumber(look.gaining) : '–' }}</b>
                <span class="plain-link">{{ words.changes.who }}</span></span
              >
            </button>
          </div>
          <p v-if="file.problem.value" class="stop" role="alert">{{ words.entry.fileProblems[file.problem.value](mostMegabytes, '') }}</p>
          <p v-else-if="inHand.problem.value && !isDetails" class="stop" role="alert">{{ inHand.problem.value }}</p>
          <div v-if="isDetails" class="details">
            <LookPanel :in-hand="inHand" :change="change" :apply-label="words.entry.bringIn" @apply="apply" @discard="isDetails = false" />
          </div>
          <RosterTable
            v-else
            :rows="look?.rows ?? []"
            :left="file.left.value"
            @mend="file.mend"
            @leave-out="file.leaveOut"
            @take-back="file.left.value = new Set()"
          />
        </div>
      </div>
    </template>
  </main>
</template>

<style scoped>
.bring-in {
  flex: 1;
  min-height: 0;
  padding: 12px 26px 16px;
  display: flex;
  flex-direction: column;
  overflow: auto;
  background: var(--paper);
}
.bring-in.over {
  outline: 3px dashed var(--tide);
  outline-offset: -8px;
}
.door {
  margin-top: 20px;
  border: 2px dashed var(--rule);
  border-radius: 8px;
  background: var(--sheet);
  padding: 48px 24px;
  display: grid;
  gap: 14px;
  justify-items: center;
  text-align: center;
}
.head {
  display: flex;
  justify-content: space-between;
  align-items: flex-end;
  gap: 18px;
  flex-wrap: wrap;
}
.head h1 {
  overflow-wrap: anywhere;
}
.acts {
  display: flex;
  gap: 14px;
  flex-wrap: wrap;
}
.body {
  display: flex;
  gap: 18px;
  margin-top: 12px;
  flex: 1;
  min-height: 0;
}
.rows {
  flex: 1;
  min-width: 0;
  display: flex;
  flex-direction: column;
  gap: 12px;
  min-height: 320px;
}
.counts {
  display: grid;
  grid-auto-flow: column;
  grid-auto-columns: 1fr;
  border: 1px solid var(--rule);
  border-radius: 8px;
  background: var(--paper);
  flex: none;
  overflow: hidden;
}
.count {
  padding: 9px 14px;
  border-right: 1px solid var(--rule);
  display: grid;
  text-align: left;
  background: none;
  font: inherit;
  color: inherit;
}
.count.plain {
  border: 0;
  cursor: pointer;
}
.count small {
  color: var(--ink2);
  font-size: 13.5px;
}
.count .big {
  font-size: 22px;
  text-align: left;
}
.count.look {
  background: var(--flare2);
}
.count.look :is(small, .big) {
  color: var(--flare-ink);
  font-weight: 700;
}
.stop {
  background: var(--wrong2);
  color: var(--wrong);
  border-radius: 8px;
  padding: 10px 14px;
  margin-top: 12px;
}
.rows .stop {
  margin: 0;
}
.details {
  overflow: auto;
  max-width: 640px;
}
@media (max-width: 860px) {
  .bring-in {
    padding: 12px 14px;
  }
  .body {
    flex-direction: column;
  }
  .counts {
    grid-auto-flow: row;
  }
}
</style>
