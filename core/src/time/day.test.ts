import { expect, test } from '@jest/globals';
import fc from 'fast-check';
import { addDays, dayOfMoment, daysBetween, startOfDay } from './day.ts';

/** On both sides of the date line, with half hours, and where the clock once jumped over midnight. */
const zones = [
  'UTC',
  'Europe/London',
  'America/New_York',
  'Pacific/Kiritimati',
  'Pacific/Pago_Pago',
  'Asia/Kathmandu',
  'America/Sao_Paulo',
  'Africa/Cairo',
  'Asia/Beirut',
  'America/Havana',
  'Atlantic/Azores',
];
const anyDay = fc.integer({ min: 0, max: 12_000 }).map((days) => addDays('2006-01-01', days));

test('a day begins with its first moment, in every time zone: the millisecond before belongs to the day before', () => {
  fc.assert(
    fc.property(anyDay, fc.constantFrom(...zones), (day, zone) => {
      const start = startOfDay(day, zone);
      expect([dayOfMoment(start, zone), dayOfMoment(new Date(start.getTime() - 1), zone)]).toEqual([day, addDays(day, -1)]);
    }),
    { numRuns: 2000 },
  );
});

test('where midnight does not come, or comes twice, the day still begins with its first moment', () => {
  // Brazil's clocks went from 23:59:59 on the 3rd to 01:00 on the 4th; Cuba's go back from 01:00 to midnight.
  expect(startOfDay('2018-11-04', 'America/Sao_Paulo').toISOString()).toBe('2018-11-04T03:00:00.000Z');
  expect(startOfDay('2025-11-02', 'America/Havana').toISOString()).toBe('2025-11-02T04:00:00.000Z');
  expect(startOfDay('2026-07-01', 'Europe/London').toISOString()).toBe('2026-06-30T23:00:00.000Z');
});

test('days are counted by the calendar, whatever the clock does', () => {
  fc.assert(
    fc.property(anyDay, fc.integer({ min: -800, max: 800 }), (day, days) => {
      expect(daysBetween(day, addDays(day, days))).toBe(days);
    }),
  );
});
