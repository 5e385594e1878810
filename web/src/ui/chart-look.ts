import { useTheme } from 'vuetify';
import { showDay } from './format.ts';

/** A day without its year, for the axis of a chart. */
export const shortDay = (day: string): string => showDay(day).replace(/ \d{4}$/u, '');

/** The colours of charts in the theme that is on, and the axes that all of them have. */
export function useChartLook() {
  const theme = useTheme();
  const colour = (name: string): string => theme.current.value.colors[name] as string;
  return {
    colour,
    /** Quiet axis of names or days. */
    namesAxis: (labels: object = {}) => ({
      axisLine: { lineStyle: { color: colour('rule') } },
      axisTick: { show: false },
      axisLabel: { color: colour('ink2'), ...labels },
    }),
    countAxis: (splitNumber: number) => ({
      type: 'value',
      minInterval: 1,
      splitNumber,
      splitLine: { lineStyle: { color: colour('rule') } },
      axisLabel: { color: colour('ink2') },
    }),
  };
}
