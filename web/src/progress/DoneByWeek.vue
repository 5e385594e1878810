<script setup lang="ts">
import type { BranchAbove, ProgressReport } from '@gate-roster/contract';
import { heldAgainst } from '@gate-roster/core';
import { LineChart } from 'echarts/charts';
import { AriaComponent, GridComponent, TooltipComponent } from 'echarts/components';
import { use } from 'echarts/core';
import { SVGRenderer } from 'echarts/renderers';
import { computed } from 'vue';
import VChart from 'vue-echarts';
import { shortDay, useChartLook } from '../ui/chart-look.ts';
import ChartTable from '../ui/ChartTable.vue';
import { showDay, showNumber } from '../ui/format.ts';
import * as words from '../words.ts';

/** How many were done week by week, held against the branch above. */
use([LineChart, GridComponent, TooltipComponent, AriaComponent, SVGRenderer]);
const { weeks, enrolments, above } = defineProps<{
  weeks: ProgressReport['weeks'];
  /** Those that are not exempt. */
  enrolments: number;
  above: BranchAbove;
}>();
const w = words.progress;
const { colour, namesAxis, countAxis } = useChartLook();
const dashed = computed(() => heldAgainst(enrolments, above));
const said = (index: number): string => {
  const week = weeks[index];
  if (!week) return '';
  const tip = w.weekTip(shortDay(week.monday), week.done);
  const there = dashed.value?.[index];
  return above && there !== undefined ? `${tip}, ${w.weekAbove(above.name, there)}` : tip;
};
const option = computed(() => ({
  animation: false,
  aria: { enabled: true, label: { description: w.weeksSpoken(weeks.map((_, index) => said(index)).join('; ')) } },
  grid: { left: 34, right: 8, top: 8, bottom: 22 },
  tooltip: {
    trigger: 'axis',
    renderMode: 'richText',
    formatter: ([point]: { dataIndex: number }[]) => said(point?.dataIndex ?? 0),
  },
  xAxis: {
    type: 'category',
    boundaryGap: false,
    data: weeks.map(({ monday }) => shortDay(monday)),
    ...namesAxis({ interval: 5, alignMinLabel: 'left', alignMaxLabel: 'right' }),
  },
  yAxis: countAxis(2),
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
    ...(dashed.value
      ? [
          {
            type: 'line',
            data: dashed.value,
            symbol: 'none',
            lineStyle: { color: colour('ink2'), width: 1.5, type: 'dashed' },
            itemStyle: { color: colour('ink2') },
          },
        ]
      : []),
  ],
}));
const lines = computed(() =>
  weeks.map(({ monday, done }, index) => [
    showDay(monday),
    showNumber(done),
    ...(dashed.value ? [showNumber(Math.round(dashed.value[index] ?? 0))] : []),
  ]),
);
</script>

<template>
  <VChart class="chart" :option="option" autoresize />
  <p v-if="above && dashed" class="soft dashed">{{ w.dashed(above.name) }}</p>
  <ChartTable :head="[words.rules.week, words.figures.done, ...(above && dashed ? [above.name] : [])]" :lines="lines" />
</template>

<style scoped>
.chart {
  height: 96px;
}
.dashed {
  font-size: 13px;
}
</style>
