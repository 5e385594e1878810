<script setup lang="ts">
import type { LearnerCell } from '@gate-roster/contract';
import { computed } from 'vue';
import * as words from '../words.ts';

/** How far one learner is with one course: a mark by shape and colour, and a word. */
const { cell, today } = defineProps<{ cell: LearnerCell; today: string }>();
const state = computed(() =>
  cell.exempt
    ? 'exempt'
    : cell.status === 'done'
      ? 'done'
      : cell.lateness === 'overdue'
        ? 'overdue'
        : cell.inLine !== null
          ? 'line'
          : cell.status === 'under way'
            ? 'under'
            : 'none',
);
</script>

<template>
  <span class="cell" :class="state" :title="words.progress.learnerCellTitle(cell)">
    <i v-if="state !== 'exempt'" aria-hidden="true">{{ state === 'done' ? '✓' : '' }}</i>
    {{ words.progress.learnerCell(cell, today) }}
  </span>
</template>

<style scoped>
.cell {
  display: inline-flex;
  vertical-align: middle;
  align-items: center;
  gap: 7px;
  white-space: nowrap;
}
i {
  width: 17px;
  height: 17px;
  border-radius: 3px;
  font:
    700 11px/17px 'Atkinson Hyperlegible Next Variable',
    sans-serif;
  text-align: center;
  flex: none;
}
.done i {
  background: var(--kelp);
  color: #fff;
}
.under i {
  background: repeating-linear-gradient(135deg, var(--slate) 0 3px, color-mix(in srgb, var(--slate) 45%, var(--sheet)) 3px 6px);
}
.overdue {
  color: var(--flare-ink);
  font-weight: 700;
}
.overdue i {
  border: 3px solid var(--flare);
}
.none i {
  border: 1px solid var(--ink2);
}
.none,
.exempt {
  color: var(--ink2);
}
.line i {
  border: 2px dashed var(--brass);
}
</style>
