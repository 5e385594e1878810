import { type GroupNode, Tree } from '@gate-roster/core';
import fc from 'fast-check';
import { commonAncestors } from './announce.ts';

const node = (id: number, parentId: number | null): GroupNode => ({
  id,
  parentId,
  name: `Group ${id}`,
  state: 'active',
  firstDay: null,
  lastDay: null,
});

test('of very many groups, few are announced that have them all in their branches; one that is gone is left out', () => {
  fc.assert(
    fc.property(fc.array(fc.nat(), { minLength: 1, maxLength: 80 }), fc.integer({ min: 1, max: 12 }), (parents, most) => {
      const nodes = [node(1, null), ...parents.map((pick, index) => node(index + 2, 1 + (pick % (index + 1))))];
      const tree = new Tree(nodes);
      const groups = nodes.filter(({ id }) => id % 2 === 0).map(({ id }) => id);
      const announced = commonAncestors(tree, [...groups, 9999], most);
      expect(announced.length).toBeLessThanOrEqual(most);
      for (const id of groups) expect(announced.some((top) => tree.path(id).includes(top))).toBe(true);
    }),
  );
});
