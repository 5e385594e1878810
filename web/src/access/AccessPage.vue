<script setup lang="ts">
import type { AccessCell, AccessGrid } from '@gate-roster/contract';
import type { Change, GrantDraft } from '@gate-roster/core';
import { useQuery } from '@tanstack/vue-query';
import { useMediaQuery } from '@vueuse/core';
import { computed, nextTick, ref, watch } from 'vue';
import { call } from '../api/call.ts';
import LookPanel from '../changes/LookPanel.vue';
import { useChange } from '../changes/use-change.ts';
import ScopeBar from '../shell/ScopeBar.vue';
import { useScope } from '../shell/scope.ts';
import LoadState from '../ui/LoadState.vue';
import { words } from '../words.ts';
import AccessMark from './AccessMark.vue';
import DraftList from './DraftList.vue';
import { type CellDraft, useAccessDraft } from './use-access-draft.ts';

type Row = AccessGrid['rows'][number];

const scope = useScope();
const {
  data: grid,
  error,
  isPending,
  refetch,
} = useQuery({
  queryKey: ['access', scope.groupId],
  queryFn: ({ signal }) => call('accessGrid', { params: { groupId: scope.groupId.value } }, signal),
});
const draft = useAccessDraft(grid);
watch(scope.groupId, () => {
  draft.clear();
});
const change = computed<Change | null>(() => draft.change.value);
const inHand = useChange(change, words.access.applied);
async function apply(): Promise<void> {
  if (await inHand.apply()) draft.clear();
}

const folded = ref(new Set<number>());
const rows = computed<Row[]>(() => {
  const all = grid.value?.rows ?? [];
  const hidden = new Set<number>();
  return all.filter((row) => {
    if (
      row.parentId !== null &&
      (folded.value.has(row.parentId) || hidden.has(row.parentId)) &&
      !row.isAbove &&
      row.id !== scope.groupId.value
    )
      hidden.add(row.id);
    // A group above shows only where something comes from it, and the branch only with its subgroups on.
    if (row.isAbove) return row.cells.some(({ grants }) => grants.length > 0);
    return !hidden.has(row.id) && (scope.withSubgroups.value || row.id === scope.groupId.value);
  });
});
const topDepth = computed(() => rows.value[0]?.depth ?? 0);
const hasChildren = (row: Row): boolean => grid.value?.rows.some(({ parentId }) => parentId === row.id) ?? false;
function fold(row: Row): void {
  const next = new Set(folded.value);
  if (!next.delete(row.id)) next.add(row.id);
  folded.value = next;
}

const foldedSets = ref(new Set<string>());
const sets = computed(() => {
  const found: { name: string; columns: { course: AccessGrid['courses'][number]; index: number }[] }[] = [];
  for (const [index, course] of (grid.value?.courses ?? []).entries()) {
    const name = course.set ?? words.access.noSet;
    const set = found.find((each) => each.name === name) ?? found[found.push({ name, columns: [] }) - 1];
    set?.columns.push({ course, index });
  }
  return found;
});
const columns = computed(() => sets.value.flatMap(({ name, columns: own }) => (foldedSets.value.has(name) ? [] : own)));
function foldSet(name: string): void {
  const next = new Set(foldedSets.value);
  if (!next.delete(name)) next.add(name);
  foldedSets.value = next;
}

const at = ref({ row: 0, column: 0 });
const anchor = ref<{ row: number; column: number } | null>(null);
const atRow = computed(() => rows.value[at.value.row]);
const atCourse = computed(() => columns.value[at.value.column]);
const cellAt = (row: Row | undefined, column: number): AccessCell | undefined => row?.cells[columns.value[column]?.index ?? -1];
const isInRange = (row: number, column: number): boolean => {
  const from = anchor.value ?? at.value;
  return (
    row >= Math.min(from.row, at.value.row) &&
    row <= Math.max(from.row, at.value.row) &&
    column >= Math.min(from.column, at.value.column) &&
    column <= Math.max(from.column, at.value.column)
  );
};

