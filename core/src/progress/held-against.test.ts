import { heldAgainst } from './held-against.ts';

const branch = (enrolments: number, ...done: number[]) => ({
  id: 1,
  name: 'All',
  enrolments,
  weeks: done.map((each) => ({ monday: '2026-03-02', done: each })),
});

test('the branch above is as large as the scope; with nobody on either side there is no line', () => {
  expect(heldAgainst(100, branch(600, 30, 0, 4))).toEqual([5, 0, 0.7]);
  expect(heldAgainst(600, branch(600, 30, 7))).toEqual([30, 7]);
  expect([heldAgainst(0, branch(600, 30)), heldAgainst(100, branch(0, 0)), heldAgainst(100, null)]).toEqual([null, null, null]);
});
