import { expect, test } from '@jest/globals';
import fc from 'fast-check';
import { type GroupInBranch, shownGroups } from './shown-levels.ts';

/** A branch, level by level: each group's parent is one of the level above. */
const branches = fc
  .array(fc.array(fc.nat(), { minLength: 1, maxLength: 12 }), { minLength: 0, maxLength: 5 })
  .map((levels): GroupInBranch[] => {
    let id = 1;
    let above: GroupInBranch[] = [{ id, parentId: null, depth: 0 }];
    const all = [...above];
    levels.forEach((picks, index) => {
      above = picks.map((pick) => ({ id: ++id, parentId: above[pick % above.length]?.id ?? null, depth: index + 1 }));
      all.push(...above);
    });
    return all;
  });

test('a row is on a level that is shown, or right below a row that is unfolded', () => {
  fc.assert(
    fc.property(branches, fc.integer({ min: 1, max: 3 }), fc.array(fc.integer({ min: 1, max: 60 })), (branch, levels, unfolded) => {
      const found = shownGroups(branch, { levels, unfold: new Set(unfolded), columns: 200 });
      const ids = found.map(({ id }) => id);
      const expected = branch.filter((group) => {
        // From the group upwards: every one above it up to the levels is unfolded.
        for (let at: GroupInBranch | undefined = group; at && at.depth > levels; at = branch.find(({ id }) => id === at?.parentId))
          if (!unfolded.includes(at.parentId ?? 0)) return false;
        return true;
      });
      expect(ids).toEqual(expected.map(({ id }) => id));
    }),
  );
});

const wide = (below: number): GroupInBranch[] => [
  { id: 1, parentId: null, depth: 0 },
  { id: 2, parentId: 1, depth: 1 },
  ...Array.from({ length: below }, (_, index) => ({ id: index + 3, parentId: 2, depth: 2 })),
];

test('when no number is asked for, two levels are shown while the table stays moderate, else one', () => {
  const shown = (below: number, columns: number, levels = 0): number =>
    shownGroups(wide(below), { levels, unfold: new Set(), columns }).length;
  expect(shown(48, 100)).toBe(50);
  expect(shown(49, 100)).toBe(2);
  expect(shown(49, 100, 2)).toBe(51);
  expect(shown(49, 0)).toBe(51);
  expect(shown(1998, 100, 2)).toBe(2000);
  expect(shown(1999, 100, 2)).toBe(2);
  expect(shownGroups(wide(1999), { levels: 0, unfold: new Set([2]), columns: 100 })).toHaveLength(2001);
});
