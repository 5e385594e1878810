<script setup lang="ts">
import type { ProgressReport } from '@gate-roster/contract';
import { completion, meanScore, notBegun, type Tally } from '@gate-roster/core';
import { useQuery } from '@tanstack/vue-query';
import { computed, defineAsyncComponent, ref, watch } from 'vue';
import { addressOf, call } from '../api/call.ts';
import { useSession } from '../shell/session.ts';
import ScopeBar from '../shell/ScopeBar.vue';
import { useScope } from '../shell/scope.ts';
import LoadState from '../ui/LoadState.vue';
import { showNumber, showPercent, showScore } from '../ui/format.ts';
import { words } from '../words.ts';
import CellPeople from './CellPeople.vue';

// Charts come in a chunk of their own.
const DoneByWeek = defineAsyncComponent(() => import('./DoneByWeek.vue'));
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
const folded = ref(new Set<number>());
const open = ref<{ group: Row; course: { id: number; name: string } } | null>(null);
watch(scope.groupId, () => {
  open.value = null;
});
const rows = computed<Row[]>(() =>
  (report.value?.rows ?? []).filter((row) => row.depth < 2 || (row.parentId !== null && !folded.value.has(row.parentId))),
);
// Two levels below the scope are many rows: the second shows when its group is opened, the first always.
watch(
  report,
  (fresh, before) => {
    if (fresh && fresh.rows[0]?.id !== before?.rows[0]?.id)
      folded.value = new Set(
        fresh.rows
          .filter(({ depth }) => depth === 1)
          .slice(1)
          .map(({ id }) => id),
      );
  },
  { immediate: true },
);
const hasShownChildren = (row: Row): boolean => report.value?.rows.some(({ parentId }) => parentId === row.id) ?? false;
function fold(row: Row): void {
  const next = new Set(folded.value);
  if (!next.delete(row.id)) next.add(row.id);
  folded.value = next;
}
const total = computed(() => report.value?.total);
const width = (part: number): string =>
  `${total.value && total.value.all > total.value.exempt ? (part / (total.value.all - total.value.exempt)) * 100 : 0}%`;
const scores = computed(() =>
  (report.value?.rows ?? [])
    .filter(({ depth }) => depth === ((report.value?.rows.length ?? 0) > 1 ? 1 : 0))
    .map((row) => ({ id: row.id, name: row.name, score: meanScore(row.total) }))
    .filter(({ score }) => score !== null)
    .slice(0, 6),
);

