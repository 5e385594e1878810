<script setup lang="ts">
import type { InsideCourse } from '@gate-roster/contract';
import { computed } from 'vue';
import * as words from '../words.ts';

/** Days from finishing a unit to finishing the next: the middle half as a bar, the median as a line, and the numbers beside. */
const { units, days } = defineProps<{ units: InsideCourse['units']; days: InsideCourse['days'] }>();
const w = words.progress.inside;
const steps = computed(() =>
  units.slice(0, -1).flatMap((unit, index) => {
    const found = days.find(({ unitId }) => unitId === unit.id);
    return found ? [{ ...found, title: w.step(index + 1) }] : [];
  }),
);
const most = computed(() => Math.max(1, ...steps.value.map(({ high }) => high)));
const least = computed(() => Math.min(0, ...steps.value.map(({ low }) => low)));
const at = (value: number): number => ((value - least.value) / (most.value - least.value)) * 100;
</script>

<template>
  <section class="note">
    <h2>{{ w.daysTitle }}</h2>
    <p v-if="steps.length === 0" class="soft">{{ w.noDays }}</p>
    <table v-else>
      <thead class="sr-only">
        <tr>
          <th>{{ w.units }}</th>
          <th />
          <th>{{ w.medianDays }}</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="step in steps" :key="step.unitId" :title="w.quartiles(step.low, step.median, step.high, step.people)">
          <th scope="row">{{ step.title }}</th>
          <td class="range" aria-hidden="true">
            <i class="half" :style="{ left: `${at(step.low)}%`, width: `${at(step.high) - at(step.low)}%` }" />
            <i class="median" :style="{ left: `${at(step.median)}%` }" />
          </td>
          <td class="num">{{ Math.round(step.median) }}</td>
        </tr>
      </tbody>
    </table>
    <p v-if="steps.length > 0" class="soft small">{{ w.daysKey }}</p>
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
table {
  width: 100%;
  font-size: 14.5px;
}
th {
  font-weight: 400;
  text-align: left;
  white-space: nowrap;
  width: 70px;
}
td.num {
  width: 40px;
}
.range {
  position: relative;
  height: 26px;
}
.range::before {
  content: '';
  position: absolute;
  inset: 8px 0;
  background: var(--paper2);
  border-radius: 3px;
}
.half {
  position: absolute;
  top: 9px;
  height: 8px;
  min-width: 2px;
  background: var(--slate);
}
.median {
  position: absolute;
  top: 6px;
  height: 14px;
  width: 3px;
  background: var(--ink);
}
.small {
  font-size: 13px;
}
</style>
