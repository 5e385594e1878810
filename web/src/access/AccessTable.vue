<script setup lang="ts">
import type { AccessGrid } from '@gate-roster/contract';
import { useMediaQuery } from '@vueuse/core';
import { computed, ref, toRaw } from 'vue';
import { courseLink } from '../courses/course-link.ts';
import { useScope } from '../shell/scope.ts';
import { idsCode, textCode, useUrlState } from '../shell/url-state.ts';
import { useFolding } from '../ui/folding.ts';
import { useVirtualColumns } from '../ui/virtual-columns.ts';
import { useVirtualRows } from '../ui/virtual-rows.ts';
import * as words from '../words.ts';
import AccessRow from './AccessRow.vue';
import { useGridCursor } from './grid-cursor.ts';
import { headsOf, slotsOf } from './grid-slots.ts';
import { useGridActs } from './use-grid-acts.ts';
import GridNarrowing from './GridNarrowing.vue';
import GroupCourses from './GroupCourses.vue';
import SetHeading from './SetHeading.vue';
import { shownGrid, type ShownSet } from './shown-grid.ts';
import type { AccessDraft } from './use-access-draft.ts';

/** Groups down, courses across; a click, a range or a key drafts, nothing more. */
const { grid, draft } = defineProps<{ grid: AccessGrid; draft: AccessDraft }>();
const emit = defineEmits<{ show: [cell: { groupId: number; courseId: number } | null] }>();
const groupPixels = 240;
const rowPixels = 42;
/** So many cells are drawn at once; of more, only those in sight. */
const cellsDrawnWhole = 2000;
const scope = useScope();
const groups = useFolding<number>();
const foldedSets = useFolding<string>();
const isNarrow = useMediaQuery('(max-width: 860px)');
/** On a narrow window: one course's groups. */
const narrowCourse = ref(grid.courses[0]?.id ?? 0);
/** Or one group's courses. */
const narrowBy = ref<'course' | 'group'>('course');
const narrowGroup = ref(scope.groupId.value);
const isOneGroup = computed(() => isNarrow.value && narrowBy.value === 'group');
const find = useUrlState('find', '', textCode);
const onlyDecided = ref(false);
/** Courses that somebody took out of the columns. */
const without = useUrlState('without', [], idsCode);
const shown = computed(() =>
  shownGrid(toRaw(grid), {
    scopeId: scope.groupId.value,
    withSubgroups: scope.withSubgroups.value,
    find: isNarrow.value ? '' : find.value,
    onlyDecided: onlyDecided.value,
    without: isNarrow.value ? [] : without.value,
    isGroupFolded: groups.isFolded,
    isSetFolded: foldedSets.isFolded,
    onlyCourse: isNarrow.value && !isOneGroup.value ? narrowCourse.value : null,
    noSet: words.access.noSet,
  }),
);
const rows = computed(() => shown.value.rows);
const sets = computed(() => shown.value.sets);
const topDepth = computed(() => rows.value[0]?.depth ?? 0);
const columns = computed(() => sets.value.flatMap(({ isFolded, columns: own }) => (isFolded ? [] : own)));

const cursor = useGridCursor(
  () => rows.value.length,
  () => columns.value.length,
);
const { at } = cursor;
const acts = useGridActs({ rows, columns, cursor, draft, show: (cell) => emit('show', cell) });
const { inRange, drafted, copyable, status, put } = acts;
const oneRow = computed(() => rows.value.findIndex(({ id }) => id === narrowGroup.value));
const parents = computed(() => new Set(toRaw(grid).rows.map(({ parentId }) => parentId)));

/** A whole set at a time: its courses in the rows that are chosen. */
function chooseSet(set: ShownSet): void {
  const places = slots.value.flatMap((slot) => (slot.set === set && slot.column !== null ? [slot.place] : []));
  cursor.across(Math.min(...places), Math.max(...places));
}

/* Of a large grid only what is in sight is drawn. */
const scroller = ref<HTMLElement | null>(null);
const slots = computed(() => slotsOf(sets.value));
const isWhole = (): boolean => rows.value.length * slots.value.length <= cellsDrawnWhole;
const across = useVirtualColumns(
  scroller,
  computed(() => slots.value.map(({ pixels }) => pixels)),
  isWhole,
);
const down = useVirtualRows(scroller, () => rows.value.length, rowPixels, isWhole);
const drawn = computed(() => slots.value.slice(across.from.value, across.to.value));
const heads = computed(() => headsOf(drawn.value));
const drawnRows = computed(() => down.items.value.flatMap(({ index }) => (rows.value[index] ? [{ row: rows.value[index], index }] : [])));
const allPixels = computed(() => groupPixels + slots.value.reduce((sum, { pixels }) => sum + pixels, 0));
/** The cell that the tab key finds: where one is, or the first in sight. */
const tabbed = computed(() => {
  const isRow = drawnRows.value.some(({ index }) => index === at.value.row);
  const isColumn = drawn.value.some(({ place }) => place === at.value.column);
  return {
    row: isRow ? at.value.row : (drawnRows.value[0]?.index ?? 0),
    column: isColumn ? at.value.column : (drawn.value.find(({ column }) => column !== null)?.place ?? 0),
  };
});
</script>

