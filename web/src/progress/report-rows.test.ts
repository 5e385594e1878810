import type { ProgressReport } from '@gate-roster/contract';
import { emptyTally } from '@gate-roster/core';
import { nextSort, openRows, sortCode, type SortedBy, sortRows } from './report-rows.ts';

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

test('rows are sorted among those of the same parent; what nobody has comes last either way', () => {
  expect(idsOf(sortRows(rows, { by: 'name' }, [7]))).toEqual([1, 2, 4, 5, 3]);
  expect(idsOf(sortRows(rows, { by: 'learners', most: true }, [7]))).toEqual([1, 3, 2, 5, 4]);
  expect(idsOf(sortRows(rows, { by: 'course', id: 7, most: true }, [7]))).toEqual([1, 3, 2, 5, 4]);
  expect(idsOf(sortRows(rows, { by: 'course', id: 7, most: false }, [7]))).toEqual([1, 2, 5, 4, 3]);
});

test('a folded row hides all below it, and a row that is no group is never mistaken for one of the same number', () => {
  expect(idsOf(openRows(rows, (id) => id === 2))).toEqual([1, 2, 3]);
  expect(idsOf(openRows([...rows, row(6, 5, 3, 1, 1)], (id) => id === 5))).toEqual([1, 2, 4, 5, 3]);
  const tag: Row = { ...row(1, 1, 1, 4, 1), part: { part: 'tags', how: 'any', ids: [1] } };
  expect(idsOf(sortRows([row(1, null, 0, 60, 5), tag], { by: 'learners', most: false }, [7]))).toEqual([1, 1]);
  expect(idsOf(openRows([row(1, null, 0, 60, 5), tag], () => true))).toEqual([1, 1]);
});

test('a heading sorts by the most, by the least, and by name again; the address keeps it', () => {
  const first = nextSort({ by: 'name' }, { by: 'course', id: 7 });
  const second = nextSort(first, { by: 'course', id: 7 });
  expect([first, second, nextSort(second, { by: 'course', id: 7 }), nextSort(second, { by: 'learners' })]).toEqual([
    { by: 'course', id: 7, most: true },
    { by: 'course', id: 7, most: false },
    { by: 'name' },
    { by: 'learners', most: true },
  ]);
  const all: SortedBy[] = [first, second, { by: 'learners', most: true }, { by: 'learners', most: false }];
  expect(all.map((each) => sortCode.read(sortCode.write(each)))).toEqual(all);
  expect([sortCode.read(''), sortCode.read('-'), sortCode.read('0'), sortCode.read('name')]).toEqual([
    undefined,
    undefined,
    undefined,
    undefined,
  ]);
});
