import type { TreeRow } from '@gate-roster/contract';
import { emptyTally } from '@gate-roster/core';
import { ShownTree } from './tree-query.ts';

const row = (id: number, parentId: number | null, name: string): TreeRow => ({
  id,
  parentId,
  name,
  state: 'active',
  people: id,
  tally: emptyTally,
});
const tree = new ShownTree([
  row(1, null, 'Isles'),
  row(2, 1, 'North'),
  row(3, 2, 'Gullhaven'),
  row(4, 3, 'Cadets'),
  row(5, 1, 'South'),
  row(6, 5, 'Cadets'),
]);
const names = (open: number[], filter = ''): string[] =>
  tree.visible((id) => open.includes(id), filter).map(({ row: each, depth }) => `${depth} ${each.name}`);

describe('ShownTree', () => {
  it('shows what is open, parents before children', () => {
    expect(names([])).toEqual(['0 Isles']);
    expect(names([1, 5])).toEqual(['0 Isles', '1 North', '1 South', '2 Cadets']);
  });

  it('keeps the path to every match in sight, opened or not, and tells match from path', () => {
    expect(names([], 'cad')).toEqual(['0 Isles', '1 North', '2 Gullhaven', '3 Cadets', '1 South', '2 Cadets']);
    expect(tree.visible(() => false, 'gull').map(({ isMatch }) => isMatch)).toEqual([false, false, true]);
    expect(names([1, 2, 3], 'nobody')).toEqual([]);
  });

  it('knows paths and the size of a branch', () => {
    expect(tree.path(4).map(({ id }) => id)).toEqual([1, 2, 3, 4]);
    expect([tree.branchSize(1), tree.branchSize(3), tree.branchSize(6)]).toEqual([6, 2, 1]);
  });
});
