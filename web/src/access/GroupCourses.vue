<script setup lang="ts">
import * as words from '../words.ts';
import AccessMark from './AccessMark.vue';
import type { GridColumn, GridRow } from './shown-grid.ts';
import type { AccessDraft } from './use-access-draft.ts';

/** One group's courses, one below the other, where the window is too narrow for the grid. */
defineProps<{ row: GridRow; columns: readonly GridColumn[]; draft: AccessDraft }>();
defineEmits<{ choose: [column: number, event: MouseEvent] }>();
</script>

<template>
  <ul class="plain-list">
    <li v-for="({ course, index }, place) in columns" :key="course.id">
      <button
        type="button"
        :aria-label="
          words.access.cell(row.name, course.name, draft.at(row.id, course.id)?.effect ?? null, row.cells[index]!, course.units.length)
        "
        @click="$emit('choose', place, $event)"
      >
        <span>{{ course.name }}</span>
        <AccessMark
          :state="draft.stateOf(row, course.id, row.cells[index]!)"
          :cell="row.cells[index]!"
          :units="draft.unitsOf(row, course.id, row.cells[index]!)"
          :all-units="course.units.length"
          :is-draft="draft.touches(row, course.id)"
        />
      </button>
    </li>
  </ul>
</template>

<style scoped>
li {
  border-bottom: 1px solid var(--rule);
}
button {
  display: flex;
  justify-content: space-between;
  align-items: center;
  gap: 12px;
  width: 100%;
  min-height: 42px;
  padding: 2px 4px;
  background: none;
  border: 0;
  font: inherit;
  color: inherit;
  text-align: left;
  cursor: pointer;
}
</style>
