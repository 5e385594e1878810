<script setup lang="ts">
import { showDay } from '../ui/format.ts';
import * as words from '../words.ts';
import { useAsOf } from './as-of.ts';

/** Says that one does not look at today, and leads back to it. */
const { shown } = defineProps<{ shown: { day: string; isPast: boolean; since: string } | undefined }>();
const day = useAsOf();
</script>

<template>
  <p v-if="day !== null && shown" class="band" role="status">
    <span>{{ words.asOf.band(showDay(shown.day), shown.isPast) }}</span>
    <span v-if="shown.day < shown.since" class="late">{{ words.asOf.before(showDay(shown.since)) }}</span>
    <v-btn size="small" variant="text" @click="day = null">{{ words.asOf.back }}</v-btn>
  </p>
</template>

<style scoped>
.band {
  display: flex;
  gap: 14px;
  align-items: center;
  flex-wrap: wrap;
  padding: 4px 14px;
  margin: 8px 0;
  border: 1px solid var(--brass);
  border-radius: 8px;
  background: var(--brass2);
}
</style>