function put(what: CellDraft | null): void {
  for (let row = 0; row < rows.value.length; row++) {
    for (let column = 0; column < columns.value.length; column++) {
      const target = rows.value[row];
      const course = columns.value[column]?.course;
      if (isInRange(row, column) && target?.mayOpen && !target.isAbove && course) draft.put(target.id, course.id, what);
    }
  }
}
function choose(row: number, column: number, event: MouseEvent): void {
  if (event.shiftKey) anchor.value ??= { ...at.value };
  else anchor.value = null;
  const wasHere = at.value.row === row && at.value.column === column;
  at.value = { row, column };
  const target = rows.value[row];
  const course = columns.value[column]?.course;
  if (event.shiftKey || !target || !course || !target.mayOpen || target.isAbove) return;
  // The commonest act is to open; a second click on the same cell goes on to block, then to leave it as it was.
  const now = draft.at(target.id, course.id);
  const cell = cellAt(target, column);
  if (!wasHere && now) return;
  if (!now) draft.put(target.id, course.id, cell?.state === 'here' || cell?.state === 'above' ? { effect: 'block' } : { effect: 'open' });
  else if (now.effect === 'open' && cell?.state !== 'blocked') draft.put(target.id, course.id, { effect: 'block' });
  else draft.put(target.id, course.id, null);
}
function onKey(event: KeyboardEvent): void {
  const steps: Record<string, [number, number]> = { ArrowDown: [1, 0], ArrowUp: [-1, 0], ArrowRight: [0, 1], ArrowLeft: [0, -1] };
  const step = steps[event.key];
  if (step) {
    anchor.value = event.shiftKey ? (anchor.value ?? { ...at.value }) : null;
    at.value = {
      row: Math.max(0, Math.min(rows.value.length - 1, at.value.row + step[0])),
      column: Math.max(0, Math.min(columns.value.length - 1, at.value.column + step[1])),
    };
    void nextTick(() => {
      document.getElementById(`cell-${at.value.row}-${at.value.column}`)?.focus();
    });
  } else if (event.key === ' ' || event.key === 'Enter') put({ effect: 'open' });
  else if (event.key === 'x' || event.key === 'X') put({ effect: 'block' });
  else if (event.key === 'Backspace' || event.key === 'Delete') leave();
  else return;
  event.preventDefault();
  event.stopPropagation();
}
/** Takes back what was said here, so that the groups above decide. */
function leave(): void {
  const row = atRow.value;
  const course = atCourse.value?.course;
  if (!row || !course) return;
  if (draft.at(row.id, course.id)) put(null);
  else if (cellAt(row, at.value.column)?.grants.length) put({ effect: 'end' });
}
const status = computed(() => {
  const cell = cellAt(atRow.value, at.value.column);
  if (!atRow.value || !atCourse.value || !cell) return '';
  return words.access.status(
    atRow.value.name,
    atCourse.value.course.name,
    draft.at(atRow.value.id, atCourse.value.course.id)?.effect ?? null,
    cell,
    atCourse.value.course.units.length,
  );
});
const legend = ['here', 'above', 'part', 'later', 'blocked', 'closed'] as const;
const isNarrow = useMediaQuery('(max-width: 860px)');
const narrowCourse = ref(0);
watch(
  isNarrow,
  (narrow) => {
    if (narrow) narrowCourse.value = grid.value?.courses[0]?.id ?? 0;
  },
  { immediate: true },
);
const shownColumns = computed(() =>
  isNarrow.value ? columns.value.filter(({ course }) => course.id === (narrowCourse.value || columns.value[0]?.course.id)) : columns.value,
);
const columnOf = (index: number): number => columns.value.findIndex((each) => each.index === index);
function setDraft(groupId: number, courseId: number, more: Partial<GrantDraft>): void {
  draft.refine(groupId, courseId, more);
}
</script>

