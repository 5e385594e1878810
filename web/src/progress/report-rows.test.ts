import type { ProgressReport } from '@gate-roster/contract';
import { emptyTally } from '@gate-roster/core';
import { levelsCode, openRows, withoutBranch } from './report-rows.ts';

type Row = ProgressReport['rows'][number];
const row = (id: number, parentId: number | null, depth: number, learners: number, done: number | null): Row => ({
  id,
  parentId,
  name: String(id),
  part: null,
  depth,
  hasSubgroups: true,
  learners,
  total: emptyTally,
  cells: [done === null ? null : { ...emptyTally, all: 10, done }],
  medians: null,
});
const rows = [row(1, null, 0, 60, 5), row(2, 1, 1, 10, 2), row(4, 2, 2, 3, null), row(5, 2, 2, 7, 9), row(3, 1, 1, 50, 8)];
const idsOf = (list: readonly Row[]): number[] => list.map(({ id }) => id);

test('a folded row hides all below it, and a row that is no group is never mistaken for one of the same number', () => {
  expect(idsOf(openRows(rows, (id) => id === 2))).toEqual([1, 2, 3]);
  expect(idsOf(openRows([...rows, row(6, 5, 3, 1, 1)], (id) => id === 5))).toEqual([1, 2, 4, 5, 3]);
  const tag: Row = { ...row(1, 1, 1, 4, 1), part: { part: 'tags', how: 'any', ids: [1] } };
  expect(idsOf(openRows([row(1, null, 0, 60, 5), tag], () => true))).toEqual([1, 1]);
});

test('what is folded is left out with all below it, and the rest stays, also what is not in the table', () => {
  const deep = [...rows, row(6, 5, 3, 1, 1)];
  expect(withoutBranch([6, 3, 2, 99], deep, 2)).toEqual([3, 99]);
  expect(withoutBranch([6, 3, 2], deep, 5)).toEqual([3, 2]);
  expect(withoutBranch([6, 3, 2], deep, 4)).toEqual([6, 3, 2]);
});

test('levels in an address are as many as can be asked for, or none at all', () => {
  expect(['0', '3', '4', '-1', '1.5', 'two', ''].map((text) => levelsCode.read(text))).toEqual([
    0,
    3,
    ...Array<undefined>(5).fill(undefined),
  ]);
  expect(levelsCode.read(levelsCode.write(2))).toBe(2);
});
