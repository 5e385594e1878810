import fc from 'fast-check';
import { addDays } from '../time/day.ts';
import { branchDays, type Placement } from './branch-days.ts';

const at = (index: number): string => addDays('2026-01-01', index);
const days = 12;

/** Where each of five groups stands on each day, without a circle on any; as placements from day to day. */
const history = fc
  .array(fc.array(fc.integer({ min: -1, max: 4 }), { minLength: 5, maxLength: 5 }), { minLength: 1, maxLength: 4 })
  .map((trees) => trees.map((parents) => parents.map((parent, group) => (parent >= group ? -1 : parent))))
  .chain((trees) => fc.tuple(fc.constant(trees), fc.shuffledSubarray([0, 1, 2, 3, 4], { minLength: 5, maxLength: 5 })));

test('a group lies below another on exactly the days on which walking up meets it', () => {
  fc.assert(
    fc.property(history, ([trees, names]) => {
      const parentOn = (group: number, day: number): number => {
        const tree = trees[Math.min(trees.length - 1, Math.floor(day / 3))] ?? [];
        return tree[group] ?? -1;
      };
      const placements: Placement[] = [];
      for (let group = 0; group < 5; group++)
        for (let from = 0; from < days; from += 3)
          placements.push({
            groupId: names[group] ?? 0,
            parentId: parentOn(group, from) < 0 ? null : (names[parentOn(group, from)] ?? 0),
            from: at(from),
            until: from + 3 >= days ? null : at(from + 3),
          });
      const found = branchDays(placements, names);
      for (let group = 0; group < 5; group++)
        for (let day = 0; day < days; day++) {
          const above = new Set<number>();
          for (let step = parentOn(group, day); step >= 0; step = parentOn(step, day)) above.add(names[step] ?? 0);
          const said = found.filter(
            ({ groupId, from, until }) =>
              groupId === names[group] && (from === null || from <= at(day)) && (until === null || at(day) < until),
          );
          expect(new Set(said.map(({ ancestorId }) => ancestorId))).toEqual(above);
          expect(said.length).toBe(above.size);
        }
    }),
    { numRuns: 300 },
  );
});
