<script setup lang="ts" generic="Row extends { id: RowId }">
import { useElementSize } from '@vueuse/core';
import { computed, ref, useTemplateRef } from 'vue';
import { type ListColumn, shownColumns, sortAfter, sortArrows, sortedAs } from './list-columns.ts';
import { type Pages, usePagedRows } from './paged-rows.ts';
import type { RowId, Selection } from './selection.ts';

/**
 * Rows of one kind in columns that are data: sorted by a click, walked by arrows, chosen if there is a selection, and with columns that
 * leave when there is less room. The cells of a column are drawn by the slot of its key.
 */
const {
  label,
  columns,
  rows,
  count = null,
  rowPixels = 0,
  pages = null,
  selection = null,
  labelOf = () => '',
  lookOf = () => '',
  canOpen = false,
} = defineProps<{
  label: string;
  columns: readonly ListColumn[];
  rows: readonly Row[];
  /** How many there are, those included that were not fetched. */
  count?: number | null;
  /** All rows are so high, and only those in sight are drawn. 0: they differ, and all are drawn. */
  rowPixels?: number;
  /** For lists that come a page at a time. */
  pages?: Pages | null;
  /** With it each row has a box. What the boxes are called, for those who hear them. */
  selection?: Selection<Row['id']> | null;
  labelOf?: (row: Row | null) => string;
  /** Classes of a row. */
  lookOf?: (row: Row) => string | Record<string, boolean>;
  /** Enter opens a row. */
  canOpen?: boolean;
}>();
const sort = defineModel<string>('sort', { default: '' });
const emit = defineEmits<{ open: [id: Row['id']]; all: [] }>();
defineSlots<Record<string, (given: { row: Row }) => unknown>>();

const scroller = useTemplateRef<HTMLElement>('scroller');
const { width } = useElementSize(scroller);
const shown = computed(() => shownColumns(columns, width.value));
const none: Pages = { hasNextPage: ref(false), isFetchingNextPage: ref(false), fetchNextPage: () => undefined };
const { drawn, spaceAbove, spaceBelow, isAllChosen, onKey } = usePagedRows(
  scroller,
  computed(() => rows),
  pages ?? none,
  rowPixels,
  (id) => {
    if (canOpen) emit('open', id);
  },
  selection ?? undefined,
);
const isWalked = computed(() => canOpen || selection !== null);
/** Enter and the space bar belong to what is focused in the row. */
function walk(event: KeyboardEvent, index: number): void {
  if (isWalked.value && (event.target === event.currentTarget || event.key.startsWith('Arrow'))) onKey(event, index);
}
const isPartChosen = computed(() => !isAllChosen.value && (selection?.count.value ?? 0) > 0);
const columnsDrawn = computed(() => shown.value.length + (selection ? 1 : 0));
const arrow = (column: ListColumn): string => sortArrows[sortedAs(column, sort.value)];
</script>

<template>
  <div ref="scroller" class="scroll" tabindex="0" role="region" :aria-label="label">
    <table class="rows" :class="{ even: rowPixels > 0 }" :aria-rowcount="count === null ? undefined : count + 1">
      <thead>
        <tr>
          <th v-if="selection" class="box">
            <v-checkbox-btn
              density="compact"
              :model-value="isAllChosen"
              :indeterminate="isPartChosen"
              :aria-label="labelOf(null)"
              @update:model-value="$event ? emit('all') : selection.clear()"
            />
          </th>
          <th
            v-for="column in shown"
            :key="column.key"
            :class="{ num: column.isNumber }"
            :aria-sort="column.sorts ? sortedAs(column, sort) : undefined"
          >
            <button v-if="column.sorts" type="button" class="sorter" @click="sort = sortAfter(column, sort)">
              {{ column.title }}{{ arrow(column) }}
            </button>
            <span v-else-if="column.hasHiddenTitle" class="sr-only">{{ column.title }}</span>
            <template v-else>{{ column.title }}</template>
          </th>
        </tr>
      </thead>
      <tbody>
        <tr v-if="spaceAbove > 0" aria-hidden="true">
          <td :colspan="columnsDrawn" class="space" :style="{ height: `${spaceAbove}px` }" />
        </tr>
        <tr
          v-for="{ row, index } in drawn"
          :key="row.id"
          :data-row="index"
          :aria-rowindex="count === null ? undefined : index + 2"
          :class="[lookOf(row), { sel: selection?.has(row.id) }]"
          :tabindex="isWalked ? (index === 0 ? 0 : -1) : undefined"
          @keydown="walk($event, index)"
        >
          <td v-if="selection" class="box" @click="selection.click(index, $event.shiftKey)">
            <v-checkbox-btn
              density="compact"
              readonly
              :model-value="selection.has(row.id)"
              :aria-label="labelOf(row)"
              @keydown.space.prevent.stop="selection.click(index, $event.shiftKey)"
            />
          </td>
          <td
            v-for="column in shown"
            :key="column.key"
            :class="{ num: column.isNumber }"
            :style="rowPixels > 0 ? { height: `${rowPixels}px` } : undefined"
          >
            <slot :name="column.key" :row="row" />
          </td>
        </tr>
        <tr v-if="spaceBelow > 0" aria-hidden="true">
          <td :colspan="columnsDrawn" class="space" :style="{ height: `${spaceBelow}px` }" />
        </tr>
      </tbody>
    </table>
  </div>
</template>

<style scoped>
.scroll:focus-visible {
  outline-offset: -2px;
}
.even td {
  padding-block: 0;
  white-space: nowrap;
}
.rows .space {
  padding: 0;
}
.sorter {
  background: none;
  border: 0;
  padding: 0;
  font: inherit;
  color: inherit;
  cursor: pointer;
  text-align: inherit;
}
.rows .box {
  width: 40px;
  padding: 0 0 0 8px;
}
.box + :is(td, th) {
  padding-left: 2px;
}
tr.sel td {
  background: var(--tide2);
}
</style>
