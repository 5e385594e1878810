import fc from 'fast-check';
import { divide, type Divided, partsOfSize } from './divide.ts';

const people = fc
  .array(fc.record({ score: fc.option(fc.integer({ min: 0, max: 100 })), tags: fc.subarray([1, 2, 3]) }), { maxLength: 40 })
  .map((list) => list.map((each, index): Divided => ({ id: index + 1, ...each })));
const seeded = fc.array(fc.double({ min: 0, max: 1, maxExcluded: true, noNaN: true }), { minLength: 40, maxLength: 40 });
const from = (list: readonly number[]) => {
  let at = 0;
  return () => list[at++ % list.length] ?? 0;
};

describe('divide', () => {
  it('puts everybody into exactly one part, and the parts differ by at most one', () => {
    fc.assert(
      fc.property(
        people,
        fc.integer({ min: 1, max: 7 }),
        fc.constantFrom('chance' as const, 'score' as const, 'tag' as const),
        seeded,
        (all, parts, by, random) => {
          const made = divide(all, parts, by, from(random));
          expect(made).toHaveLength(parts);
          expect(made.flat().sort((a, b) => a - b)).toEqual(all.map(({ id }) => id));
          const sizes = made.map(({ length }) => length);
          expect(Math.max(...sizes) - Math.min(...sizes)).toBeLessThanOrEqual(1);
        },
      ),
    );
  });

  it('gives parts whose scores are alike: no two full parts differ by more than the widest gap a round leaves', () => {
    fc.assert(
      fc.property(
        fc.array(fc.integer({ min: 0, max: 100 }), { minLength: 2, maxLength: 40 }),
        fc.integer({ min: 2, max: 5 }),
        seeded,
        (scores, parts, random) => {
          const all = scores
            .slice(0, Math.floor(scores.length / (2 * parts)) * 2 * parts)
            .map((score, index): Divided => ({ id: index, score, tags: [] }));
          const sums = divide(all, parts, 'score', from(random)).map((ids) => ids.reduce((sum, id) => sum + (all[id]?.score ?? 0), 0));
          // Two rounds, there and back, add up to nearly the same for all: what is left over telescopes to the spread of all scores.
          const spread =
            all.length === 0 ? 0 : Math.max(...all.map(({ score }) => score ?? 0)) - Math.min(...all.map(({ score }) => score ?? 0));
          expect(Math.max(0, ...sums) - (sums.length > 0 ? Math.min(...sums) : 0)).toBeLessThanOrEqual(spread);
        },
      ),
    );
  });

  it('spreads each tag over the parts', () => {
    fc.assert(
      fc.property(people, fc.integer({ min: 1, max: 5 }), seeded, (all, parts, random) => {
        const made = divide(all, parts, 'tag', from(random));
        for (const tag of [1, 2, 3]) {
          const first = new Set(all.filter(({ tags }) => Math.min(...tags) === tag).map(({ id }) => id));
          const counts = made.map((ids) => ids.filter((id) => first.has(id)).length);
          expect(Math.max(...counts) - Math.min(...counts)).toBeLessThanOrEqual(1);
        }
      }),
    );
  });

  it('reaches every order', () => {
    const seen = new Set<string>();
    const all = [1, 2, 3].map((id): Divided => ({ id, score: null, tags: [] }));
    for (let run = 0; run < 500; run++) seen.add(divide(all, 1, 'chance').flat().join());
    expect(seen.size).toBe(6);
  });

  it.each([
    [10, 3, 3],
    [1, 5, 1],
    [0, 4, 1],
    [11, 4, 3],
  ])('%i people in parts of %i make %i', (count, size, parts) => {
    expect(partsOfSize(count, size)).toBe(parts);
  });
});
