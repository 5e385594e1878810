import fc from 'fast-check';
import { coursesInSets, loopOfSets, type SetItem } from './course-sets.ts';

const item: fc.Arbitrary<SetItem> = fc.oneof(
  fc.record({ set: fc.integer({ min: 1, max: 5 }), course: fc.integer({ min: 1, max: 6 }) }),
  fc.record({ set: fc.integer({ min: 1, max: 5 }), inner: fc.integer({ min: 1, max: 5 }) }),
);

/** Set by set until nothing more comes. */
function bySpreading(items: readonly SetItem[]): Map<number, Set<number>> {
  const held = new Map([1, 2, 3, 4, 5].map((set) => [set, new Set<number>()]));
  for (let round = 0; round < 6; round++)
    for (const each of items)
      for (const course of 'course' in each ? [each.course] : (held.get(each.inner) ?? [])) held.get(each.set)?.add(course);
  return new Map([...held].filter(([, courses]) => courses.size > 0));
}

test('a set holds its courses and those of every set in it, loops or not', () => {
  fc.assert(
    fc.property(fc.array(item, { maxLength: 25 }), (items) => {
      const sorted = (found: Map<number, Set<number>>) => [...found].map(([set, courses]) => [set, [...courses].sort()]).sort();
      expect(sorted(coursesInSets(items))).toEqual(sorted(bySpreading(items)));
    }),
  );
});

test('a loop is named exactly where some set can be reached from itself', () => {
  fc.assert(
    fc.property(fc.array(item, { maxLength: 12 }), (items) => {
      const steps = items.flatMap((each) => ('inner' in each ? [[each.set, each.inner] as const] : []));
      const paths = new Set(steps.map(([from, to]) => `${from}>${to}`));
      for (let round = 0; round < 5; round++)
        for (const [from, to] of steps) for (const end of [1, 2, 3, 4, 5]) if (paths.has(`${to}>${end}`)) paths.add(`${from}>${end}`);
      const loop = loopOfSets(items);
      expect(loop !== null).toBe([1, 2, 3, 4, 5].some((set) => paths.has(`${set}>${set}`)));
      if (!loop) return;
      expect(loop[0]).toBe(loop.at(-1));
      for (const [place, set] of loop.slice(0, -1).entries()) expect(steps).toContainEqual([set, loop[place + 1]]);
    }),
  );
});
