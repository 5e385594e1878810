/** Medians of repeated runs, after others (`before`) that warm caches. */
export async function median(runs: number, act: () => Promise<unknown>, before = 1): Promise<number> {
  for (let run = 0; run < before; run++) await act();
  const times: number[] = [];
  for (let run = 0; run < runs; run++) {
    const from = performance.now();
    await act();
    times.push(performance.now() - from);
  }
  times.sort((a, b) => a - b);
  return times[Math.floor(times.length / 2)] ?? 0;
}

export interface Line {
  what: string;
  kind: 'read' | 'write';
  /** Milliseconds: through the application, HTTP and JSON included; and PostgreSQL alone. */
  application: number;
  bare: number;
  bareWhat: string;
}

const round = (value: number): string => (value < 10 ? value.toFixed(1) : String(Math.round(value)));

/** The lines as a table, with the aim beside what was measured. */
export const table = (lines: readonly Line[]): string => tableOf(lines, { ratio: 3, milliseconds: 200 });

/** The same with another aim. */
export function tableOf(lines: readonly Line[], aim: { ratio: number; milliseconds: number }): string {
  const rows = lines.map(({ what, kind, application, bare, bareWhat }) => {
    const ratio = application / bare;
    const isMet = kind === 'write' || (ratio <= aim.ratio && application <= aim.milliseconds);
    return `| ${what} | ${round(application)} | ${round(bare)} | ${ratio.toFixed(1)} | ${kind === 'write' ? '' : isMet ? 'met' : 'not met'} | ${bareWhat} |`;
  });
  return [
    `| What | Application, ms | Bare PostgreSQL, ms | Ratio | Aim: within ${aim.ratio}x, under ${aim.milliseconds} ms | The bare statement |`,
    '|---|---|---|---|---|---|',
    ...rows,
  ].join('\n');
}

/** The time that a share of them (0 to 1) stayed within; 0 when there are none. */
export function percentile(times: readonly number[], share: number): number {
  const sorted = [...times].sort((a, b) => a - b);
  return sorted[Math.min(sorted.length - 1, Math.floor(sorted.length * share))] ?? 0;
}
