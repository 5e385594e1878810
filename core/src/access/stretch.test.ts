import fc from 'fast-check';
import { addDays, daysBetween } from '../time/day.ts';
import { reachedSince, type Stretch } from './stretch.ts';

const origin = '2026-01-01';
const at = (index: number): string => addDays(origin, index);

test('the run that contains a day begins where walking back day by day ends', () => {
  const bound = fc.option(fc.integer({ min: 0, max: 30 }).map(at), { nil: null });
  const stretch: fc.Arbitrary<Stretch> = fc.record({ from: bound, until: bound });
  let runs = 0;
  fc.assert(
    fc.property(fc.array(stretch, { maxLength: 5 }), fc.integer({ min: 0, max: 30 }), (stretches, index) => {
      const covers = (day: string): boolean =>
        stretches.some(({ from, until }) => (from === null || from <= day) && (until === null || day < until));
      let first = index;
      while (first >= -1 && covers(at(first))) first--;
      const expected = first === index ? undefined : first < -1 ? null : at(first + 1);
      runs += expected === undefined ? 0 : 1;
      expect(reachedSince(stretches, at(index))).toBe(expected);
    }),
    { numRuns: 3000 },
  );
  expect(runs).toBeGreaterThan(500);
  expect(daysBetween(at(0), at(30))).toBe(30);
});
