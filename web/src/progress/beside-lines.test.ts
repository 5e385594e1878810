import { emptyTally } from '@gate-roster/core';
import { besideLines, type BesideRow } from './beside-lines.ts';

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
