<script setup lang="ts">
import type { RosterField } from '@gate-roster/core';
import { fileLimits } from '@gate-roster/core';
import { useDropZone, useEventListener } from '@vueuse/core';
import { computed, ref, useTemplateRef, watch } from 'vue';
import { useRouter } from 'vue-router';
import { undoAtOnce } from '../changes/apply-at-once.ts';
import JobProgress from '../changes/JobProgress.vue';
import LookPanel from '../changes/LookPanel.vue';
import { useChange } from '../changes/use-change.ts';
import { useChangeJob } from '../changes/use-job.ts';
import { useTree } from '../groups/tree-query.ts';
import { useScope } from '../shell/scope.ts';
import { showNumber } from '../ui/format.ts';
import { useSteps } from '../ui/in-steps.ts';
import { useLeaveGuard } from '../ui/leave-guard.ts';
import { saveCsv, saveText } from '../ui/save-csv.ts';
import * as words from '../words.ts';
import BringInCounts from './BringInCounts.vue';
import BringInDone from './BringInDone.vue';
import BringInFoot from './BringInFoot.vue';
import { goToCards } from './cards-of-change.ts';
import ColumnMapping from './ColumnMapping.vue';
import FileReading from './FileReading.vue';
import GroupsToMake from './GroupsToMake.vue';
import RosterTable from './RosterTable.vue';
import { useRosterChange } from './use-roster-change.ts';
import { useRosterFile } from './use-roster-file.ts';

/** Bringing in a file is one screen: what the columns are, what each row would do, mending in place, one button. */
const scope = useScope();
const router = useRouter();
const tree = useTree();
const file = useRosterFile(scope.groupId, tree);
const input = useTemplateRef<HTMLInputElement>('input');
const zone = useTemplateRef<HTMLElement>('zone');
const { isOverDropZone } = useDropZone(zone, {
  onDrop: (files) => {
    if (files?.[0]) void file.open(files[0]);
  },
  multiple: false,
});
// Cells of a spreadsheet, pasted anywhere but into a field.
useEventListener(document, 'paste', (event) => {
  const text = event.clipboardData?.getData('text/plain') ?? '';
  const isTyping = event.target instanceof HTMLElement && event.target.closest('input, textarea, [contenteditable]') !== null;
  if (!isTyping && /[\t\n]/u.test(text.trim())) void file.open(new File([text], words.entry.pasted));
});

const options = ref<{ mode: 'add' | 'replace'; mostLeaving: number; write: { at: string | null } | null }>({
  mode: 'add',
  mostLeaving: 20,
  write: null,
});
watch(scope.groupId, () => {
  isDetails.value = false;
});
// Another group, or the tree that came after the file: the rows mean something else.
watch([scope.groupId, () => tree.value?.nodes().length ?? 0], () => void file.check());

const { change, isWorkedOut, isChanging, workOut } = useRosterChange(file, options);
const inHand = useChange(change, words.entry.done, { ownGuard: true });
// Another group is another place for the same file.
useLeaveGuard(
  () => file.read.value !== null,
  () => words.entry.leave(file.name.value ?? ''),
  (to, from) => to.params['part'] === from.params['part'],
);
const look = inHand.look;
const inLine = computed(() => new Set(look.value?.seats.rows));
const summary = file.summary;
const bad = computed(() => summary.value?.counts['needs a look'] ?? 0);
const good = computed(() => (summary.value?.rows ?? 0) - bad.value - (summary.value?.counts.nothing ?? 0));
const isCurrent = computed(
  () => isWorkedOut.value && !isChanging.value && !inHand.isLooking.value && file.busy.value === null && change.value !== null,
);
const isBlocked = computed(() => look.value?.conflicts.some(({ blocks }) => blocks) ?? true);
const isDetails = ref(false);
async function undo(): Promise<void> {
  if (done.value && (await undoAtOnce(done.value.changeId))) done.value = null;
}
const step = useSteps(4, () => file.read.value !== null);
const done = ref<{ changeId: number; newPeople: number } | null>(null);
const job = useChangeJob('file', (finished) => {
  done.value = finished;
  file.close();
});

function pick(event: Event): void {
  const [chosen] = (event.target as HTMLInputElement).files ?? [];
  if (chosen) void file.open(chosen);
  (event.target as HTMLInputElement).value = '';
}
async function apply(): Promise<void> {
  void file.keepMends();
  if (file.isLarge.value && change.value && look.value) {
    await job.start(change.value, look.value.digest);
    return;
  }
  const newPeople = look.value?.newPeople ?? 0;
  if (!(await inHand.apply())) return;
  done.value = { changeId: inHand.appliedId.value ?? 0, newPeople };
  file.close();
}
/** The problem rows as a file of their own, with a column that says why; it can be brought in again once mended. */
async function getProblemRows(): Promise<void> {
  const fields = (file.mapping.value?.columns ?? []).flatMap(({ field }) => field ?? []);
  const header = [...fields.map((field: RosterField) => words.entry.fields[field]), words.entry.whyColumn];
  const lines = (await file.problems()).map((row) => [
    // A password is never written into a file.
    ...fields.map((field) => (field === 'password' ? '' : (row.cells[field] ?? ''))),
    row.reason ? words.entry.reason(row.reason, row.cells) : '',
  ]);
  await saveCsv(words.entry.problemFile(file.name.value ?? ''), header, lines);
}
function getTemplate(): void {
  const header = Object.values(words.entry.fields).filter((label) => label !== words.entry.fields.fullName);
  saveText(words.entry.templateFile, [...words.entry.templateLines, header.join(',')].join('\r\n'));
}
const mostMegabytes = fileLimits.bytes / 1024 / 1024;
const say = (problem: NonNullable<typeof file.problem.value>): string =>
  words.entry.fileProblems[problem](mostMegabytes, showNumber(fileLimits.rows), file.problemRow.value);
