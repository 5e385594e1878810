<script setup lang="ts">
import type { AccessCell, AccessGrid } from '@gate-roster/contract';
import { useMediaQuery } from '@vueuse/core';
import { computed, nextTick, ref } from 'vue';
import { courseLink } from '../courses/course-link.ts';
import { useScope } from '../shell/scope.ts';
import { useFolding } from '../ui/folding.ts';
import { words } from '../words.ts';
import AccessMark from './AccessMark.vue';
import { useGridCursor } from './grid-cursor.ts';
import GridNarrowing from './GridNarrowing.vue';
import { type GridRow, shownGrid } from './shown-grid.ts';
import type { AccessDraft, CellDraft } from './use-access-draft.ts';

/** Groups down, courses across; a click, a range or a key drafts, nothing more. */
const { grid, draft } = defineProps<{ grid: AccessGrid; draft: AccessDraft }>();
const emit = defineEmits<{ show: [cell: { groupId: number; courseId: number } | null] }>();
type Row = GridRow;
const scope = useScope();
const groups = useFolding<number>();
const foldedSets = useFolding<string>();
const isNarrow = useMediaQuery('(max-width: 860px)');
/** On a narrow window: one course's groups. */
const narrowCourse = ref(grid.courses[0]?.id ?? 0);
const find = ref('');
const onlyDecided = ref(false);
const shown = computed(() =>
  shownGrid(grid, {
    scopeId: scope.groupId.value,
    withSubgroups: scope.withSubgroups.value,
    find: isNarrow.value ? '' : find.value,
    onlyDecided: onlyDecided.value,
    isGroupFolded: groups.isFolded,
    isSetFolded: foldedSets.isFolded,
    onlyCourse: isNarrow.value ? narrowCourse.value : null,
    noSet: words.access.noSet,
  }),
);
const rows = computed(() => shown.value.rows);
const sets = computed(() => shown.value.sets);
const topDepth = computed(() => rows.value[0]?.depth ?? 0);
const hasChildren = (row: Row): boolean => grid.rows.some(({ parentId }) => parentId === row.id);

const columns = computed(() => sets.value.flatMap(({ isFolded, columns: own }) => (isFolded ? [] : own)));
const columnOf = (index: number): number => columns.value.findIndex((each) => each.index === index);

const cursor = useGridCursor(
  () => rows.value.length,
  () => columns.value.length,
);
const { at } = cursor;
const cellAt = (row: Row | undefined, column: number): AccessCell | undefined => row?.cells[columns.value[column]?.index ?? -1];

/** Drafts the same for the whole range, where one may. */
function put(what: CellDraft | null): void {
  for (const place of cursor.places.value) {
    const row = rows.value[place.row];
    const course = columns.value[place.column]?.course;
    if (row?.mayOpen && !row.isAbove && course) draft.put(row.id, course.id, what);
  }
}

/** The commonest act is to open what is closed. A click on anything else shows what applies there and drafts nothing. */
function choose(row: number, column: number, event: MouseEvent): void {
  cursor.goTo({ row, column }, event.shiftKey);
  if (event.shiftKey) document.getElementById(`cell-${row}-${column}`)?.focus();
  const target = rows.value[row];
  const course = columns.value[column]?.course;
  if (event.shiftKey || !target?.mayOpen || target.isAbove || !course) return;
  const now = draft.at(target.id, course.id);
  const cell = cellAt(target, column);
  const isPlain = cell?.state === 'closed' && cell.grants.length === 0;
  emit('show', isPlain && !now ? null : { groupId: target.id, courseId: course.id });
  if (isPlain && !now) put({ effect: 'open' });
}

/** Cells of a drawn range in which the reader may draft. */
const inRange = computed(() =>
  cursor.places.value.length < 2 ? 0 : cursor.places.value.filter(({ row }) => rows.value[row]?.mayOpen && !rows.value[row].isAbove).length,
);
/** Of those, in which something is drafted that can be taken back. */
const drafted = computed(() =>
  cursor.places.value.some(({ row, column }) => draft.at(rows.value[row]?.id ?? 0, columns.value[column]?.course.id ?? 0) !== undefined),
);

function onKey(event: KeyboardEvent): void {
  if (cursor.step(event.key, event.shiftKey))
    void nextTick(() => document.getElementById(`cell-${at.value.row}-${at.value.column}`)?.focus());
  else if (event.key === 'Enter') show();
  else if (event.key === ' ') put({ effect: 'open' });
  else if (event.key === 'x' || event.key === 'X') put({ effect: 'block' });
  else if (event.key === 'Backspace' || event.key === 'Delete') leave();
  else return;
  event.preventDefault();
  event.stopPropagation();
}

