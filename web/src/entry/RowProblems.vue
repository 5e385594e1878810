<script setup lang="ts">
import type { CheckedRow } from '@gate-roster/core';
import * as words from '../words.ts';

/** Lines that need a look, each with its reason. */
defineProps<{ rows: Omit<CheckedRow, 'declined'>[] }>();
</script>

<template>
  <ul class="plain-list problems">
    <li v-for="row in rows" :key="row.row" class="wrong">
      {{ words.entry.line(row.row, row.reason ? words.entry.reason(row.reason, row.cells) : '') }}
    </li>
  </ul>
</template>

<style scoped>
.problems {
  background: var(--wrong2);
  border-radius: 8px;
  padding: 8px 12px;
  font-size: 14px;
}
</style>
