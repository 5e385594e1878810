import { presets } from '@gate-roster/core';
import { depthsOf, groupsOfOutline, shapeOf } from './new-groups.ts';
import { ShownTree } from './tree-query.ts';
import { treeRow } from '../testing/tree-row.ts';

const tree = new ShownTree([
  treeRow(1, null, 'Isles'),
  treeRow(2, 1, 'North'),
  treeRow(3, 2, 'Gullhaven'),
  treeRow(4, 3, 'Cadets'),
  treeRow(5, 2, 'Kettle Bay'),
]);

test('pasted lines are groups within each other, with those who lead them', () => {
  const groups = groupsOfOutline('Kite crew led by Ada Lind ada@lind.example\n  Cadets\n    Juniors\n  Reserve', presets.head);
  expect(groups.map(({ name, within }) => [name, within])).toEqual([
    ['Kite crew', null],
    ['Cadets', 0],
    ['Juniors', 1],
    ['Reserve', 0],
  ]);
  expect(groups[0]?.leaders).toMatchObject([{ who: { givenName: 'Ada', familyName: 'Lind', email: 'ada@lind.example' }, firstDay: null }]);
  expect(groups[0]?.leaders[0]?.powers).toEqual(presets.head);
  expect(groups.slice(1).flatMap(({ leaders }) => leaders)).toEqual([]);
  expect(depthsOf(groups)).toEqual([0, 1, 2, 1]);
});

test('the shape of a branch is its groups, each like the one it was, the top under its new name, with nobody leading', () => {
  const shape = shapeOf(tree, 2, 'South');
  expect(shape.map(({ name, like, leaders }) => [name, like, leaders])).toEqual([
    ['South', 2, []],
    ['Gullhaven', 3, []],
    ['Cadets', 4, []],
    ['Kettle Bay', 5, []],
  ]);
  // Each lies within the one that its original lay within.
  for (const { within, like } of shape.slice(1)) expect(shape[within ?? 0]?.like).toBe(tree.row(like ?? 0)?.parentId);
  expect(depthsOf(shape)).toEqual([0, 1, 2, 1]);
  expect(shapeOf(tree, 99, 'Nothing')).toEqual([]);
});