/** Five steps of kelp; text on the two darkest is light. */
function shade(tally: Tally | null): number {
  const rate = tally && completion(tally);
  return rate === null ? 0 : rate >= 0.85 ? 5 : rate >= 0.65 ? 4 : rate >= 0.45 ? 3 : rate >= 0.25 ? 2 : 1;
}
const rateText = (tally: Tally): string => {
  const rate = completion(tally);
  return rate === null ? words.progress.allExempt : showPercent(rate);
};
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
    <LoadState v-if="!report || !total" :error="error" :is-pending="isPending" @again="refetch()" />
    <template v-else>
      <div class="cards">
        <section class="card">
          <h2>{{ words.progress.enrolments(showNumber(total.all)) }}</h2>
          <div
            class="whole"
            role="img"
            :aria-label="words.progress.bar(total.all - total.exempt, total.done, total.underWay, total.overdue)"
          >
            <i class="done" :style="{ width: width(total.done) }" /><i class="way" :style="{ width: width(total.underWay) }" />
          </div>
          <p class="figures">
            <span class="good"
              ><b>{{ showNumber(total.done) }}</b> {{ words.progress.done }}</span
            >
            <span class="way-text"
              ><b>{{ showNumber(total.underWay) }}</b> {{ words.progress.underWayWord }}</span
            >
            <span
              ><b>{{ showNumber(notBegun(total)) }}</b> {{ words.progress.notBegun }}</span
            >
          </p>
          <p class="figures">
            <span v-if="total.overdue > 0" class="late"
              ><b>{{ showNumber(total.overdue) }}</b> {{ words.progress.overdueWord }}</span
            >
            <span v-if="total.exempt > 0" class="soft">{{ words.progress.exempt(total.exempt) }}</span>
          </p>
        </section>
        <section class="card">
          <h2>{{ words.progress.perWeek }}</h2>
          <DoneByWeek :weeks="report.weeks" />
        </section>
        <section class="card">
          <h2>{{ words.progress.meanScore }}</h2>
          <p v-if="scores.length === 0" class="soft">{{ words.progress.noScores }}</p>
          <div v-for="each in scores" :key="each.id" class="score">
            <span class="score-name">{{ each.name }}</span><span class="track"><i :style="{ width: `${each.score}%` }" /></span
            ><b class="num">{{ showScore(each.score ?? 0) }}</b>
          </div>
        </section>
      </div>
      <section class="card table-card">
        <p v-if="report.courses.length === 0" class="soft none">{{ words.progress.nothingOpen }}</p>
        <div v-else class="scroller" tabindex="0" role="region" :aria-label="words.progress.table">
          <table>
            <thead>
              <tr>
                <th scope="col" class="group">{{ words.groups.group }}</th>
                <th scope="col" class="num">{{ words.progress.learners }}</th>
                <th v-for="course in report.courses" :key="course.id" scope="col" class="course">{{ course.name }}</th>
              </tr>
            </thead>
            <tbody>
              <tr v-for="row in rows" :key="row.id" :class="{ top: row.depth === 0 }">
                <th scope="row" class="group" :style="{ paddingLeft: `${4 + row.depth * 16}px` }">
                  <button
                    v-if="row.depth === 1 && hasShownChildren(row)"
                    type="button"
                    class="fold"
                    :aria-expanded="!folded.has(row.id)"
                    :aria-label="words.access.fold(row.name)"
                    @click="fold(row)"
                  >
                    {{ folded.has(row.id) ? '▸' : '▾' }}
                  </button>
                  <span v-else class="fold" />
                  <button v-if="row.depth > 0" type="button" class="down" :title="words.progress.goDown" @click="scope.goTo(row.id)">
                    {{ row.name }}</button><template v-else>{{ row.name }}</template>
                </th>
                <td class="num">{{ showNumber(row.learners) }}</td>
                <td
                  v-for="(course, index) in report.courses"
                  :key="course.id"
                  class="cell"
                  :class="[`s${shade(row.cells[index] ?? null)}`]"
                >
                  <button
                    v-if="row.cells[index]"
                    type="button"
                    :title="words.progress.cellTitle(row.cells[index]!)"
                    :aria-label="words.progress.cellLabel(row.name, course.name, row.cells[index]!)"
                    @click="open = { group: row, course }"
                  >
                    {{ rateText(row.cells[index]!)
                    }}<span v-if="row.cells[index]!.overdue > 0" class="badge">{{ row.cells[index]!.overdue }}</span>
                    <small v-if="meanScore(row.cells[index]!) !== null" class="mean">{{
                      words.progress.mean(showScore(meanScore(row.cells[index]!)!))
                    }}</small>
                  </button>
                  <span v-else class="closed">{{ words.access.states.closed }}</span>
                </td>
              </tr>
            </tbody>
          </table>
        </div>
        <p v-if="report.courses.length > 0" class="soft key">
          <span class="badge">{{ '4' }}</span> {{ words.progress.key }}
        </p>
      </section>
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
.cards {
  display: grid;
  grid-template-columns: repeat(3, minmax(0, 1fr));
  gap: 14px;
  margin: 12px 0 14px;
}
.card {
  background: var(--sheet);
  border: 1px solid var(--rule);
  border-radius: 8px;
  padding: 12px 16px;
  min-width: 0;
}
.card h2 {
  font:
    600 14px 'Atkinson Hyperlegible Next Variable',
    sans-serif;
  color: var(--ink2);
  margin-bottom: 8px;
}
.whole {
  display: flex;
  height: 22px;
  border-radius: 4px;
  overflow: hidden;
  background: var(--fog);
  margin-bottom: 8px;
}
.whole i {
  flex: none;
  border-right: 2px solid var(--sheet);
}
.whole .done {
  background: var(--kelp);
}
.whole .way {
  background: var(--hatch);
}
.figures {
  display: flex;
  gap: 14px;
  flex-wrap: wrap;
}
.way-text {
  color: var(--slate-ink);
}
.score {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 50% 34px;
  gap: 10px;
  align-items: center;
  height: 22px;
}
.score-name {
  white-space: nowrap;
  overflow: hidden;
  text-overflow: ellipsis;
}
.track {
  height: 8px;
  border-radius: 4px;
  background: color-mix(in srgb, var(--fog) 55%, var(--sheet));
  overflow: hidden;
}
.track i {
  display: block;
  height: 100%;
  background: var(--tide);
}
.table-card {
  padding: 12px 16px;
}
.none {
  padding: 12px 0;
}
.scroller {
  overflow: auto;
}
table {
  border-collapse: separate;
  border-spacing: 2px;
  width: 100%;
  font-size: 14.5px;
}
th {
  font-weight: 600;
  font-size: 13px;
  color: var(--ink2);
  text-align: center;
  vertical-align: bottom;
  padding: 4px 6px;
}
th.course {
  min-width: 84px;
  max-width: 120px;
  line-height: 1.2;
}
th.group {
  text-align: left;
  white-space: nowrap;
  position: sticky;
  left: 0;
  background: var(--sheet);
  color: var(--ink);
  font-weight: 400;
  font-size: 14.5px;
  z-index: 1;
}
thead th.group {
  color: var(--ink2);
  font-size: 13px;
  font-weight: 600;
}
tr.top th.group {
  font-weight: 700;
}
td.num {
  padding: 0 10px;
}
.fold,
.down {
  background: none;
  border: 0;
  font: inherit;
  color: inherit;
  cursor: pointer;
  padding: 0;
}
.fold {
  display: inline-block;
  width: 24px;
  min-height: 24px;
  color: var(--ink2);
  font-size: 12px;
}
.down:hover {
  text-decoration: underline;
  color: var(--tide);
}
.cell {
  height: 37px;
  text-align: center;
  padding: 0;
}
.cell button {
  width: 100%;
  min-height: 37px;
  background: none;
  border: 0;
  font: inherit;
  color: inherit;
  cursor: pointer;
}
.mean {
  display: block;
  font-size: 12px;
  line-height: 1;
  padding-bottom: 3px;
}
.s0 {
  background: repeating-linear-gradient(135deg, var(--paper2) 0 5px, var(--paper) 5px 10px);
}
.s1 {
  background: color-mix(in srgb, var(--kelp) 10%, var(--sheet));
}
.s2 {
  background: color-mix(in srgb, var(--kelp) 24%, var(--sheet));
}
.s3 {
  background: color-mix(in srgb, var(--kelp) 38%, var(--sheet));
}
.s4 {
  background: color-mix(in srgb, var(--kelp) 54%, var(--sheet));
}
.s5 {
  background: var(--kelp);
  color: #fff;
}
.v-theme--dark .s4 {
  background: color-mix(in srgb, var(--kelp) 62%, var(--sheet));
}
.v-theme--light :is(.s1, .s2, .s3, .s4) {
  color: #16302a;
}
.closed {
  font-size: 13px;
  color: var(--ink2);
  background: var(--paper);
  padding: 0 4px;
  border-radius: 3px;
}
.badge {
  display: inline-block;
  background: #a8400f;
  color: #fff;
  border-radius: 9px;
  font-size: 12px;
  padding: 0 6px;
  margin-left: 6px;
  line-height: 18px;
  font-weight: 700;
}
.key {
  font-size: 13.5px;
  margin-top: 8px;
}
@media (max-width: 960px) {
  .cards {
    grid-template-columns: 1fr;
  }
  .progress {
    padding: 12px 14px;
  }
}
span.fold {
  min-height: 0;
}
</style>
