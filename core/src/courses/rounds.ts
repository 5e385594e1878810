import { addDays, type Day, later } from '../time/day.ts';

/** How long a course is valid, and how many days before that it opens again (null: on the day itself). */
export interface Validity {
  validMonths: number;
  reopensDays: number | null;
}

/**
 * The same day of a later month, or the last day of a month that is too short for it.
 * @example addMonths('2026-08-31', 6) // '2027-02-28'
 */
export function addMonths(day: Day, months: number): Day {
  const [year = 0, month = 1, dayOfMonth = 1] = day.split('-').map(Number);
  const lastOfMonth = new Date(Date.UTC(year, month + months, 0));
  lastOfMonth.setUTCDate(Math.min(dayOfMonth, lastOfMonth.getUTCDate()));
  return lastOfMonth.toISOString().slice(0, 10);
}

/** The first day on which a course that was done is no longer valid. */
export const validUntil = (doneDay: Day, { validMonths }: Validity): Day => addMonths(doneDay, validMonths);

/** The day on which its next round opens; never before the day after it was done. */
export const reopensOn = (doneDay: Day, validity: Validity): Day =>
  later(addDays(validUntil(doneDay, validity), -(validity.reopensDays ?? 0)), addDays(doneDay, 1));
