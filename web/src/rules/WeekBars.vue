<script setup lang="ts">
import { BarChart } from 'echarts/charts';
import { AriaComponent, GridComponent, TooltipComponent } from 'echarts/components';
import { use } from 'echarts/core';
import { SVGRenderer } from 'echarts/renderers';
import { computed } from 'vue';
import VChart from 'vue-echarts';
import { shortDay, useChartLook } from '../ui/chart-look.ts';
import ChartTable from '../ui/ChartTable.vue';
import { showDay, showNumber } from '../ui/format.ts';
import * as words from '../words.ts';

/** How often something happened in each week, with the table behind it. */
use([BarChart, GridComponent, TooltipComponent, AriaComponent, SVGRenderer]);
const { weeks } = defineProps<{ weeks: readonly { from: string; times: number }[] }>();
const w = words.rules;
const { colour, namesAxis, countAxis } = useChartLook();
const option = computed(() => ({
  animation: false,
  aria: { enabled: true, label: { description: w.weeksSpoken(weeks.map(({ from, times }) => `${shortDay(from)}: ${times}`).join(', ')) } },
  grid: { left: 30, right: 8, top: 8, bottom: 22 },
  tooltip: { trigger: 'axis', renderMode: 'richText' },
  xAxis: { type: 'category', data: weeks.map(({ from }) => shortDay(from)), ...namesAxis({ interval: 5 }) },
  yAxis: countAxis(2),
  series: [{ type: 'bar', name: w.times, data: weeks.map(({ times }) => times), itemStyle: { color: colour('slate') } }],
}));
</script>

<template>
  <VChart class="chart" :option="option" autoresize />
  <ChartTable :head="[w.week, w.times]" :lines="weeks.map(({ from, times }) => [showDay(from), showNumber(times)])" />
</template>

<style scoped>
.chart {
  height: 100px;
}
</style>
