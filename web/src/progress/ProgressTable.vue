<script setup lang="ts">
import { mostLevels, type ProgressReport, type RowKind, rowKinds, type ScoreKind, scoreKinds } from '@gate-roster/contract';
import { completion, type FilterPart, meanScore, nextSort, type SortedBy, sortRows, type Tally } from '@gate-roster/core';
import { computed, watch } from 'vue';
import { useScope } from '../shell/scope.ts';
import { idsCode, useUrlState } from '../shell/url-state.ts';
import ColumnChoice from '../ui/ColumnChoice.vue';
import FoldButton from '../ui/FoldButton.vue';
import { useFolding } from '../ui/folding.ts';
import { showNumber, showPercent, showScore } from '../ui/format.ts';
import { sortArrows } from '../ui/list-columns.ts';
import * as words from '../words.ts';
import { openRows, sortCode, withoutBranch } from './report-rows.ts';

/** Groups (or tags, leaders, months) down, courses across: how many are done, and how many late. */
type Row = ProgressReport['rows'][number];
const { report } = defineProps<{ report: ProgressReport; isFiltered: boolean; hasSubgroups: boolean }>();
const kind = defineModel<RowKind>('rows', { required: true });
const scores = defineModel<ScoreKind>('scores', { required: true });
/** 0: as many as make a table of a moderate size. */
const levels = defineModel<number>('levels', { required: true });
/** Groups that somebody unfolded, further down than the levels that are shown. */
const unfolded = defineModel<readonly number[]>('unfolded', { required: true });
const emit = defineEmits<{
  open: [group: Row, course: { id: number; name: string }];
  filterBy: [part: FilterPart];
}>();
const scope = useScope();
const groups = useFolding<number>();
// Of the second level only the first group's are shown, unless somebody asked for that level.
watch(
  [() => report.rows[0]?.id, levels],
  () => {
    const below = report.rows.filter(({ depth }) => depth === 1).slice(1);
    groups.fold(levels.value === 0 ? below.map(({ id }) => id) : []);
  },
  { immediate: true },
);
const sorted = useUrlState<SortedBy>('by', { by: 'name' }, sortCode);
/** Courses that somebody took out of the table. */
const without = useUrlState('without', [], idsCode);
const columns = computed(() => report.courses.flatMap((course, index) => (without.value.includes(course.id) ? [] : [{ course, index }])));
const rows = computed<Row[]>(() =>
  openRows(
    sortRows(
      report.rows,
      sorted.value,
      report.courses.map(({ id }) => id),
    ),
    groups.isFolded,
  ),
);
type Sortable = { by: 'learners' } | { by: 'course'; id: number };
const byLearners: Sortable = { by: 'learners' };
const byCourse = (id: number): Sortable => ({ by: 'course', id });
const ariaSort = (asked: Sortable): 'descending' | 'ascending' | 'none' => {
  const now = sorted.value;
  if (now.by === 'name' || now.by !== asked.by || (now.by === 'course' && asked.by === 'course' && now.id !== asked.id)) return 'none';
  return now.most ? 'descending' : 'ascending';
};
const sortBy = (asked: Sortable): void => {
  sorted.value = nextSort(sorted.value, asked);
};
function goTo(row: Row): void {
  if (row.part === null) scope.goTo(row.id);
  else emit('filterBy', row.part);
}
/** Folds a group, or unfolds it, for which its subgroups may have to be fetched. */
function fold(row: Row): void {
  const isFetched = hasShownChildren(row);
  if (isFetched || groups.isFolded(row.id)) groups.toggle(row.id);
  if (!isFetched) unfolded.value = [...new Set([...unfolded.value, row.id])];
  else if (groups.isFolded(row.id)) unfolded.value = withoutBranch(unfolded.value, report.rows, row.id);
}
const levelChoices = Array.from({ length: mostLevels + 1 }, (_, value) => ({ value, title: words.progress.levels(value) }));
const hasShownChildren = (row: Row): boolean =>
  row.part === null && report.rows.some(({ parentId, part }) => parentId === row.id && part === null);

/** Five steps of kelp; text on the darkest is light. */
function shade(tally: Tally | null): number {
  const rate = tally && completion(tally);
  return rate === null ? 0 : rate >= 0.85 ? 5 : rate >= 0.65 ? 4 : rate >= 0.45 ? 3 : rate >= 0.25 ? 2 : 1;
}
/** As asked for; null: nobody has one. */
const scoreOf = ({ cells, medians }: Row, index: number): number | null => {
  const cell = cells[index] ?? null;
  return medians ? (medians.cells[index] ?? null) : cell && meanScore(cell);
};
const rateText = (tally: Tally): string => {
  const rate = completion(tally);
  return rate === null ? words.progress.allExempt : showPercent(rate);
};
</script>

