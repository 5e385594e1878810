import { differenceInCalendarDays, formatDistanceToNowStrict, isValid, lightFormat, parse, parseISO } from 'date-fns';

const dayFormat = new Intl.DateTimeFormat('en-GB', { day: 'numeric', month: 'short', year: 'numeric', timeZone: 'UTC' });
const momentFormat = new Intl.DateTimeFormat('en-GB', {
  day: 'numeric',
  month: 'short',
  year: 'numeric',
  hour: '2-digit',
  minute: '2-digit',
});
const numberFormat = new Intl.NumberFormat('en-GB');

/** @example showDay('2026-11-03') // '3 Nov 2026' */
export const showDay = (day: string): string => dayFormat.format(new Date(`${day}T00:00:00Z`));
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
export const showMoment = (moment: string): string => momentFormat.format(new Date(moment));
const timeFormat = new Intl.DateTimeFormat('en-GB', { hour: '2-digit', minute: '2-digit' });
/** @example showTime(a moment) // '09:02' */
export const showTime = (moment: string): string => timeFormat.format(new Date(moment));
export const showNumber = (value: number): string => numberFormat.format(value);
export const showPercent = (rate: number): string => `${Math.round(rate * 100)}%`;
export const showScore = (score: number): string => String(Math.round(score));

/** @example showAgo(a moment of yesterday) // 'yesterday' */
export function showAgo(moment: string): string {
  const at = parseISO(moment);
  const days = differenceInCalendarDays(new Date(), at);
  if (days <= 0) return 'today';
  if (days === 1) return 'yesterday';
  return days < 60 ? `${days} days ago` : `${formatDistanceToNowStrict(at, { unit: 'month' })} ago`;
}

/** As lists are sorted: family name first. */
export const listName = ({ givenName, familyName }: { givenName: string; familyName: string }): string =>
  givenName === '' || familyName === '' ? givenName + familyName : `${familyName}, ${givenName}`;
export const personName = (person: { givenName: string; familyName: string }): string => `${person.givenName} ${person.familyName}`.trim();
