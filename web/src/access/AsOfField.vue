<script setup lang="ts">
import { computed } from 'vue';
import { useSession } from '../shell/session.ts';
import DayField from '../ui/DayField.vue';
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
const chosen = computed({
  get: () => day.value ?? today.value,
  set: (value: string | null | undefined) => {
    const isAllowed = !value || ((first === null || value >= first) && (last === null || value <= last));
    if (isAllowed) day.value = !value || value === today.value ? null : value;
  },
});
</script>

<template>
  <DayField v-model="chosen" inline :label="label" :min="first" :max="last" :clearable="day !== null" />
</template>
