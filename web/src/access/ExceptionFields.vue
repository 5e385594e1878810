<script setup lang="ts">
import type { Exception } from '@gate-roster/contract';
import { computed, ref, watch } from 'vue';
import * as words from '../words.ts';
import DayField from '../ui/DayField.vue';

/** What shall hold for chosen people in a course. */
const exception = defineModel<Exception | null>({ required: true });
const w = words.exceptions;
const kinds = (Object.keys(w.kinds) as Exception['what'][]).map((value) => ({ value, title: w.kinds[value] }));
const what = ref<Exception['what']>('more time');
const typed = ref({ firstDay: '', lastDay: '', day: '', dueDays: '', reason: '', proof: '' });
const hasDays = computed(() => what.value === 'open' || what.value === 'block');
const wished = computed<Exception | null>(() => {
  const { day, proof } = typed.value;
  const days = { firstDay: typed.value.firstDay || null, lastDay: typed.value.lastDay || null };
  const reason = typed.value.reason.trim() || null;
  const dueDays = typed.value.dueDays === '' ? null : Number(typed.value.dueDays);
  switch (what.value) {
    case 'open':
      return {
        what: 'open',
        ...days,
        units: null,
        due: dueDays === null ? null : { at: { days: dueDays }, leastDays: null, firm: false },
      };
    case 'block':
      return { what: 'block', ...days };
    case 'more time':
      return day === '' ? null : { what: 'more time', day };
    case 'exempt':
      return { what: 'exempt', reason };
    case 'done elsewhere':
      return day === '' ? null : { what: 'done elsewhere', day, reason, proof: proof.trim() || null };
    default:
      return { what: 'none' };
  }
});
watch(
  wished,
  (now) => {
    exception.value = now;
  },
  { immediate: true },
);
</script>

<template>
  <div class="fields">
    <v-select v-model="what" :items="kinds" :label="w.what" :hint="w.hints[what]" />
    <div v-if="hasDays" class="pair">
      <DayField v-model="typed.firstDay" :label="w.firstDay" />
      <DayField v-model="typed.lastDay" :label="w.lastDay" />
    </div>
    <v-text-field
      v-if="what === 'open'"
      v-model="typed.dueDays"
      type="number"
      min="0"
      max="3650"
      :label="w.dueDays"
      :hint="words.access.dueDaysHint"
    />
    <DayField
      v-if="what === 'more time' || what === 'done elsewhere'"
      v-model="typed.day"
      :label="what === 'more time' ? w.notBefore : w.doneOn"
    />
    <v-text-field v-if="what === 'exempt' || what === 'done elsewhere'" v-model="typed.reason" :label="w.reason" maxlength="500" />
    <v-text-field v-if="what === 'done elsewhere'" v-model="typed.proof" type="url" :label="w.proof" maxlength="500" />
  </div>
</template>

<style scoped>
.fields {
  display: grid;
  gap: 12px;
}
</style>
