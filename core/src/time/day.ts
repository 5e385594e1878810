import { TZDate } from '@date-fns/tz';

/** A calendar day in the platform's time zone, `YYYY-MM-DD`. Days compare as strings. */
export type Day = string;

/** From and until, both inclusive; null leaves that side open. */
export interface Span {
  firstDay: Day | null;
  lastDay: Day | null;
}

export const millisecondsInDay = 86_400_000;

/** @example addDays('2026-02-28', 1) // '2026-03-01' */
export function addDays(day: Day, days: number): Day {
  return new Date(Date.parse(`${day}T00:00:00Z`) + days * millisecondsInDay).toISOString().slice(0, 10);
}

/**
 * The day so many years or days on. In a year without it, 29 February is the 28th.
 * @example shiftDay('2024-02-29', { years: 1 }) // '2025-02-28'
 */
export function shiftDay(day: Day, by: { years: number } | { days: number }): Day {
  if ('days' in by) return addDays(day, by.days);
  const [year = 0, month = 1, dayOfMonth = 1] = day.split('-').map(Number);
  const lastOfMonth = new Date(Date.UTC(year + by.years, month, 0)).getUTCDate();
  return new Date(Date.UTC(year + by.years, month - 1, Math.min(dayOfMonth, lastOfMonth))).toISOString().slice(0, 10);
}

/** Whole days from `from` to `to`; negative when `to` lies before. */
export function daysBetween(from: Day, to: Day): number {
  return Math.round((Date.parse(`${to}T00:00:00Z`) - Date.parse(`${from}T00:00:00Z`)) / millisecondsInDay);
}

/** @example contains({ firstDay: '2026-11-03', lastDay: '2026-11-03' }, '2026-11-03') // true */
export function contains(span: Span, day: Day): boolean {
  return (span.firstDay === null || span.firstDay <= day) && (span.lastDay === null || day <= span.lastDay);
}

/**
 * The day with these numbers, or null where the calendar has no such day.
 * @example dayFromParts(2026, 2, 31) // null
 */
export function dayFromParts(year: number, month: number, dayOfMonth: number): Day | null {
  if (year < 1900 || year > 2200) return null;
  const date = new Date(Date.UTC(year, month - 1, dayOfMonth));
  const real = date.getUTCFullYear() === year && date.getUTCMonth() === month - 1 && date.getUTCDate() === dayOfMonth;
  return real ? date.toISOString().slice(0, 10) : null;
}

/** Making one takes a thousand times longer than using it. */
const formats = new Map<string, Intl.DateTimeFormat>();

/** The calendar day on which a moment falls in a time zone (IANA name). */
export function dayOfMoment(moment: Date, timeZone: string): Day {
  const known = formats.get(timeZone);
  const format = known ?? new Intl.DateTimeFormat('en-CA', { timeZone, year: 'numeric', month: '2-digit', day: '2-digit' });
  if (!known) formats.set(timeZone, format);
  return format.format(moment);
}

/**
 * The moment of a day and time, `YYYY-MM-DDTHH:MM`, in a time zone (IANA name). What the clock jumps over is as much later.
 * @example momentAt('2026-07-01T09:30', 'Europe/London') // 2026-07-01T08:30Z
 */
export function momentAt(dayAndTime: string, timeZone: string): Date {
  const [year = 0, month = 1, dayOfMonth = 1, hours = 0, minutes = 0] = dayAndTime.split(/[-T:]/u).map(Number);
  return new Date(new TZDate(year, month - 1, dayOfMonth, hours, minutes, timeZone).getTime());
}

/** The moment with which a day begins in a time zone, also where the clock jumps over midnight. */
export const startOfDay = (day: Day, timeZone: string): Date => momentAt(`${day}T00:00`, timeZone);

export const earlier = (a: Day, b: Day): Day => (a < b ? a : b);
export const later = (a: Day, b: Day): Day => (a > b ? a : b);
