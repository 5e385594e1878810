import { emptyTally, type Tally } from './figures.ts';
import { nextSort, orderReport, readSort, type SortedBy, sortRows, writeSort } from './report-order.ts';

interface Row {
  id: number;
  parentId: number | null;
  depth: number;
  part: object | null;
  learners: number;
  cells: (Tally | null)[];
  medians: { total: number | null; cells: (number | null)[] } | null;
}
const cell = (done: number | null): Tally | null => (done === null ? null : { ...emptyTally, all: 10, done });
const row = (id: number, parentId: number | null, depth: number, learners: number, done: number | null): Row => ({
  id,
  parentId,
  part: null,
  depth,
  learners,
  cells: [cell(done)],
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

test('a row that is no group is never taken for the group of the same number', () => {
  const scope = row(1, null, 0, 60, 5);
  const tag: Row = { ...row(1, 1, 1, 4, 1), part: { part: 'tags' } };
  expect(sortRows([scope, tag], { by: 'learners', most: false }, [7])).toEqual([scope, tag]);
});

test('a report as it is shown leaves courses out with their cells and medians, and is sorted by a course that is left out, too', () => {
  const more = (of: Row, done: number | null, median: number): Row => ({
    ...of,
    cells: [...of.cells, cell(done)],
    medians: { total: 50, cells: [median, median + 1] },
  });
  const report = {
    courses: [{ id: 7 }, { id: 9 }],
    rows: [more(row(1, null, 0, 60, 5), 1, 10), more(row(2, 1, 1, 9, 2), 8, 20), more(row(3, 1, 1, 9, 8), 2, 30)],
  };
  const shown = orderReport(report, { without: [7], by: '7' });
  expect(shown.courses).toEqual([{ id: 9 }]);
  expect(shown.rows.map(({ id, cells, medians }) => [id, cells.map((each) => each?.done), medians])).toEqual([
    [1, [1], { total: 50, cells: [11] }],
    [3, [2], { total: 50, cells: [31] }],
    [2, [8], { total: 50, cells: [21] }],
  ]);
  expect(orderReport(report, {})).toEqual(report);
  expect(orderReport(report, { without: [8], by: 'no order' })).toEqual(report);
});

test('a heading sorts by the most, by the least, and by name again; written as text it stays the same', () => {
  const first = nextSort({ by: 'name' }, { by: 'course', id: 7 });
  const second = nextSort(first, { by: 'course', id: 7 });
  expect([first, second, nextSort(second, { by: 'course', id: 7 }), nextSort(second, { by: 'learners' })]).toEqual([
    { by: 'course', id: 7, most: true },
    { by: 'course', id: 7, most: false },
    { by: 'name' },
    { by: 'learners', most: true },
  ]);
  const all: SortedBy[] = [first, second, { by: 'learners', most: true }, { by: 'learners', most: false }];
  expect(all.map((each) => readSort(writeSort(each)))).toEqual(all);
  expect(readSort('')).toEqual({ by: 'name' });
  expect(['-', '0', 'name', '7,8'].map(readSort)).toEqual([undefined, undefined, undefined, undefined]);
});
