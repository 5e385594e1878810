import type { Day } from '../time/day.ts';

/** Days from `from` up to, not including, `until`; null leaves that side open. */
export interface Stretch {
  from: Day | null;
  until: Day | null;
}

/**
 * The first day of the unbroken run of stretches that contains a day; null when it has none.
 * @returns Undefined when no stretch contains the day.
 * @example reachedSince([{ from: '2026-01-01', until: '2026-02-01' }, { from: '2026-02-01', until: null }], '2026-03-01') // '2026-01-01'
 */
export function reachedSince(stretches: readonly Stretch[], day: Day): Day | null | undefined {
  let since: Day | null | undefined;
  /** End of all stretches before this one in the order of their beginnings. */
  let end: Day | null | undefined;
  const list = stretches.filter(({ from, until }) => (from === null || from <= day) && (from === null || until === null || from < until));
  for (const { from, until } of list.sort((a, b) => (a.from ?? '').localeCompare(b.from ?? ''))) {
    const isBreak = end === undefined || (end !== null && from !== null && from > end);
    if (isBreak) since = from;
    if (isBreak || until === null || (end !== null && end !== undefined && until > end)) end = until;
  }
  return end === null || (end !== undefined && end > day) ? since : undefined;
}
