import { allSame, allUp, goNowhere, type PeriodGroup } from './next-table.ts';

const group = (id: number, depth: number, people: number): PeriodGroup => ({ id, name: `G${id}`, depth, people });
/** A school with three years in one building and two in another. */
const groups = [
  group(1, 0, 4),
  group(2, 1, 1),
  group(3, 2, 20),
  group(4, 2, 21),
  group(5, 2, 22),
  group(6, 1, 0),
  group(7, 2, 10),
  group(8, 2, 11),
];

describe('the table of where people go', () => {
  it('sends everybody to the group of the same name', () => {
    expect(allSame(groups)).toEqual({ 1: 1, 2: 2, 3: 3, 4: 4, 5: 5, 6: 6, 7: 7, 8: 8 });
    expect(goNowhere(groups, allSame(groups))).toBe(0);
  });

  it('sends everybody one group up among those beside it; the last of each leave', () => {
    expect(allUp(groups)).toEqual({ 1: 1, 2: 2, 3: 4, 4: 5, 5: null, 6: 6, 7: 8, 8: null });
    expect(goNowhere(groups, allUp(groups))).toBe(33);
  });

  it('leaves a branch of one group as it is', () => {
    expect(allUp([group(1, 0, 9)])).toEqual({ 1: 1 });
  });
});