<template>
  <section class="table-card">
    <p v-if="report.courses.length === 0" class="soft none">
      {{ isFiltered ? words.progress.nothingFits : words.progress.nothingOpen }}
    </p>
    <div v-if="report.courses.length > 0" class="tools">
      <v-select
        v-model="kind"
        :items="rowKinds.map((value) => ({ value, title: words.progress.rowKinds[value] }))"
        :label="words.progress.rowsLabel"
        class="kinds"
      />
      <v-select
        v-model="scores"
        :items="scoreKinds.map((value) => ({ value, title: words.progress.scoreKinds[value] }))"
        :label="words.progress.scoresLabel"
        class="kinds"
      />
      <v-select
        v-if="hasSubgroups && kind === 'groups'"
        v-model="levels"
        :items="levelChoices"
        :label="words.progress.levelsLabel"
        class="kinds"
      />
      <ColumnChoice v-model="without" :courses="report.courses" />
    </div>
    <div v-if="report.courses.length > 0" class="scroller" tabindex="0" role="region" :aria-label="words.progress.table">
      <table>
        <thead>
          <tr>
            <th scope="col" class="group">{{ words.progress.rowHeads[kind] }}</th>
            <th scope="col" class="num" :aria-sort="ariaSort(byLearners)">
              <button type="button" class="sort" @click="sortBy(byLearners)">
                {{ words.progress.learners }}{{ sortArrows[ariaSort(byLearners)] }}
              </button>
            </th>
            <th v-for="{ course } in columns" :key="course.id" scope="col" class="course" :aria-sort="ariaSort(byCourse(course.id))">
              <button type="button" class="sort" :title="words.progress.sortBy(course.name)" @click="sortBy(byCourse(course.id))">
                {{ course.name }}{{ sortArrows[ariaSort(byCourse(course.id))] }}
              </button>
            </th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="row in rows" :key="`${row.depth}/${row.id}`" :class="{ top: row.depth === 0 }">
            <th scope="row" class="group" :style="{ paddingLeft: `${4 + row.depth * 16}px` }">
              <FoldButton
                :is-folded="
                  row.depth > 0 && hasShownChildren(row) ? groups.isFolded(row.id) : row.depth > 0 && row.hasSubgroups ? true : null
                "
                :label="words.access.fold(row.name)"
                @fold="fold(row)"
              />
              <button
                v-if="row.depth > 0"
                type="button"
                class="down"
                :title="row.part ? words.progress.filterBy : words.progress.goDown"
                @click="goTo(row)"
              >
                {{ words.progress.rowName(row) }}</button><template v-else>{{ row.name }}</template>
            </th>
            <td class="num">{{ showNumber(row.learners) }}</td>
            <td v-for="{ course, index } in columns" :key="course.id" class="cell" :class="[`s${shade(row.cells[index] ?? null)}`]">
              <button
                v-if="row.cells[index]"
                type="button"
                :title="words.progress.cellTitle(row.cells[index]!)"
                :aria-label="words.progress.cellLabel(words.progress.rowName(row), course.name, row.cells[index]!)"
                @click="emit('open', row, course)"
              >
                {{ rateText(row.cells[index]!)
                }}<span v-if="row.cells[index]!.overdue > 0" class="badge">{{ row.cells[index]!.overdue }}</span>
                <small v-if="scoreOf(row, index) !== null" class="mean">{{
                  words.progress.scoreOf[scores](showScore(scoreOf(row, index)!))
                }}</small>
              </button>
              <span v-else class="closed">{{ isFiltered ? words.progress.nobody : words.access.states.closed }}</span>
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

<style scoped>
.table-card {
  background: var(--sheet);
  border: 1px solid var(--rule);
  border-radius: 8px;
  padding: 12px 16px;
  min-width: 0;
}
.tools {
  display: flex;
  flex-wrap: wrap;
  gap: 12px;
  align-items: center;
  margin-bottom: 8px;
}
.kinds {
  flex: 1 1 150px;
  max-width: 220px;
}
.sort {
  min-height: 24px;
}
.sort:hover {
  text-decoration: underline;
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
.sort,
.down {
  background: none;
  border: 0;
  font: inherit;
  color: inherit;
  cursor: pointer;
  padding: 0;
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
tbody th {
  vertical-align: middle;
}
</style>
