<script setup lang="ts">
import type { LicenceSheet } from '@gate-roster/contract';
import DataList from '../ui/DataList.vue';
import { showDay, showNumber } from '../ui/format.ts';
import type { ListColumn } from '../ui/list-columns.ts';
import * as words from '../words.ts';
import SeatBar from './SeatBar.vue';

/** All licences of the scope, a row each; one of them is shown below. */
defineProps<{ licences: readonly LicenceSheet[]; chosenId: number | null }>();
defineEmits<{ choose: [id: number] }>();
const w = words.seats;
const columns: readonly ListColumn[] = [
  { key: 'licence', title: w.licence },
  { key: 'bar', title: w.bar, roomFrom: 560 },
  { key: 'used', title: w.used, isNumber: true },
  { key: 'whole', title: w.whole, isNumber: true },
  { key: 'inLine', title: w.inLine, isNumber: true },
  { key: 'lasts', title: w.lasts, isNumber: true, roomFrom: 680 },
  { key: 'lastDay', title: w.lastDay, isNumber: true, roomFrom: 760 },
];
</script>

<template>
  <DataList class="list" :label="w.allLicences" :columns="columns" :rows="licences" :look-of="(one) => ({ on: one.id === chosenId })">
    <template #licence="{ row: one }">
      <button type="button" class="plain-link" :aria-current="one.id === chosenId ? 'true' : undefined" @click="$emit('choose', one.id)">
        {{ one.name }}
      </button>
      <p class="soft small">{{ one.about.name }}{{ one.idNumber ? `, ${one.idNumber}` : '' }}</p>
    </template>
    <template #bar="{ row: one }">
      <SeatBar
        :used="one.groups[0]?.used ?? 0"
        :limit="one.groups[0]?.most ?? null"
        :whole="one.seats ?? Math.max(1, one.groups[0]?.most ?? one.groups[0]?.used ?? 1)"
        :is-short="(one.groups[0]?.inLine ?? 0) > 0"
      />
    </template>
    <template #used="{ row: one }">{{ showNumber(one.groups[0]?.used ?? 0) }}</template>
    <template #whole="{ row: one }">{{ one.seats === null ? '–' : showNumber(one.seats) }}</template>
    <template #inLine="{ row: one }"
      ><span :class="{ late: (one.groups[0]?.inLine ?? 0) > 0 }">{{
        (one.groups[0]?.inLine ?? 0) > 0 ? showNumber(one.groups[0]?.inLine ?? 0) : '–'
      }}</span></template
    >
    <template #lasts="{ row: one }">{{
      one.groups[0]?.forecast ? w.forecast(one.groups[0].forecast, one.groups[0].free).day : '–'
    }}</template>
    <template #lastDay="{ row: one }">{{ one.lastDay ? showDay(one.lastDay) : '–' }}</template>
  </DataList>
</template>

<style scoped>
.list {
  flex: none;
  max-height: 210px;
}
:deep(tr.on) {
  background: var(--tide2);
}
.small {
  font-size: 13.5px;
}
</style>