<template>
  <div class="table-side">
    <GridNarrowing
      v-model:by="narrowBy"
      v-model:course="narrowCourse"
      v-model:group="narrowGroup"
      v-model:find="find"
      v-model:only-decided="onlyDecided"
      v-model:without="without"
      :courses="grid.courses"
      :groups="rows"
      :is-narrow="isNarrow"
    />
    <p v-if="columns.length === 0" class="soft">{{ words.access.noColumns }}</p>
    <GroupCourses
      v-if="isOneGroup && rows[oneRow]"
      :row="rows[oneRow]!"
      :columns="columns"
      :draft="draft"
      @choose="(column, event) => acts.choose(oneRow, column, event)"
    />
    <div v-else ref="scroller" class="scroller">
      <table
        role="grid"
        :class="{ ranged: cursor.places.value.length > 1 }"
        :style="{ width: `${allPixels}px` }"
        :aria-label="words.access.title"
        :aria-rowcount="rows.length + 1"
        :aria-colcount="columns.length + 1"
        @keydown="acts.onKey"
      >
        <colgroup>
          <col :style="{ width: `${groupPixels}px` }" />
          <col v-if="across.spaceBefore.value > 0" :style="{ width: `${across.spaceBefore.value}px` }" />
          <col v-for="(slot, index) in drawn" :key="index" :style="{ width: `${slot.pixels}px` }" />
          <col v-if="across.spaceAfter.value > 0" :style="{ width: `${across.spaceAfter.value}px` }" />
        </colgroup>
        <thead>
          <tr v-if="!isNarrow" class="sets">
            <td class="corner" />
            <td v-if="across.spaceBefore.value > 0" />
            <th v-for="{ set, span } in heads" :key="set.name" :colspan="span" scope="colgroup">
              <SetHeading
                :name="set.name"
                :is-folded="set.isFolded"
                :may-choose="!grid.isPast"
                @fold="foldedSets.toggle(set.name)"
                @choose="chooseSet(set)"
              />
            </th>
            <td v-if="across.spaceAfter.value > 0" />
          </tr>
          <tr>
            <th class="corner" scope="col">{{ words.groups.group }}</th>
            <td v-if="across.spaceBefore.value > 0" />
            <template v-for="{ set, column } in drawn" :key="column?.course.id ?? set.name">
              <th v-if="column === null" class="folded" scope="col">
                <span class="sr-only">{{ words.access.foldedSet(set.name) }}</span>
              </th>
              <th v-else scope="col" class="course">
                <router-link :to="courseLink(scope.groupId.value, column.course.id)">{{ column.course.name }}</router-link>
              </th>
            </template>
            <td v-if="across.spaceAfter.value > 0" />
          </tr>
        </thead>
        <tbody>
          <tr v-if="down.spaceAbove.value > 0" aria-hidden="true" :style="{ height: `${down.spaceAbove.value}px` }" />
          <AccessRow
            v-for="{ row, index } in drawnRows"
            :key="row.id"
            :class="{ top: row.id === scope.groupId.value }"
            :row="row"
            :index="index"
            :slots="drawn"
            :space-before="across.spaceBefore.value"
            :space-after="across.spaceAfter.value"
            :draft="draft"
            :indent="4 + Math.min(row.depth - topDepth, 8) * 16"
            :is-folded="parents.has(row.id) && !row.isAbove ? groups.isFolded(row.id) : null"
            :range="cursor.inRow(index)"
            :tabbed="tabbed.row === index ? tabbed.column : null"
            @fold="groups.toggle(row.id)"
            @choose="(column, event) => acts.choose(index, column, event)"
            @enter="(column) => (at = { row: index, column })"
            @press="(column) => cursor.goTo({ row: index, column }, false)"
            @drag="(column) => acts.drag(index, column)"
          />
          <tr v-if="down.spaceBelow.value > 0" aria-hidden="true" :style="{ height: `${down.spaceBelow.value}px` }" />
        </tbody>
      </table>
    </div>
    <div v-if="inRange > 0" class="range" role="toolbar" :aria-label="words.access.range(inRange)">
      <b>{{ words.access.range(inRange) }}</b>
      <v-btn size="small" @click="put({ effect: 'open' })">{{ words.access.openRange }}</v-btn>
      <v-btn size="small" class="late" @click="put({ effect: 'block' })">{{ words.access.blockRange }}</v-btn>
      <v-btn v-if="copyable" size="small" @click="acts.copyFirst()">{{ words.access.copyFirst }}</v-btn>
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
  /* What gets the focus is not left under the frozen heads. */
  scroll-padding: 90px 0 0 250px;
  overflow: auto;
  min-height: 0;
  flex: 0 1 auto;
}
table {
  table-layout: fixed;
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
th.course {
  overflow-wrap: anywhere;
  padding: 6px 1px;
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
  position: sticky;
  left: 0;
  background: var(--sheet);
  z-index: 2;
}
.folded {
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
</style>
