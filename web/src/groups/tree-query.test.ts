import { emptyTally } from '@gate-roster/core';
import { ShownTree } from './tree-query.ts';
import { treeRow } from '../testing/tree-row.ts';

const tree = new ShownTree([
  treeRow(1, null, 'Isles'),
  treeRow(2, 1, 'North'),
  treeRow(3, 2, 'Gullhaven'),
  treeRow(4, 3, 'Cadets'),
  treeRow(5, 1, 'South'),
  treeRow(6, 5, 'Cadets'),
]);
const names = (open: number[], name = ''): string[] =>
  tree.visible((id) => open.includes(id), { name }).map(({ row: each, depth }) => `${depth} ${each.name}`);

describe('ShownTree', () => {
  it('shows what is open, parents before children', () => {
    expect(names([])).toEqual(['0 Isles']);
    expect(names([1, 5])).toEqual(['0 Isles', '1 North', '1 South', '2 Cadets']);
  });

  it('keeps the path to every match in sight, opened or not, and tells match from path', () => {
    expect(names([], 'cad')).toEqual(['0 Isles', '1 North', '2 Gullhaven', '3 Cadets', '1 South', '2 Cadets']);
    expect(tree.visible(() => false, { name: 'gull' }).map(({ isMatch }) => isMatch)).toEqual([false, false, true]);
    expect(names([1, 2, 3], 'nobody')).toEqual([]);
  });

  it('knows paths and the size of a branch', () => {
    expect(tree.path(4).map(({ id }) => id)).toEqual([1, 2, 3, 4]);
    expect([tree.branchSize(1), tree.branchSize(3), tree.branchSize(6)]).toEqual([6, 2, 1]);
  });

  it('narrows by tag, leader, overdue, no leader and empty, all at once, and starts where one wants', () => {
    const rich = new ShownTree([
      { ...treeRow(1, null, 'Isles'), leaders: [9] },
      { ...treeRow(2, 1, 'North'), tags: [5], tally: { ...emptyTally, overdue: 2 } },
      { ...treeRow(3, 1, 'South'), tags: [5], people: 0 },
      treeRow(4, 3, 'Cadets'),
    ]);
    const matches = (filter: Parameters<typeof rich.visible>[1]): string[] =>
      rich.visible(() => false, filter).flatMap(({ row: each, isMatch }) => (isMatch ? [each.name] : []));
    expect(matches({ tag: 5 })).toEqual(['North', 'South']);
    expect(matches({ tag: 5, overdue: true })).toEqual(['North']);
    expect(matches({ empty: true })).toEqual(['South']);
    expect(matches({ leader: 9 })).toEqual(['Isles']);
    expect(matches({ noLeader: true })).toEqual(['North', 'South', 'Cadets']);
    expect(rich.visible(() => true, {}, 3).map(({ row: each, depth }) => `${depth} ${each.name}`)).toEqual(['0 South', '1 Cadets']);
  });
});
