<script setup lang="ts">
import { type Power, powers, type Preset, presetOf, presets } from '@gate-roster/core';
import { ref, watch } from 'vue';
import * as words from '../words.ts';

/** Which powers somebody is to have: a usual set of them, or one's own. */
const model = defineModel<readonly Power[]>({ required: true });
const choice = ref<Preset | 'mix'>(presetOf(model.value) ?? 'mix');
watch(model, (held) => {
  if (choice.value !== 'mix' || presetOf(held) === null) choice.value = presetOf(held) ?? 'mix';
});
function choose(wanted: Preset | 'mix'): void {
  choice.value = wanted;
  if (wanted !== 'mix') model.value = [...presets[wanted]];
}
const choices = (['head', 'helper', 'auditor', 'mix'] as const).map((value) => ({
  value,
  title: words.leaders.presets[value],
  props: { subtitle: words.leaders.presetHints[value] },
}));
</script>

<template>
  <v-select :model-value="choice" :label="words.leaders.asWhat" :items="choices" @update:model-value="choose" />
  <fieldset v-if="choice === 'mix'" class="mix">
    <v-checkbox
      v-for="power in powers"
      :key="power"
      :model-value="[...model]"
      :value="power"
      :label="words.leaders.powers[power]"
      @update:model-value="model = $event as unknown as Power[]"
    />
  </fieldset>
</template>

<style scoped>
.mix {
  border: 1px solid var(--rule);
  border-radius: 8px;
  padding: 6px 10px;
  columns: 2;
}
</style>
