import type { ProgressReport } from '@gate-roster/contract';
import { addDays, type Day } from '@gate-roster/core';

const weeksShown = 12;

/** The Monday of a day's week. */
export const mondayOf = (day: Day): Day => addDays(day, -((new Date(`${day}T00:00:00Z`).getUTCDay() + 6) % 7));

/** The Monday with which the weeks of a report begin. */
export const firstWeek = (today: Day): Day => addDays(mondayOf(today), -7 * (weeksShown - 1));

/** One entry for each week, also where nothing was done. */
export function weeksFrom(first: Day, found: readonly { monday: Day; done: number }[]): ProgressReport['weeks'] {
  const byMonday = new Map(found.map(({ monday, done }) => [monday, done]));
  return Array.from({ length: weeksShown }, (_, index) => addDays(first, index * 7)).map((monday) => ({
    monday,
    done: byMonday.get(monday) ?? 0,
  }));
}
