import fc from 'fast-check';
import { Tree } from '../groups/tree.ts';
import { addDays } from '../time/day.ts';
import { accessByGroup, memberOf } from './by-group.ts';
import { course, day0, world } from './random-world.ts';
import { courseRules, resolve } from './resolve.ts';
import { opensLater } from './windows.ts';

test('every group is found as when it is asked for alone, whichever is asked for first', () => {
  let asAbove = 0;
  fc.assert(
    fc.property(world, fc.integer({ min: -5, max: 5 }), fc.infiniteStream(fc.nat(8)), ({ nodes, grants, terms, home }, by, order) => {
      const day = addDays(day0, by);
      const rules = courseRules(new Tree(nodes), { ...course, terms, home }, grants);
      const find = accessByGroup(rules, day);
      for (const index of [...order.take(4)].filter((each) => each < nodes.length)) find(index + 1);
      for (const { id, parentId } of nodes) {
        const { units, chain, paths } = resolve(rules, memberOf(id), day);
        const found = find(id);
        if (parentId !== null && found === find(parentId)) asAbove++;
        expect(found.units).toEqual(units);
        expect(found.opensOn).toEqual(units.length > 0 ? null : opensLater(rules, memberOf(id), day));
        expect(found.chain.map(({ kind, grant, verdict }) => ({ kind, grant, verdict }))).toEqual(
          chain.map(({ kind, grant, verdict }) => ({ kind, grant, verdict })),
        );
        expect(found.paths.map((path) => ({ ...path, groupId: null }))).toEqual(paths.map((path) => ({ ...path, groupId: null })));
      }
    }),
    { numRuns: 1500 },
  );
  expect(asAbove).toBeGreaterThan(1000);
});