/** What applies at the cell, with what can be done about it. */
function show(): void {
  const row = rows.value[at.value.row];
  const course = columns.value[at.value.column]?.course;
  if (row && course && !row.isAbove) emit('show', { groupId: row.id, courseId: course.id });
}

/** Takes back what was said here, so that the groups above decide. */
function leave(): void {
  const row = rows.value[at.value.row];
  const course = columns.value[at.value.column]?.course;
  if (!row || !course) return;
  if (draft.at(row.id, course.id)) put(null);
  else if (cellAt(row, at.value.column)?.grants.length) put({ effect: 'end' });
}

const status = computed(() => {
  const row = rows.value[at.value.row];
  const course = columns.value[at.value.column]?.course;
  const cell = cellAt(row, at.value.column);
  return row && course && cell
    ? words.access.status(row.name, course.name, draft.at(row.id, course.id)?.effect ?? null, cell, course.units.length)
    : '';
});
</script>

<template>
  <div class="table-side">
    <GridNarrowing
      v-model:course="narrowCourse"
      v-model:find="find"
      v-model:only-decided="onlyDecided"
      :courses="grid.courses"
      :is-narrow="isNarrow"
    />
    <p v-if="columns.length === 0" class="soft">{{ words.access.noColumns }}</p>
    <div class="scroller">
      <table role="grid" :class="{ ranged: cursor.places.value.length > 1 }" :aria-label="words.access.title" @keydown="onKey">
        <thead>
          <tr v-if="!isNarrow" class="sets">
            <td />
            <th v-for="set in sets" :key="set.name" :colspan="set.isFolded ? 1 : set.columns.length" scope="colgroup">
              <button type="button" :aria-expanded="!set.isFolded" @click="foldedSets.toggle(set.name)">
                {{ set.name }} {{ set.isFolded ? '▸' : '▾' }}
              </button>
            </th>
          </tr>
          <tr>
            <th class="corner" scope="col">{{ words.groups.group }}</th>
            <template v-for="set in sets" :key="set.name">
              <th v-if="set.isFolded" class="folded" scope="col">
                <span class="sr-only">{{ words.access.foldedSet(set.name) }}</span>
              </th>
              <template v-else
                ><th v-for="column in set.columns" :key="column.course.id" scope="col" class="course">
                  <router-link :to="courseLink(scope.groupId.value, column.course.id)">{{ column.course.name }}</router-link>
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
                :aria-expanded="!groups.isFolded(row.id)"
                @click="groups.toggle(row.id)"
              >
                {{ groups.isFolded(row.id) ? '▸' : '▾' }}
              </button>
              <span v-else class="fold" />{{ row.name }}
            </th>
            <template v-for="set in sets" :key="set.name">
              <td v-if="set.isFolded" class="folded" />
              <template v-else>
                <td
                  v-for="column in set.columns"
                  :id="`cell-${rowIndex}-${columnOf(column.index)}`"
                  :key="column.course.id"
                  role="gridcell"
                  class="cell"
                  :tabindex="at.row === rowIndex && at.column === columnOf(column.index) ? 0 : -1"
                  :aria-selected="cursor.isInRange(rowIndex, columnOf(column.index))"
                  :aria-label="
                    words.access.cell(
                      row.name,
                      column.course.name,
                      draft.at(row.id, column.course.id)?.effect ?? null,
                      row.cells[column.index]!,
                      column.course.units.length,
                    )
                  "
                  @mousedown.shift.prevent
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
    <div v-if="inRange > 0" class="range" role="toolbar" :aria-label="words.access.range(inRange)">
      <b>{{ words.access.range(inRange) }}</b>
      <v-btn size="small" @click="put({ effect: 'open' })">{{ words.access.openRange }}</v-btn>
      <v-btn size="small" class="late" @click="put({ effect: 'block' })">{{ words.access.blockRange }}</v-btn>
      <v-btn v-if="drafted" size="small" variant="text" @click="put(null)">{{ words.access.undraftRange }}</v-btn>
    </div>
    <p class="status" role="status">
      {{ status }} <span class="soft">{{ words.access.keys }}</span>
    </p>
  </div>
</template>

<style scoped>
.table-side {
  display: flex;
  flex-direction: column;
  min-height: 0;
}
.scroller {
  overflow: auto;
  min-height: 0;
  flex: 0 1 auto;
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
.ranged .cell[aria-selected='true'],
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
.range {
  display: flex;
  flex-wrap: wrap;
  gap: 10px;
  align-items: center;
  padding: 8px 4px 0;
}
.status {
  padding: 10px 4px;
  font-size: 14px;
}
span.fold {
  min-height: 0;
}
</style>
