<script setup lang="ts">
import FoldButton from '../ui/FoldButton.vue';
import * as words from '../words.ts';
import AccessMark from './AccessMark.vue';
import type { Slot } from './grid-slots.ts';
import type { GridRow } from './shown-grid.ts';
import type { AccessDraft } from './use-access-draft.ts';

/** One group of the grid. A row is drawn by itself, so that a click draws the rows that it is about and no other. */
const { row, index, slots, draft, range } = defineProps<{
  row: GridRow;
  index: number;
  /** The columns in sight, and the room of those before and after them in pixels. */
  slots: readonly Slot[];
  spaceBefore: number;
  spaceAfter: number;
  draft: AccessDraft;
  indent: number;
  /** Null: nothing is below it. */
  isFolded: boolean | null;
  /** The columns that are chosen in this row, and the one that the tab key finds; null: none. */
  range: { left: number; right: number } | null;
  tabbed: number | null;
}>();
const emit = defineEmits<{
  fold: [];
  choose: [column: number, event: MouseEvent];
  enter: [column: number];
  /** The pointer goes down here, or comes here held down. */
  press: [column: number];
  drag: [column: number];
}>();
const isHeld = ({ buttons }: MouseEvent): boolean => (buttons & 1) === 1;
const isChosen = (place: number): boolean => range !== null && place >= range.left && place <= range.right;
</script>

<template>
  <tr :class="{ above: row.isAbove }" :aria-rowindex="index + 2">
    <th scope="row" class="group" :title="row.name" :style="{ paddingLeft: `${indent}px` }">
      <FoldButton :is-folded="isFolded" :label="words.access.fold(row.name)" @fold="emit('fold')" />{{ row.name }}
    </th>
    <td v-if="spaceBefore > 0" aria-hidden="true" />
    <template v-for="{ set, column, place } in slots" :key="column?.course.id ?? set.name">
      <td v-if="column === null" class="folded" />
      <td
        v-else
        :id="`cell-${index}-${place}`"
        role="gridcell"
        class="cell"
        :tabindex="tabbed === place ? 0 : -1"
        :aria-colindex="place + 2"
        :aria-selected="isChosen(place)"
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
        @mousedown.left.exact="emit('press', place)"
        @mouseenter="isHeld($event) && emit('drag', place)"
        @click="emit('choose', place, $event)"
        @focus="emit('enter', place)"
      >
        <AccessMark
          :state="draft.stateOf(row, column.course.id, row.cells[column.index]!)"
          :cell="row.cells[column.index]!"
          :units="draft.unitsOf(row, column.course.id, row.cells[column.index]!)"
          :all-units="column.course.units.length"
          :is-draft="draft.touches(row, column.course.id)"
        />
      </td>
    </template>
    <td v-if="spaceAfter > 0" aria-hidden="true" />
  </tr>
</template>

<style scoped>
.group {
  position: sticky;
  left: 0;
  background: var(--sheet);
  z-index: 2;
  text-align: left;
  font-weight: 400;
  white-space: nowrap;
  overflow: hidden;
  text-overflow: ellipsis;
  border-bottom: 1px solid var(--rule);
  padding-right: 10px;
}
tr.top .group {
  font-weight: 700;
}
tr.above .group {
  color: var(--ink2);
}
.cell {
  height: 42px;
  text-align: center;
  border-bottom: 1px solid var(--rule);
  border-left: 1px solid var(--rule);
  cursor: pointer;
  user-select: none;
}
.cell:hover,
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
  border-bottom: 1px solid var(--rule);
  border-left: 1px solid var(--rule);
  background: var(--paper2);
}
</style>
