import fc from 'fast-check';
import { completion, emptyTally, type Tally } from './figures.ts';
import { setApart, smallGroup } from './side-by-side.ts';

const tally = (done: number, all: number, exempt = 0): Tally => ({ ...emptyTally, all, done, exempt });

test('the course in which groups are furthest apart comes first, with who is behind and who is ahead', () => {
  const cells = [
    [tally(5, 10), tally(1, 10), null],
    [tally(6, 10), tally(9, 10), tally(3, 30)],
    [tally(4, 10), null, null],
  ];
  expect(setApart(cells)).toEqual([
    { course: 1, points: 80, least: 0, most: 1, isSmall: false },
    { course: 0, points: 20, least: 2, most: 1, isSmall: false },
    expect.objectContaining({ course: 2, points: null }),
  ]);
});

test('one learner each sets nobody apart before many do, and few do not stand for a group where others have more', () => {
  const cells = [
    [tally(0, 1), tally(5, 10), tally(0, 2)],
    [tally(1, 1), tally(6, 10), tally(8, 10)],
    [null, null, tally(7, 10)],
  ];
  expect(setApart(cells).map(({ course, points, isSmall }) => [course, points, isSmall])).toEqual([
    [1, 10, false],
    [2, 10, false],
    [0, 100, true],
  ]);
  // Where all are exempt there is no completion to compare.
  expect(setApart([[tally(0, 4, 4)], [tally(1, 2)]])[0]?.points).toBeNull();
});

test('no two groups of some size are further apart than it says, in any course', () => {
  const cell = fc.option(fc.tuple(fc.nat(20), fc.nat(20), fc.nat(5)), { freq: 4 });
  fc.assert(
    fc.property(fc.array(fc.array(cell, { minLength: 4, maxLength: 4 }), { minLength: 2, maxLength: 6 }), (drawn) => {
      const cells = drawn.map((row) => row.map((each) => (each ? tally(Math.min(each[0], each[1]), each[1] + each[2], each[2]) : null)));
      const apart = setApart(cells);
      expect(new Set(apart.map(({ course }) => course)).size).toBe(4);
      for (const { course, points, isSmall } of apart)
        for (const a of cells)
          for (const b of cells) {
            const [one, other] = [a[course], b[course]];
            if (!one || !other || a === b) continue;
            const [rate, otherRate] = [completion(one), completion(other)];
            if (rate === null || otherRate === null) continue;
            const isLarge = [one, other].every(({ all, exempt }) => all - exempt >= smallGroup);
            if (isLarge) expect(isSmall).toBe(false);
            if (isLarge || isSmall) expect(Math.round((rate - otherRate) * 100)).toBeLessThanOrEqual(points ?? -1);
          }
    }),
  );
});
