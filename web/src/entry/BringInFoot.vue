<script setup lang="ts">
import { computed, ref } from 'vue';
import { rosterFields, type RosterField } from '@gate-roster/core';
import { failureWords } from '../ui/failure-words.ts';
import { asTyped, momentTyped } from '../ui/format.ts';
import { tell } from '../ui/notice.ts';
import * as words from '../words.ts';
import type { RosterFile } from './use-roster-file.ts';

/** What else may happen with a file: letters, another mode, find and replace, keeping how it reads. */
const { file } = defineProps<{ file: RosterFile }>();
const options = defineModel<{ mode: 'add' | 'replace'; mostLeaving: number; write: { at: string | null } | null }>({ required: true });
const w = words.entry;
const withAddress = computed(() => file.summary.value?.withAddress ?? 0);
const at = computed({
  get: () => (options.value.write?.at ? asTyped(options.value.write.at) : ''),
  set: (text: string) => {
    options.value = { ...options.value, write: { at: text ? momentTyped(text) : null } };
  },
});
const name = ref('');
async function remember(): Promise<void> {
  try {
    await file.keepMapping(name.value.trim());
    tell(w.remembered);
  } catch (error) {
    tell(failureWords(error));
  }
}
const column = ref<RosterField | null>(null);
const find = ref('');
const replacement = ref('');
const columns = computed(() => {
  const has = new Set(file.mapping.value?.columns.map(({ field }) => field));
  return rosterFields.filter((field) => has.has(field)).map((value) => ({ value, title: w.fields[value] }));
});
async function replace(): Promise<void> {
  if (column.value) tell(w.replaced(await file.findAndReplace(column.value, find.value, replacement.value)));
}
const hasGroups = computed(() => columns.value.some(({ value }) => value === 'group'));
</script>

<template>
  <div class="foot">
    <v-checkbox
      density="compact"
      hide-details
      :disabled="withAddress === 0"
      :model-value="options.write !== null"
      :label="w.writeTo(withAddress)"
      @update:model-value="options = { ...options, write: $event ? { at: null } : null }"
    />
    <v-text-field v-if="options.write" v-model="at" class="at" density="compact" type="datetime-local" hide-details :label="w.writeAt" />
    <v-menu :close-on-content-click="false">
      <template #activator="{ props: activator }"
        ><button v-bind="activator" type="button" class="plain-link">{{ w.findReplace }}</button></template
      >
      <v-card class="box">
        <v-select v-model="column" :items="columns" :label="w.inColumn" />
        <v-text-field v-model="find" :label="w.find" />
        <v-text-field v-model="replacement" :label="w.replaceWith" />
        <v-btn :disabled="!column || find === ''" @click="replace">{{ w.findReplace }}</v-btn>
      </v-card>
    </v-menu>
    <v-menu :close-on-content-click="false">
      <template #activator="{ props: activator }"
        ><button v-bind="activator" type="button" class="plain-link">{{ w.remember }}</button></template
      >
      <v-card class="box">
        <v-text-field v-model="name" :label="w.remember" @keydown.enter="remember" />
        <v-btn :disabled="name.trim() === ''" @click="remember">{{ w.rememberAct }}</v-btn>
      </v-card>
    </v-menu>
    <v-checkbox
      density="compact"
      hide-details
      class="replace"
      :model-value="options.mode === 'replace'"
      :label="w.replaceList"
      @update:model-value="options = { ...options, mode: $event ? 'replace' : 'add' }"
    />
    <template v-if="options.mode === 'replace'">
      <v-text-field
        density="compact"
        class="percent"
        type="number"
        min="0"
        max="100"
        hide-details
        :label="w.mostLeaving"
        :model-value="options.mostLeaving"
        @update:model-value="options = { ...options, mostLeaving: Math.min(100, Math.max(0, Math.round(Number($event) || 0))) }"
      />
      <p class="late">{{ w.replaceHint(hasGroups) }}</p>
    </template>
  </div>
</template>

<style scoped>
.foot {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 18px;
  align-items: center;
  flex: none;
}
.at {
  max-width: 230px;
}
.percent {
  max-width: 250px;
}
.box {
  padding: 14px;
  display: grid;
  gap: 12px;
  min-width: 280px;
}
</style>
