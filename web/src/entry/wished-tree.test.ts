import type { GroupNode } from '@gate-roster/core';
import { pathsWithout, wishedTree } from './wished-tree.ts';

const node = (id: number, parentId: number | null, name: string): GroupNode => ({
  id,
  parentId,
  name,
  state: 'active',
  firstDay: null,
  lastDay: null,
});
const nodes = [node(1, null, 'Rescue'), node(2, 1, 'North'), node(3, 2, 'Shore crew'), node(4, 1, 'South')];
const paths = ['North > Boats', 'North > Boats > Night', 'North > Shore crew > Cadets', 'West'];

test('new groups are shown in the tree as it would be, with what leads down to them and nothing else', () => {
  const lines = wishedTree(nodes, 1, paths).map(({ name, depth, isNew }) => `${' '.repeat(depth)}${name}${isNew ? ' +' : ''}`);
  expect(lines.toSorted()).toEqual(['  Boats +', '  Shore crew', '   Cadets +', '   Night +', ' North', ' West +', 'Rescue'].toSorted());
  expect(wishedTree(nodes, 1, [])).toEqual([]);
});

test('striking out a group takes what leads through it along', () => {
  const boats = wishedTree(nodes, 1, paths).find(({ name }) => name === 'Boats');
  expect(pathsWithout(nodes, 1, paths, boats?.key ?? '')).toEqual(['North > Shore crew > Cadets', 'West']);
});
