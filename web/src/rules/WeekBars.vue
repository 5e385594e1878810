<script setup lang="ts">
import { BarChart } from 'echarts/charts';
import { AriaComponent, GridComponent, TooltipComponent } from 'echarts/components';
import { use } from 'echarts/core';
import { SVGRenderer } from 'echarts/renderers';
import { computed } from 'vue';
import VChart from 'vue-echarts';
import { useTheme } from 'vuetify';
import { showDay, showNumber } from '../ui/format.ts';
import { words } from '../words.ts';

/** How often something happened in each week, with the table behind it. */
use([BarChart, GridComponent, TooltipComponent, AriaComponent, SVGRenderer]);
const { weeks } = defineProps<{ weeks: readonly { from: string; times: number }[] }>();
const w = words.rules;
const theme = useTheme();
const colour = (name: string): string => theme.current.value.colors[name] as string;
const shortDay = (day: string): string => showDay(day).replace(/ \d{4}$/u, '');
const option = computed(() => ({
  animation: false,
  aria: { enabled: true, label: { description: w.weeksSpoken(weeks.map(({ from, times }) => `${shortDay(from)}: ${times}`).join(', ')) } },
  grid: { left: 30, right: 8, top: 8, bottom: 22 },
  tooltip: { trigger: 'axis', renderMode: 'richText' },
  xAxis: {
    type: 'category',
    data: weeks.map(({ from }) => shortDay(from)),
    axisLine: { lineStyle: { color: colour('rule') } },
    axisTick: { show: false },
    axisLabel: { color: colour('ink2'), interval: 5 },
  },
  yAxis: {
    type: 'value',
    minInterval: 1,
    splitNumber: 2,
    splitLine: { lineStyle: { color: colour('rule') } },
    axisLabel: { color: colour('ink2') },
  },
  series: [{ type: 'bar', name: w.times, data: weeks.map(({ times }) => times), itemStyle: { color: colour('slate') } }],
}));
</script>

<template>
  <VChart class="chart" :option="option" autoresize />
  <details>
    <summary class="plain-link">{{ w.asTable }}</summary>
    <table>
      <thead>
        <tr>
          <th scope="col">{{ w.week }}</th>
          <th scope="col" class="num">{{ w.times }}</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="week in weeks" :key="week.from">
          <td>{{ showDay(week.from) }}</td>
          <td class="num">{{ showNumber(week.times) }}</td>
        </tr>
      </tbody>
    </table>
  </details>
</template>

<style scoped>
.chart {
  height: 100px;
}
table {
  width: 100%;
  font-size: 14px;
}
th {
  text-align: left;
}
th.num {
  text-align: right;
}
</style>