<template>
  <ScopeBar />
  <div class="page">
    <main class="grid-side">
      <h1>{{ words.access.title }}</h1>
      <ul class="plain-list legend" :aria-label="words.access.legend">
        <li v-for="state in legend" :key="state"><AccessMark :state="state" sample /> {{ words.access.states[state] }}</li>
      </ul>
      <LoadState v-if="!grid" :error="error" :is-pending="isPending" @again="refetch()" />
      <template v-else>
        <v-select
          v-if="isNarrow"
          v-model="narrowCourse"
          class="mb-2 narrow-course"
          :label="words.courses.course"
          :items="grid.courses"
          item-value="id"
          item-title="name"
        />
        <div class="scroller">
          <table role="grid" :aria-label="words.access.title" @keydown="onKey">
            <thead>
              <tr v-if="!isNarrow" class="sets">
                <td />
                <th v-for="set in sets" :key="set.name" :colspan="foldedSets.has(set.name) ? 1 : set.columns.length" scope="colgroup">
                  <button type="button" :aria-expanded="!foldedSets.has(set.name)" @click="foldSet(set.name)">
                    {{ set.name }} {{ foldedSets.has(set.name) ? '▸' : '▾' }}
                  </button>
                </th>
              </tr>
              <tr>
                <th class="corner" scope="col">{{ words.groups.group }}</th>
                <template v-for="set in sets" :key="set.name">
                  <th v-if="foldedSets.has(set.name) && !isNarrow" class="folded" scope="col">
                    <span class="sr-only">{{ words.access.foldedSet(set.name) }}</span>
                  </th>
                  <template v-else
                    ><th
                      v-for="column in set.columns.filter((each) => shownColumns.includes(each))"
                      :key="column.course.id"
                      scope="col"
                      class="course"
                    >
                      {{ column.course.name }}
                    </th></template
                  >
                </template>
              </tr>
            </thead>
            <tbody>
              <tr v-for="(row, rowIndex) in rows" :key="row.id" :class="{ above: row.isAbove, top: row.id === scope.groupId.value }">
                <th scope="row" class="group" :style="{ paddingLeft: `${4 + Math.min(row.depth - topDepth, 8) * 16}px` }">
                  <button
                    v-if="hasChildren(row) && !row.isAbove"
                    type="button"
                    class="fold"
                    :aria-label="words.access.fold(row.name)"
                    :aria-expanded="!folded.has(row.id)"
                    @click="fold(row)"
                  >
                    {{ folded.has(row.id) ? '▸' : '▾' }}
                  </button>
                  <span v-else class="fold" />{{ row.name }}
                </th>
                <template v-for="set in sets" :key="set.name">
                  <td v-if="foldedSets.has(set.name) && !isNarrow" class="folded" />
                  <template v-else>
                    <td
                      v-for="column in set.columns.filter((each) => shownColumns.includes(each))"
                      :id="`cell-${rowIndex}-${columnOf(column.index)}`"
                      :key="column.course.id"
                      role="gridcell"
                      class="cell"
                      :tabindex="at.row === rowIndex && at.column === columnOf(column.index) ? 0 : -1"
                      :aria-selected="isInRange(rowIndex, columnOf(column.index))"
                      :aria-label="
                        words.access.cell(
                          row.name,
                          column.course.name,
                          draft.at(row.id, column.course.id)?.effect ?? null,
                          row.cells[column.index]!,
                          column.course.units.length,
                        )
                      "
                      @click="choose(rowIndex, columnOf(column.index), $event)"
                      @focus="at = { row: rowIndex, column: columnOf(column.index) }"
                    >
                      <AccessMark
                        :state="draft.stateOf(row, column.course.id, row.cells[column.index]!)"
                        :cell="row.cells[column.index]!"
                        :all-units="column.course.units.length"
                        :is-draft="draft.touches(row, column.course.id)"
                      />
                    </td>
                  </template>
                </template>
              </tr>
            </tbody>
          </table>
        </div>
        <p class="status" role="status">
          {{ status }} <span class="soft">{{ words.access.keys }}</span>
        </p>
      </template>
    </main>
    <aside v-if="change" class="panel">
      <LookPanel
        :look="inHand.look.value"
        :change="change"
        :is-looking="inHand.isLooking.value"
        :is-applying="inHand.isApplying.value"
        :problem="inHand.problem.value"
        :later="words.access.joinLater"
        @apply="apply"
        @discard="draft.clear()"
      >
        <p class="soft small">{{ words.access.draft(draft.count.value) }}</p>
        <h2>{{ words.changes.whatItWouldDo }}</h2>
        <DraftList v-if="grid" :grid="grid" :draft="draft" @refine="setDraft" />
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
.scroller {
  overflow: auto;
  min-height: 0;
  flex: 0 1 auto;
}
.narrow-course {
  flex: none;
}
table {
  border-collapse: separate;
  border-spacing: 0;
  font-size: 14.5px;
}
thead {
  position: sticky;
  top: 0;
  z-index: 3;
  background: var(--sheet);
}
.sets th {
  font:
    600 13px 'Atkinson Hyperlegible Next Variable',
    sans-serif;
  padding: 0 4px;
  border-bottom: 0;
  text-align: center;
}
.sets button {
  border: 0;
  border-bottom: 2px solid var(--fog);
  width: 100%;
  background: none;
  font: inherit;
  color: var(--ink2);
  padding: 2px 0;
  cursor: pointer;
  white-space: nowrap;
}
th.course {
  width: 74px;
  min-width: 74px;
  padding: 6px 4px;
  font-size: 12.5px;
  line-height: 1.2;
  font-weight: 600;
  color: var(--ink2);
  vertical-align: bottom;
  text-align: center;
  border-bottom: 1px solid var(--rule);
  border-left: 1px solid var(--rule);
  hyphens: auto;
}
.corner {
  text-align: left;
  vertical-align: bottom;
  font-size: 13px;
  color: var(--ink2);
  padding: 6px 4px;
  border-bottom: 1px solid var(--rule);
}
.corner,
.group {
  position: sticky;
  left: 0;
  background: var(--sheet);
  z-index: 2;
  min-width: 200px;
}
.group {
  text-align: left;
  font-weight: 400;
  white-space: nowrap;
  border-bottom: 1px solid var(--rule);
  padding-right: 10px;
}
tr.top .group {
  font-weight: 700;
}
tr.above .group {
  color: var(--ink2);
}
.fold {
  display: inline-block;
  width: 24px;
  min-height: 24px;
  padding: 0;
  background: none;
  border: 0;
  color: var(--ink2);
  cursor: pointer;
  font-size: 12px;
}
.cell {
  width: 74px;
  height: 42px;
  text-align: center;
  border-bottom: 1px solid var(--rule);
  border-left: 1px solid var(--rule);
  cursor: pointer;
}
.cell:hover {
  background: var(--tide2);
}
.cell[aria-selected='true']:focus {
  background: var(--tide2);
}
.cell:focus-visible {
  outline-offset: -2px;
}
tr.above .cell {
  cursor: default;
  opacity: 0.75;
}
.folded {
  width: 20px;
  border-bottom: 1px solid var(--rule);
  border-left: 1px solid var(--rule);
  background: var(--paper2);
}
.status {
  padding: 10px 4px;
  font-size: 14px;
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
span.fold {
  min-height: 0;
}
</style>
