<script setup lang="ts">
import * as words from '../words.ts';

/** The activity at which most have stopped, and the way to them. */
defineProps<{ worst: { id: number; short: string; name: string; stops: number } | null; underWay: number }>();
defineEmits<{ choose: [activityId: number] }>();
const w = words.progress.inside;
</script>

<template>
  <section class="note">
    <h2>{{ w.stopTitle }}</h2>
    <template v-if="worst">
      <p>
        <b>{{ w.place(worst.short, worst.name) }}</b> {{ w.stopped(worst.stops, underWay) }}
      </p>
      <p>
        <button type="button" class="plain-link" @click="$emit('choose', worst.id)">{{ w.choose(worst.stops) }}</button>
      </p>
    </template>
    <p v-else class="soft">{{ w.nobodyStopped }}</p>
  </section>
</template>

<style scoped>
.note {
  background: var(--sheet);
  border: 1px solid var(--rule);
  border-radius: 8px;
  padding: 14px 16px;
  display: grid;
  gap: 6px;
}
</style>
