<script setup lang="ts">
import { computed } from 'vue';
import * as words from '../words.ts';

/** Seats in use against all there are, with a stroke where the limit lies; hatched when somebody waits. */
const { used, limit, whole } = defineProps<{ used: number; limit: number | null; whole: number; isShort: boolean }>();
const share = (part: number): string => `${Math.min(100, whole > 0 ? (part / whole) * 100 : 0)}%`;
const label = computed(() => words.seats.barLabel(used, limit));
</script>

<template>
  <div class="bar" role="img" :aria-label="label" :title="label">
    <div class="used" :class="{ short: isShort }" :style="{ width: share(used) }" />
    <div v-if="limit !== null" class="limit" :style="{ left: share(limit) }" />
  </div>
</template>

<style scoped>
.bar {
  position: relative;
  width: 132px;
  height: 14px;
  background: var(--fog);
  border-radius: 3px;
}
.used {
  height: 100%;
  background: var(--brass);
  border-radius: 3px;
}
.used.short {
  border-right: 8px solid var(--flare);
}
.limit {
  position: absolute;
  top: -3px;
  bottom: -3px;
  width: 2px;
  background: var(--ink);
}
</style>
