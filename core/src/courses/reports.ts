import type { ActivityResult } from './status.ts';

/** One report of a player's about an activity. `at`: ISO 8601, when it was done. */
export interface ReportedTry {
  finished: boolean;
  /** 0 to 100. */
  score: number | null;
  at: string;
}

/** What the tries at one activity come to. */
export interface TriesResult extends Omit<ActivityResult, 'activityId'> {
  tries: number;
  lastAt: string;
}

/**
 * The best of all tries, in whatever order they were reported; one that was voided is not among them.
 * @param before What was known before reports were kept; null: nothing.
 * @returns null when no try is left.
 * @example A finished try without a score and an unfinished one with 80 give: finished, 80, two tries.
 */
export function resultOfTries(before: TriesResult | null, tries: readonly ReportedTry[]): TriesResult | null {
  if (before === null && tries.length === 0) return null;
  const scores = [before?.score ?? null, ...tries.map(({ score }) => score)].filter((score) => score !== null);
  return {
    finished: (before?.finished ?? false) || tries.some(({ finished }) => finished),
    score: scores.length === 0 ? null : Math.max(...scores),
    tries: (before?.tries ?? 0) + tries.length,
    lastAt: [...(before ? [before.lastAt] : []), ...tries.map(({ at }) => at)].sort().at(-1) ?? '',
  };
}
