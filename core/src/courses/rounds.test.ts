import fc from 'fast-check';
import { addDays } from '../time/day.ts';
import { addMonths, reopensOn, validUntil } from './rounds.ts';

const day = fc.integer({ min: 0, max: 20_000 }).map((days) => addDays('2000-01-01', days));

test('a month later is the same day, or the last one of a shorter month', () => {
  fc.assert(
    fc.property(day, fc.integer({ min: 0, max: 240 }), (from, months) => {
      const found = addMonths(from, months);
      const monthsOf = (each: string): number => Number(each.slice(0, 4)) * 12 + Number(each.slice(5, 7));
      expect(monthsOf(found) - monthsOf(from)).toBe(months);
      const isShorter = Number(found.slice(8)) < Number(from.slice(8));
      expect(Number(found.slice(8))).toBeLessThanOrEqual(Number(from.slice(8)));
      if (isShorter) expect(addDays(found, 1).slice(8)).toBe('01');
    }),
  );
});

test('a round opens so many days before the course is no longer valid, but after it was done', () => {
  const yearly = { validMonths: 12, reopensDays: 30 };
  expect([validUntil('2024-02-29', yearly), reopensOn('2024-02-29', yearly)]).toEqual(['2025-02-28', '2025-01-29']);
  expect(reopensOn('2026-03-10', { validMonths: 1, reopensDays: 90 })).toBe('2026-03-11');
  expect(reopensOn('2026-03-10', { validMonths: 6, reopensDays: null })).toBe('2026-09-10');
});