async function toGroup(): Promise<void> {
  await router.push(scope.linkTo('groups'));
}
async function toCards(): Promise<void> {
  await goToCards(router, done.value?.changeId ?? 0);
}
</script>

<template>
  <main ref="zone" class="bring-in" :class="{ over: isOverDropZone }">
    <input ref="input" type="file" hidden accept=".csv,.txt,.tsv,.xlsx,text/csv,text/plain" @change="pick" />
    <template v-if="job.sheet.value && job.sheet.value.state === 'waiting'">
      <h1>{{ words.figures.bringIn }}</h1>
      <JobProgress :job="job" :title="words.figures.bringIn" />
    </template>
    <BringInDone v-else-if="done" :new-people="done.newPeople" @cards="toCards" @group="toGroup" @another="done = null" @undo="undo" />
    <template v-else-if="!file.read.value">
      <h1>{{ words.figures.bringIn }}</h1>
      <div class="door">
        <p>{{ words.entry.dropHere }}</p>
        <v-btn variant="flat" :loading="file.busy.value !== null" @click="input?.click()">{{ words.entry.chooseFile }}</v-btn>
        <p>{{ words.entry.pasteHint }}</p>
        <p class="soft">{{ words.entry.what(mostMegabytes, showNumber(fileLimits.rows), showNumber(fileLimits.sheetRows)) }}</p>
        <button type="button" class="plain-link" @click="getTemplate">{{ words.entry.template }}</button>
      </div>
      <p v-if="file.problem.value" class="stop" role="alert">
        <b>{{ file.name.value }}</b> {{ say(file.problem.value) }}
      </p>
      <p v-if="job.said.value" class="stop" role="alert">{{ job.said.value }}</p>
    </template>
    <template v-else>
      <div class="head">
        <div>
          <h1>{{ file.name.value }}</h1>
          <FileReading :file="file" />
        </div>
        <div class="acts">
          <v-btn variant="text" @click="input?.click()">{{ words.entry.another }}</v-btn>
          <v-btn v-if="bad > 0" @click="getProblemRows">{{ words.entry.getProblems(bad) }}</v-btn>
          <v-btn
            v-if="file.isLarge.value && !isWorkedOut"
            variant="flat"
            :disabled="!file.isReady.value"
            :loading="file.busy.value !== null"
            @click="workOut"
            >{{ words.entry.workOut }}</v-btn
          >
          <v-btn
            v-else
            variant="flat"
            :disabled="!look || !isCurrent || isBlocked"
            :loading="inHand.isApplying.value || inHand.isLooking.value"
            @click="apply"
            >{{ words.entry.bring((isCurrent ? look?.newPeople : null) ?? summary?.counts.new ?? 0, good) }}</v-btn
          >
        </div>
      </div>
      <div class="body">
        <div class="columns"><ColumnMapping v-if="step > 1" :file="file" /></div>
        <div class="rows">
          <BringInCounts v-model:details="isDetails" :counts="summary?.counts ?? null" :look="look" />
          <div v-if="file.busy.value" class="busy" role="status">
            <v-progress-linear
              :model-value="file.busy.value.share * 100"
              color="primary"
              :aria-label="words.entry.stages[file.busy.value.stage]"
            />
            <span class="soft">{{ words.entry.stage(file.busy.value.stage, file.busy.value.share) }}</span>
            <button type="button" class="plain-link" @click="file.stop()">{{ words.common.cancel }}</button>
          </div>
          <p v-if="file.problem.value" class="stop" role="alert">{{ say(file.problem.value) }}</p>
          <p v-else-if="inHand.problem.value && !isDetails" class="stop" role="alert">{{ inHand.problem.value }}</p>
          <template v-for="conflict in look?.conflicts ?? []" :key="conflict.code">
            <p v-if="conflict.blocks && conflict.code !== 'nothing to do' && !isDetails" class="stop" role="alert">
              {{ words.changes.conflicts[conflict.code](conflict.count) }}
            </p>
          </template>
          <p v-if="look && look.seats.inLine > 0 && !isDetails" class="warn">
            <b>{{ showNumber(look.seats.inLine) }}</b> {{ words.changes.inLine(look.seats.inLine) }}
            {{ look.seats.rows.length > 0 ? words.changes.inLineRows(look.seats.rows) : '' }}
          </p>
          <GroupsToMake v-if="file.wished.value.length > 0" :file="file" />
          <div v-if="isDetails" class="details">
            <LookPanel
              :in-hand="inHand"
              :change="change"
              :apply-label="words.figures.bringIn"
              @apply="apply"
              @discard="isDetails = false"
            />
          </div>
          <RosterTable v-else-if="step > 2" :file="file" :in-line="inLine" />
          <BringInFoot v-if="step > 3" v-model="options" :file="file" />
        </div>
      </div>
    </template>
  </main>
</template>

<style scoped>
.bring-in {
  flex: 1;
  min-height: 0;
  padding: 12px 26px 12px;
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
  padding: 40px 24px;
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
.columns {
  flex: none;
  width: 220px;
}
.rows {
  flex: 1;
  min-width: 0;
  display: flex;
  flex-direction: column;
  gap: 10px;
  min-height: 320px;
}
.busy {
  display: grid;
  grid-template-columns: 1fr auto auto;
  gap: 12px;
  align-items: center;
}
.stop {
  background: var(--wrong2);
  color: var(--wrong);
  border-radius: 8px;
  padding: 10px 14px;
  margin-top: 12px;
}
.warn {
  background: var(--brass2);
  border-radius: 8px;
  padding: 10px 14px;
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
  .columns {
    width: 100%;
  }
}
</style>
