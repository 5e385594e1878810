<script setup lang="ts">
import { computed } from 'vue';
import { useSession } from '../shell/session.ts';
import * as words from '../words.ts';
import { useAsOf } from './as-of.ts';

/** Chooses the day that is looked at. */
const {
  first = null,
  last = null,
  label = words.asOf.label,
} = defineProps<{
  /** Days that can be chosen; left out: any. */
  first?: string | null | undefined;
  last?: string | null | undefined;
  label?: string;
}>();
const day = useAsOf();
const session = useSession();
const today = computed(() => session.me?.today ?? '');
function choose(event: Event): void {
  const { value } = event.target as HTMLInputElement;
  const isAllowed = value !== '' && (first === null || value >= first) && (last === null || value <= last);
  if (value === '' || isAllowed) day.value = value === '' || value === today.value ? null : value;
}
</script>

<template>
  <label class="as-of">
    <span>{{ label }}</span>
    <input type="date" :value="day ?? today" :min="first ?? undefined" :max="last ?? undefined" @change="choose" />
  </label>
</template>

<style scoped>
.as-of {
  display: inline-flex;
  gap: 8px;
  align-items: center;
  color: var(--ink2);
  font-size: 14px;
}
input {
  font: inherit;
  color: var(--ink);
  background: var(--sheet);
  border: 1px solid var(--rule);
  border-radius: 6px;
  padding: 2px 8px;
}
</style>
