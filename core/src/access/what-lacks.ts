import type { Day } from '../time/day.ts';
import type { WhyStep } from './resolve.ts';

/** What stands between somebody and a course, and so the one act that would change it. */
export type Lack =
  | { what: 'account' }
  | { what: 'archived' }
  | { what: 'day'; day: Day }
  | { what: 'decision' }
  | { what: 'seat'; place: number | null }
  | { what: 'blocked' }
  | { what: 'opening' };

/** How a course stands for somebody. */
export interface CourseStanding {
  open: boolean;
  opensLater: Day | null;
  /** Their place in the line for a seat. */
  inLine: number | null;
  /** A seat is needed, and they wait for none. */
  noLicence: boolean;
  /** They asked for it, and nobody has decided. */
  asked: boolean;
  why: readonly (Pick<WhyStep, 'kind' | 'verdict'> & { effect: 'open' | 'block' | null })[];
}

/**
 * The first thing that somebody lacks to work on a course; null: nothing.
 * @example A course that opens on 11 January, to an account that is paused: the account comes first.
 */
export function whatLacks({ open, opensLater, inLine, noLicence, asked, why }: CourseStanding): Lack | null {
  const decided = why.find(({ verdict }) => verdict === 'decided');
  if (decided?.kind === 'archived') return { what: 'archived' };
  if (decided?.kind === 'inactive') return { what: 'account' };
  if (open) return inLine !== null || noLicence ? { what: 'seat', place: inLine } : null;
  if (opensLater !== null) return { what: 'day', day: opensLater };
  if (asked) return { what: 'decision' };
  return { what: decided?.effect === 'block' ? 'blocked' : 'opening' };
}
