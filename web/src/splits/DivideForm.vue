<script setup lang="ts">
import type { SplitRow } from '@gate-roster/contract';
import type { DivideBy } from '@gate-roster/core';
import { computed, ref } from 'vue';
import * as words from '../words.ts';
import type { DivideInto } from './use-split-draft.ts';

/** How a group is divided again. */
const { leaders, others } = defineProps<{ leaders: number; others: readonly SplitRow[] }>();
const emit = defineEmits<{ divide: [by: DivideBy, into: DivideInto]; perLeader: []; takeOver: [other: SplitRow]; close: [] }>();
const w = words.splits;
const by = ref<DivideBy>('chance');
const kind = ref<'parts' | 'size'>('parts');
const number = ref(3);
const ways = computed(() => [
  { value: 'chance' as const, title: w.byChance },
  { value: 'score' as const, title: w.byScore },
  { value: 'tag' as const, title: w.byTag },
]);
const kinds = [
  { value: 'parts' as const, title: w.intoParts },
  { value: 'size' as const, title: w.intoSize },
];
const isWrong = computed(() => !Number.isInteger(number.value) || number.value < 1 || (kind.value === 'parts' && number.value > 40));
function divide(): void {
  if (isWrong.value) return;
  emit('divide', by.value, kind.value === 'parts' ? { parts: number.value } : { size: number.value });
}
</script>

<template>
  <form class="form" @submit.prevent="divide">
    <h2>{{ w.divide }}</h2>
    <v-select v-model="by" :items="ways" :label="w.how" />
    <v-select v-model="kind" :items="kinds" :label="w.into" />
    <v-text-field v-model.number="number" type="number" min="1" max="1000" :label="kind === 'parts' ? w.numberOfParts : w.peopleInEach" />
    <v-btn type="submit" variant="flat" :disabled="isWrong">{{ w.divideNow }}</v-btn>
    <v-btn v-if="leaders > 0 && leaders <= 40" @click="emit('perLeader')">{{ w.perLeader }}</v-btn>
    <v-btn v-for="other in others" :key="other.id" @click="emit('takeOver', other)">{{ w.asLast(other.name) }}</v-btn>
    <v-btn variant="text" @click="emit('close')">{{ w.done }}</v-btn>
  </form>
</template>

<style scoped>
.form {
  display: grid;
  gap: 10px;
}
</style>
