import { afterEach, expect, jest, test } from '@jest/globals';
import { addDays } from '@gate-roster/core';
import fc from 'fast-check';
import {
  asTyped,
  dayBegins,
  dayEnds,
  dayOf,
  dayOfDate,
  dayOfText,
  momentTyped,
  showAgo,
  showDay,
  showDayOf,
  showMoment,
  showTime,
  tellMomentsIn,
  today,
} from './format.ts';

test('days come as they are written in files, as they are shown, and as they are typed', () => {
  const same = ['2026-11-03', ' 3 Nov 2026 ', '03 November 2026', '3/11/2026', '03.11.2026', showDay('2026-11-03')];
  expect(same.map(dayOfText)).toEqual(same.map(() => '2026-11-03'));
  expect(['', 'soon', '2026-11-31', '11/23/2026', '3 Nov', '2026-11-03T10:00'].map(dayOfText)).toEqual(Array(6).fill(null));
});

test('the day of a picker’s date is the one it shows, at midnight as well as just before', () => {
  expect([dayOfDate(new Date(2026, 0, 1)), dayOfDate(new Date(2026, 0, 1, 23, 59))]).toEqual(['2026-01-01', '2026-01-01']);
});

/** On both sides of the date line, half an hour off, and where the clock changes. */
const zones = ['UTC', 'Europe/London', 'America/New_York', 'Pacific/Kiritimati', 'Pacific/Pago_Pago', 'Asia/Kathmandu'];
const anyMoment = fc.integer({ min: Date.UTC(2020, 0, 1), max: Date.UTC(2030, 0, 1) }).map((at) => new Date(at).toISOString());

afterEach(() => {
  tellMomentsIn('UTC');
});

test('moments are told in the platform’s time zone: an evening in New York is not the next day, as it is in UTC', () => {
  tellMomentsIn('America/New_York');
  const evening = '2026-11-04T02:30:00.000Z';
  expect([dayOf(evening), showDayOf(evening), showMoment(evening), showTime(evening)]).toEqual([
    '2026-11-03',
    '3 Nov 2026',
    '3 Nov 2026, 21:30',
    '21:30',
  ]);
});

test('a day in the platform’s time zone holds its first and its last second, and no other day’s', () => {
  fc.assert(
    fc.property(anyMoment, fc.constantFrom(...zones), (moment, zone) => {
      tellMomentsIn(zone);
      const day = dayOf(moment);
      const [first, last] = [dayBegins(day), dayEnds(day)];
      const aside = (at: string, by: number): string => dayOf(new Date(Date.parse(at) + by).toISOString());
      expect([dayOf(first), dayOf(last), aside(first, -1), aside(last, 1000)]).toEqual([day, day, addDays(day, -1), addDays(day, 1)]);
    }),
  );
});

test('what a field for a day and time holds is the moment that was put into it, to the minute', () => {
  fc.assert(
    fc.property(anyMoment, fc.constantFrom(...zones), (moment, zone) => {
      tellMomentsIn(zone);
      const minute = `${moment.slice(0, 16)}:00.000Z`;
      const again = momentTyped(asTyped(minute));
      // In the hour that comes twice, its first or its second time.
      expect([0, 3_600_000]).toContain(Math.abs(Date.parse(again) - Date.parse(minute)));
      expect(asTyped(again)).toBe(asTyped(minute));
    }),
  );
});

test('today and yesterday are the platform’s', () => {
  jest.useFakeTimers({ now: new Date('2026-11-04T02:30:00Z') });
  tellMomentsIn('America/New_York');
  expect([today(), showAgo('2026-11-03T12:00:00Z'), showAgo('2026-11-03T03:00:00Z')]).toEqual(['2026-11-03', 'today', 'yesterday']);
  tellMomentsIn('UTC');
  expect([today(), showAgo('2026-11-03T12:00:00Z')]).toEqual(['2026-11-04', 'yesterday']);
  jest.useRealTimers();
});
