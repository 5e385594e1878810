import { addDays, dayOfMoment, daysBetween, momentAt, startOfDay } from '@gate-roster/core';
import { formatDistanceToNowStrict, isValid, lightFormat, parse, parseISO } from 'date-fns';

const dayFormat = new Intl.DateTimeFormat('en-GB', { day: 'numeric', month: 'short', year: 'numeric', timeZone: 'UTC' });
const clock = { hour: '2-digit', minute: '2-digit' } as const;
const momentsIn = (timeZone?: string) => ({
  timeZone: timeZone ?? Intl.DateTimeFormat().resolvedOptions().timeZone,
  moment: new Intl.DateTimeFormat('en-GB', { day: 'numeric', month: 'short', year: 'numeric', ...clock, timeZone }),
  time: new Intl.DateTimeFormat('en-GB', { ...clock, timeZone }),
});
/** The browser's own until somebody is signed in. */
let moments = momentsIn();

/** From now on, moments are told in the platform's time zone (IANA name), as its days are, wherever the reader is. */
export function tellMomentsIn(timeZone: string): void {
  if (timeZone !== moments.timeZone) moments = momentsIn(timeZone);
}

const numberFormat = new Intl.NumberFormat('en-GB');

/** @example showDay('2026-11-03') // '3 Nov 2026' */
export const showDay = (day: string): string => dayFormat.format(new Date(`${day}T00:00:00Z`));
/** The platform's day on which a moment falls. */
export const dayOf = (moment: string): string => dayOfMoment(new Date(moment), moments.timeZone);
/** @example showDayOf('2026-11-03T09:02:00Z') // '3 Nov 2026' */
export const showDayOf = (moment: string): string => showDay(dayOf(moment));
/**
 * What is typed into a field for a day and time, as a moment in ISO form.
 * @example momentTyped('2026-07-01T09:30') // '2026-07-01T08:30:00.000Z' in London
 */
export const momentTyped = (text: string): string => momentAt(text, moments.timeZone).toISOString();
/** A moment as such a field has it. */
export const asTyped = (moment: string): string => `${dayOf(moment)}T${showTime(moment)}`;
/** The first moment of a day, and its last second, in ISO form. */
export const dayBegins = (day: string): string => startOfDay(day, moments.timeZone).toISOString();
export const dayEnds = (day: string): string => new Date(startOfDay(addDays(day, 1), moments.timeZone).getTime() - 1000).toISOString();
/** Today at the platform. */
export const today = (): string => dayOf(new Date().toISOString());
/** The day that a date shows in the browser’s own time zone, which is how a picker tells of days. */
export const dayOfDate = (date: Date): string => lightFormat(date, 'yyyy-MM-dd');

/**
 * A day as it is written in files, shown here or typed; null: it is none.
 * @example dayOfText('2026-11-03') === dayOfText('3 Nov 2026') // true
 */
export function dayOfText(text: string): string | null {
  const dates = ['yyyy-MM-dd', 'd MMM yyyy', 'd MMMM yyyy', 'd/M/yyyy', 'd.M.yyyy'].map((format) => parse(text.trim(), format, new Date()));
  const date = dates.find(isValid);
  return date ? dayOfDate(date) : null;
}
const monthFormat = new Intl.DateTimeFormat('en-GB', { month: 'long', year: 'numeric', timeZone: 'UTC' });
/** @example showMonth('2026-11') // 'November 2026' */
export const showMonth = (month: string): string => monthFormat.format(new Date(`${month}-01T00:00:00Z`));
const weekdayFormat = new Intl.DateTimeFormat('en-GB', { weekday: 'short', timeZone: 'UTC' });
/** @example showWeekday('2026-11-03') // 'Tue' */
export const showWeekday = (day: string): string => weekdayFormat.format(new Date(`${day}T00:00:00Z`));
export const showMoment = (moment: string): string => moments.moment.format(new Date(moment));
/** @example showTime(a moment) // '09:02' */
export const showTime = (moment: string): string => moments.time.format(new Date(moment));
export const showNumber = (value: number): string => numberFormat.format(value);
export const showPercent = (rate: number): string => `${Math.round(rate * 100)}%`;
export const showScore = (score: number): string => String(Math.round(score));

/** @example showAgo(a moment of yesterday) // 'yesterday' */
export function showAgo(moment: string): string {
  const at = parseISO(moment);
  const days = daysBetween(dayOf(moment), today());
  if (days <= 0) return 'today';
  if (days === 1) return 'yesterday';
  return days < 60 ? `${days} days ago` : `${formatDistanceToNowStrict(at, { unit: 'month' })} ago`;
}

/** As lists are sorted: family name first. */
export const listName = ({ givenName, familyName }: { givenName: string; familyName: string }): string =>
  givenName === '' || familyName === '' ? givenName + familyName : `${familyName}, ${givenName}`;
export const personName = (person: { givenName: string; familyName: string }): string => `${person.givenName} ${person.familyName}`.trim();
