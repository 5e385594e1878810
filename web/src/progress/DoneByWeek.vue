<script setup lang="ts">
import type { ProgressReport } from '@gate-roster/contract';
import { LineChart } from 'echarts/charts';
import { AriaComponent, GridComponent, TooltipComponent } from 'echarts/components';
import { use } from 'echarts/core';
import { SVGRenderer } from 'echarts/renderers';
import { computed } from 'vue';
import VChart from 'vue-echarts';
import { useTheme } from 'vuetify';
import { showDay } from '../ui/format.ts';
import { words } from '../words.ts';

use([LineChart, GridComponent, TooltipComponent, AriaComponent, SVGRenderer]);
const { weeks } = defineProps<{ weeks: ProgressReport['weeks'] }>();
const theme = useTheme();
const colour = (name: string): string => theme.current.value.colors[name] as string;
const shortDay = (day: string): string => showDay(day).replace(/ \d{4}$/u, '');
const option = computed(() => ({
  animation: false,
  aria: {
    enabled: true,
    label: { description: words.progress.weeksSpoken(weeks.map(({ monday, done }) => `${shortDay(monday)}: ${done}`).join(', ')) },
  },
  grid: { left: 30, right: 8, top: 8, bottom: 22 },
  tooltip: {
    trigger: 'axis',
    renderMode: 'richText',
    formatter: ([point]: { dataIndex: number }[]) => {
      const week = weeks[point?.dataIndex ?? 0];
      return week ? words.progress.weekTip(shortDay(week.monday), week.done) : '';
    },
  },
  xAxis: {
    type: 'category',
    boundaryGap: false,
    data: weeks.map(({ monday }) => shortDay(monday)),
    axisLine: { lineStyle: { color: colour('rule') } },
    axisTick: { show: false },
    axisLabel: { color: colour('ink2'), interval: 5, alignMinLabel: 'left', alignMaxLabel: 'right' },
  },
  yAxis: {
    type: 'value',
    minInterval: 1,
    splitNumber: 2,
    splitLine: { lineStyle: { color: colour('rule') } },
    axisLabel: { color: colour('ink2') },
  },
  series: [
    {
      type: 'line',
      data: weeks.map(({ done }) => done),
      symbol: 'circle',
      symbolSize: 5,
      lineStyle: { color: colour('kelp'), width: 2.5 },
      itemStyle: { color: colour('kelp') },
      areaStyle: { color: colour('kelp2'), opacity: 0.8 },
    },
  ],
}));
</script>

<template>
  <VChart class="chart" :option="option" autoresize />
</template>

<style scoped>
.chart {
  height: 96px;
}
</style>
