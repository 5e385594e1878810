import fc from 'fast-check';
import { addDays } from '../time/day.ts';
import { forecastSeats, type SeatUse } from './forecast.ts';

const today = '2026-03-01';
const steady = (perWeek: number): number[] => Array.from({ length: 8 }, () => perWeek);
const use = (more: Partial<SeatUse>): SeatUse => ({ today, weeks: steady(0), turns: 20, free: 10, known: [], lastDay: null, ...more });

test.each<[string, Partial<SeatUse>, ReturnType<typeof forecastSeats>]>([
  ['no use', { turns: 0 }, { kind: 'too little' }],
  ['a handful of turns', { weeks: steady(0.5), turns: 4 }, { kind: 'too little' }],
  [
    'steady: 4 a week, 8 free',
    { weeks: steady(4), free: 8 },
    { kind: 'runs out', day: addDays(today, 14), early: addDays(today, 14), late: addDays(today, 14) },
  ],
  ['none more, none fewer', { weeks: steady(0) }, { kind: 'ends first' }],
  ['a falling line', { weeks: steady(-2) }, { kind: 'ends first' }],
  ['a licence that ends first', { weeks: steady(1), free: 8, lastDay: addDays(today, 55) }, { kind: 'ends first' }],
  ['nothing free now', { free: 0, turns: 0 }, { kind: 'runs out', day: today, early: today, late: today }],
  [
    'people who are known to come',
    { weeks: steady(0), free: 3, known: [{ day: addDays(today, 9), by: 3 }] },
    { kind: 'runs out', day: addDays(today, 9), early: addDays(today, 9), late: addDays(today, 9) },
  ],
  [
    'people who are known to leave put it off',
    { weeks: steady(7), free: 7, known: [{ day: addDays(today, 3), by: -7 }] },
    { kind: 'runs out', day: addDays(today, 14), early: addDays(today, 14), late: addDays(today, 14) },
  ],
])('%s', (_, more, expected) => {
  expect(forecastSeats(use(more))).toEqual(expected);
});

test('a jump widens the band, and may leave its far end open', () => {
  const jump = forecastSeats(use({ weeks: [0, 0, 0, 0, 0, 0, 0, 16], free: 20 }));
  expect(jump).toMatchObject({ kind: 'runs out', day: addDays(today, 70), late: null });
  if (jump.kind === 'runs out') expect(jump.early < jump.day).toBe(true);
});

test('the band holds the day, more free seats never run out earlier, and the day is the first on which the sum is reached', () => {
  let ranOut = 0;
  fc.assert(
    fc.property(
      fc.array(fc.integer({ min: -4, max: 9 }), { minLength: 8, maxLength: 8 }),
      fc.integer({ min: 1, max: 60 }),
      fc.array(fc.record({ day: fc.integer({ min: 0, max: 90 }).map((by) => addDays(today, by)), by: fc.integer({ min: -3, max: 3 }) }), {
        maxLength: 5,
      }),
      (weeks, free, known) => {
        const found = forecastSeats(use({ weeks, free, known }));
        const more = forecastSeats(use({ weeks, free: free + 5, known }));
        if (found.kind !== 'runs out') {
          expect(more.kind).not.toBe('runs out');
          return;
        }
        ranOut++;
        expect(found.early <= found.day && (found.late === null || found.day <= found.late)).toBe(true);
        if (more.kind === 'runs out') expect(more.day >= found.day).toBe(true);
        const perDay = weeks.reduce((sum, each) => sum + each, 0) / 56;
        const usedBy = (days: number): number =>
          perDay * days + known.filter(({ day }) => day <= addDays(today, days)).reduce((sum, { by }) => sum + by, 0);
        const first = Array.from({ length: 731 }, (__, days) => days).find((days) => usedBy(days) >= free - 1e-9);
        expect(found.day).toBe(addDays(today, first ?? -1));
      },
    ),
    { numRuns: 300 },
  );
  expect(ranOut).toBeGreaterThan(100);
});
