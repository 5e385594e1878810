<script setup lang="ts">
import type { Answer, LicenceSheet, Routes } from '@gate-roster/contract';
import { LineChart } from 'echarts/charts';
import { AriaComponent, GridComponent, MarkLineComponent, TooltipComponent } from 'echarts/components';
import { use } from 'echarts/core';
import { SVGRenderer } from 'echarts/renderers';
import { computed } from 'vue';
import VChart from 'vue-echarts';
import { shortDay, useChartLook } from '../ui/chart-look.ts';
import { showDay, showNumber } from '../ui/format.ts';
import * as words from '../words.ts';

/** Seats in use week by week against how many there were, and on which day the last one goes, with the table behind it. */
use([LineChart, GridComponent, TooltipComponent, AriaComponent, MarkLineComponent, SVGRenderer]);
const { points, forecast, free } = defineProps<{
  points: Answer<Routes['seatStory']>['points'];
  forecast: LicenceSheet['groups'][number]['forecast'];
  free: number | null;
}>();
const w = words.seats;
const { colour, namesAxis, countAxis } = useChartLook();
const last = computed(() => points.at(-1));
/** From today to the day on which nothing is free, where that can be said. */
const ahead = computed(() =>
  last.value && forecast?.kind === 'runs out' && free !== null && free > 0
    ? [
        [last.value.day, last.value.used],
        [forecast.day, last.value.used + free],
      ]
    : [],
);
const band = computed(() =>
  ahead.value.length > 0 && last.value && forecast?.kind === 'runs out' && free !== null
    ? [forecast.early, forecast.late ?? forecast.day].map((day) => [
        [last.value?.day ?? '', last.value?.used ?? 0],
        [day, (last.value?.used ?? 0) + free],
      ])
    : [],
);
const line = (data: unknown[], of: object): object => ({ type: 'line', data, symbol: 'none', ...of });
const option = computed(() => ({
  animation: false,
  aria: {
    enabled: true,
    label: { description: w.spoken(points.map(({ day, used }) => `${shortDay(day)}: ${used}`).join(', ')) },
  },
  grid: { left: 34, right: 14, top: 14, bottom: 24 },
  tooltip: { trigger: 'axis', renderMode: 'richText', valueFormatter: (value: unknown) => showNumber(Number(value)) },
  xAxis: { type: 'time', ...namesAxis({ hideOverlap: true, formatter: '{d} {MMM}' }) },
  yAxis: countAxis(3),
  series: [
    line(
      points.flatMap(({ day, seats }) => (seats === null ? [] : [[day, seats]])),
      { name: w.seatsNow, step: 'end', lineStyle: { color: colour('flare'), width: 2 }, itemStyle: { color: colour('flare') } },
    ),
    line(
      points.map(({ day, used }) => [day, used]),
      {
        name: w.used,
        lineStyle: { color: colour('brass'), width: 3 },
        itemStyle: { color: colour('brass') },
        markLine: {
          silent: true,
          symbol: 'none',
          label: { show: false },
          lineStyle: { color: colour('ink2'), type: 'dotted' },
          data: last.value ? [{ xAxis: last.value.day }] : [],
        },
      },
    ),
    line(ahead.value, { lineStyle: { color: colour('brass'), width: 2.5, type: 'dashed' }, tooltip: { show: false }, silent: true }),
    ...band.value.map((data) =>
      line(data, { lineStyle: { color: colour('brass'), width: 1, opacity: 0.5 }, tooltip: { show: false }, silent: true }),
    ),
  ],
}));
</script>

<template>
  <VChart class="chart" :option="option" autoresize />
  <p class="soft">{{ w.heading(forecast, free) }}</p>
  <details>
    <summary class="plain-link">{{ w.overTimeTable }}</summary>
    <table class="rows">
      <thead>
        <tr>
          <th scope="col">{{ w.day }}</th>
          <th scope="col" class="num">{{ w.used }}</th>
          <th scope="col" class="num">{{ w.seatsNow }}</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="point in points" :key="point.day">
          <td>{{ showDay(point.day) }}</td>
          <td class="num">{{ showNumber(point.used) }}</td>
          <td class="num">{{ point.seats === null ? '–' : showNumber(point.seats) }}</td>
        </tr>
      </tbody>
    </table>
  </details>
</template>

<style scoped>
.chart {
  height: 170px;
}
</style>
