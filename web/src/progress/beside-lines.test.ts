import { emptyTally, type Tally } from '@gate-roster/core';
import { besideLines, type BesideRow, compare, type Compared, groupsAround } from './beside-lines.ts';

const row = (id: number, done: readonly (number | null)[]): BesideRow => ({
  id,
  name: `Group ${id}`,
  learners: 10,
  ofAll: 10,
  total: emptyTally,
  scores: null,
  cells: done.map((each) => (each === null ? null : { ...emptyTally, all: 10, done: each })),
});
const now = {
  courses: [
    { id: 1, name: 'A' },
    { id: 2, name: 'B' },
    { id: 3, name: 'C' },
  ],
  rows: [row(4, [5, 6, 7]), row(8, [1, 2, 3])],
  scope: row(3, [6, 8, 10]),
};

test('each group is followed by how it stood, in the order of the courses of today; what was not there then has nothing', () => {
  const then = {
    courses: [
      { id: 2, name: 'B' },
      { id: 1, name: 'A' },
    ],
    rows: [row(4, [3, 2])],
    scope: row(3, [4, 3]),
  };
  const lines = besideLines(now, now.rows.toReversed(), then);
  expect(
    lines.map(({ row: { id, cells }, isScope, isEarlier }) => [id, isScope, isEarlier, cells.map((cell) => cell?.done ?? null)]),
  ).toEqual([
    [8, false, false, [1, 2, 3]],
    [4, false, false, [5, 6, 7]],
    [4, false, true, [2, 3, null]],
    [3, true, false, [6, 8, 10]],
    [3, true, true, [3, 4, null]],
  ]);
  expect(besideLines(now, now.rows, null)).toHaveLength(3);
});

const cell = (all: number, done: number): Tally => ({ ...emptyTally, all, done });
const compared = (rows: (Tally | null)[][], wished: number[] | null = null, sortedBy: number | null = null): Compared =>
  compare(
    {
      courses: (rows[0] ?? []).map((_, index) => ({ id: 10 + index, name: `Course ${index}` })),
      rows: rows.map((cells, index) => ({ ...row(index + 1, []), cells })),
    },
    wished,
    sortedBy,
  );
const order = ({ sorted }: Compared): number[] => sorted.map(({ id }) => id);

test('at first the four courses are shown in which groups are furthest apart, sorted by the first of them, the least first', () => {
  const found = compared([
    [cell(20, 10), cell(20, 18), cell(20, 2), cell(20, 9), cell(20, 20)],
    [cell(20, 11), cell(20, 2), cell(20, 10), cell(20, 15), cell(20, 20)],
  ]);
  expect(found.courses.map(({ id, index }) => [id, index])).toEqual([
    [11, 1],
    [12, 2],
    [13, 3],
    [10, 0],
  ]);
  expect([found.by, order(found)]).toEqual([1, [2, 1]]);
  expect(found.furthest).toEqual({ course: 'Course 1', points: 80, least: 'Group 2', most: 'Group 1', isSmall: false });
});

test('chosen courses come in the order in which they were chosen, and one that is gone is left out; another column sorts', () => {
  const cells = [
    [cell(20, 1), cell(20, 19)],
    [null, cell(20, 3)],
    [cell(20, 0), cell(20, 10)],
  ];
  const found = compared(cells, [11, 99, 10]);
  expect([found.courses.map(({ id }) => id), found.by, order(found)]).toEqual([[11, 10], 1, [2, 3, 1]]);
  // Who does not have the course comes before who has done nothing of it.
  expect(order(compared(cells, [11, 10], 0))).toEqual([2, 3, 1]);
});

test('groups of which none has anything in common are not compared', () => {
  expect(
    compared([
      [cell(20, 5), null],
      [null, cell(20, 5)],
    ]).furthest,
  ).toBeNull();
  expect(compared([[], []])).toMatchObject({ courses: [], by: null, furthest: null });
});

test('the groups below stand side by side, or those beside one that has fewer than two, six at most', () => {
  const rows = [
    { id: 1, parentId: null },
    ...[2, 3, 4, 5, 6, 7, 8].map((id) => ({ id, parentId: 1 })),
    { id: 21, parentId: 2 },
    { id: 31, parentId: 3 },
    { id: 32, parentId: 3 },
  ];
  expect(groupsAround(rows, 1)).toEqual([2, 3, 4, 5, 6, 7]);
  expect(groupsAround(rows, 3)).toEqual([31, 32]);
  expect(groupsAround(rows, 2)).toEqual([2, 3, 4, 5, 6, 7]);
  expect([groupsAround(rows, 99), groupsAround(rows.slice(0, 1), 1)]).toEqual([[], [1]]);
});
