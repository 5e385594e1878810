<script setup lang="ts">
import { BarChart } from 'echarts/charts';
import { AriaComponent, GridComponent, TooltipComponent } from 'echarts/components';
import { use } from 'echarts/core';
import { SVGRenderer } from 'echarts/renderers';
import { computed } from 'vue';
import VChart from 'vue-echarts';
import { useChartLook } from '../ui/chart-look.ts';
import ChartTable from '../ui/ChartTable.vue';
import { showNumber } from '../ui/format.ts';
import * as words from '../words.ts';

/** How many enrolments have a score of each ten. */
use([BarChart, GridComponent, TooltipComponent, AriaComponent, SVGRenderer]);
const { tens } = defineProps<{ tens: readonly number[] }>();
const w = words.progress;
const { colour, namesAxis, countAxis } = useChartLook();
const said = (index: number): string => w.tenTip(w.ten(index), tens[index] ?? 0);
const option = computed(() => ({
  animation: false,
  aria: { enabled: true, label: { description: w.tensSpoken(tens.map((_, index) => said(index)).join('; ')) } },
  grid: { left: 40, right: 8, top: 8, bottom: 22 },
  tooltip: {
    trigger: 'axis',
    renderMode: 'richText',
    formatter: ([point]: { dataIndex: number }[]) => said(point?.dataIndex ?? 0),
  },
  xAxis: { type: 'category', data: tens.map((_, index) => String(index * 10)), ...namesAxis({ interval: 0, fontSize: 11 }) },
  yAxis: countAxis(2),
  series: [{ type: 'bar', data: [...tens], barCategoryGap: '15%', itemStyle: { color: colour('tide') } }],
}));
</script>

<template>
  <VChart class="chart" :option="option" autoresize />
  <ChartTable :head="[w.score, w.enrolmentsHead]" :lines="tens.map((count, index) => [w.ten(index), showNumber(count)])" />
</template>

<style scoped>
.chart {
  height: 96px;
}
</style>
