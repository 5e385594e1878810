<script setup lang="ts">
import type { LicenceSheet } from '@gate-roster/contract';
import { showDay, showNumber } from '../ui/format.ts';
import * as words from '../words.ts';
import SeatBar from './SeatBar.vue';

/** All licences of the scope, a row each; one of them is shown below. */
defineProps<{ licences: readonly LicenceSheet[]; chosenId: number | null }>();
defineEmits<{ choose: [id: number] }>();
const w = words.seats;
</script>

<template>
  <div class="scroll" tabindex="0" role="region" :aria-label="w.allLicences">
    <table class="rows">
      <thead>
        <tr>
          <th>{{ w.licence }}</th>
          <th>{{ w.bar }}</th>
          <th class="num">{{ w.used }}</th>
          <th class="num">{{ w.whole }}</th>
          <th class="num">{{ w.inLine }}</th>
          <th class="num">{{ w.lasts }}</th>
          <th class="num">{{ w.lastDay }}</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="one in licences" :key="one.id" :class="{ on: one.id === chosenId }">
          <td>
            <button
              type="button"
              class="plain-link"
              :aria-current="one.id === chosenId ? 'true' : undefined"
              @click="$emit('choose', one.id)"
            >
              {{ one.name }}
            </button>
            <p class="soft small">{{ one.about.name }}{{ one.idNumber ? `, ${one.idNumber}` : '' }}</p>
          </td>
          <td>
            <SeatBar
              :used="one.groups[0]?.used ?? 0"
              :limit="one.groups[0]?.most ?? null"
              :whole="one.seats ?? Math.max(1, one.groups[0]?.most ?? one.groups[0]?.used ?? 1)"
              :is-short="(one.groups[0]?.inLine ?? 0) > 0"
            />
          </td>
          <td class="num">{{ showNumber(one.groups[0]?.used ?? 0) }}</td>
          <td class="num">{{ one.seats === null ? '–' : showNumber(one.seats) }}</td>
          <td class="num" :class="{ late: (one.groups[0]?.inLine ?? 0) > 0 }">
            {{ (one.groups[0]?.inLine ?? 0) > 0 ? showNumber(one.groups[0]?.inLine ?? 0) : '–' }}
          </td>
          <td class="num">{{ one.groups[0]?.forecast ? w.forecast(one.groups[0].forecast, one.groups[0].free).day : '–' }}</td>
          <td class="num">{{ one.lastDay ? showDay(one.lastDay) : '–' }}</td>
        </tr>
      </tbody>
    </table>
  </div>
</template>

<style scoped>
.scroll {
  flex: none;
  max-height: 210px;
}
.on {
  background: var(--tide2);
}
.small {
  font-size: 13.5px;
}
</style>
