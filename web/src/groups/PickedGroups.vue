<script setup lang="ts">
import * as words from '../words.ts';
import type { GroupAct } from './group-act.ts';

/** Below the tree, while several groups are chosen: what can be done to all of them. */
const { count } = defineProps<{ count: number }>();
defineEmits<{ act: [act: GroupAct]; none: [] }>();
</script>

<template>
  <div class="picks" role="region" :aria-label="words.groups.chosen(count)">
    <b>{{ words.groups.chosen(count) }}</b>
    <div>
      <v-btn variant="text" size="small" @click="$emit('act', 'move')">{{ words.groups.move }}</v-btn>
      <v-btn variant="text" size="small" @click="$emit('act', 'archive')">{{ words.groups.archive }}</v-btn>
      <v-btn variant="text" size="small" class="late" @click="$emit('act', 'delete')">{{ words.groups.remove }}</v-btn>
      <v-btn variant="text" size="small" @click="$emit('none')">{{ words.groups.chooseNone }}</v-btn>
    </div>
  </div>
</template>

<style scoped>
.picks {
  border-top: 1px solid var(--rule);
  background: var(--tide2);
  padding: 8px 14px;
  font-size: 14px;
}
.picks .v-btn {
  padding: 0 6px;
  min-width: 0;
}
</style>
