<script setup lang="ts">
import * as words from '../words.ts';
import type { StateAsked } from './person-acts.ts';
import DayField from '../ui/DayField.vue';

/** Works (between days), paused or ended: for one person or for many. */
const asked = defineModel<StateAsked>({ required: true });
const states = ['active', 'paused', 'ended'] as const;
const set = (values: Partial<StateAsked>): void => {
  asked.value = { ...asked.value, ...values };
};
</script>

<template>
  <v-btn-toggle :model-value="asked.state" mandatory density="compact" divided @update:model-value="set({ state: $event })">
    <v-btn v-for="state in states" :key="state" :value="state">{{ words.people.stateChoices[state] }}</v-btn>
  </v-btn-toggle>
  <p class="soft">{{ words.people.stateWhat[asked.state] }}</p>
  <div v-if="asked.state === 'active'" class="two">
    <DayField :model-value="asked.firstDay" :label="words.people.worksFrom" @update:model-value="set({ firstDay: $event || null })" />
    <DayField :model-value="asked.lastDay" :label="words.people.worksUntil" @update:model-value="set({ lastDay: $event || null })" />
  </div>
</template>

<style scoped>
.two {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 10px;
}
</style>
