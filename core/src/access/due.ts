import { addDays, type Day, earlier, later } from '../time/day.ts';
import type { DueRule } from './grant.ts';

/** One open path as far as its due day goes. */
export interface DuePath {
  rule: DueRule | null;
  /** The day from which one could really begin by this path. */
  couldBegin: Day;
  /** More time was given: not due before this day. A path that is never due stays so. */
  notBefore?: Day | null;
  /** In a later round: the day on which it opened. A fixed day before it says nothing of this round. */
  roundOpened?: Day | null;
}

/**
 * The day on which work is due; null when it never is.
 * The earliest firm day if any is firm, else the latest, where a path without a rule counts as latest.
 * @example dueDay([{ rule: { at: { days: 14 }, leastDays: null, firm: false }, couldBegin: '2026-11-01' }]) // '2026-11-15'
 */
export function dueDay(paths: readonly DuePath[]): Day | null {
  const days = paths.map((path) => ({ day: dayOfPath(path), firm: path.rule?.firm ?? false }));
  const firm = days.flatMap(({ day, firm: isFirm }) => (isFirm && day !== null ? [day] : []));
  if (firm.length > 0) return firm.reduce(earlier);
  const soft = days.flatMap(({ day }) => (day === null ? [] : [day]));
  return soft.length === 0 || soft.length < days.length ? null : soft.reduce(later);
}

function dayOfPath({ rule, couldBegin: since, notBefore = null, roundOpened = null }: DuePath): Day | null {
  if (rule === null) return null;
  const couldBegin = roundOpened === null ? since : later(since, roundOpened);
  if ('day' in rule.at && roundOpened !== null && rule.at.day < roundOpened)
    return rule.leastDays === null ? null : later(addDays(couldBegin, rule.leastDays), notBefore ?? couldBegin);
  const named = 'day' in rule.at ? rule.at.day : addDays(couldBegin, rule.at.days);
  const least = rule.leastDays === null ? named : later(named, addDays(couldBegin, rule.leastDays));
  return notBefore === null ? least : later(least, notBefore);
}
