import fc from 'fast-check';
import { rowsWithoutSmall } from './small-groups.ts';

const group = (id: number, people: readonly number[]) => ({ id, size: new Set(people).size, people: [...new Set(people)] });

test('small groups are added to their smallest neighbour, and the same people count once', () => {
  const of = (from: number, count: number): number[] => Array.from({ length: count }, (_, nth) => from + nth);
  expect(rowsWithoutSmall([group(1, of(0, 3)), group(2, of(10, 4)), group(3, of(20, 20))])).toEqual([[2, 1], [3]]);
  expect(rowsWithoutSmall([group(1, of(0, 3)), group(2, of(0, 3)), group(3, of(20, 20))])).toEqual([[3, 2, 1]]);
  expect(rowsWithoutSmall([group(1, of(0, 4))])).toEqual([]);
  expect(rowsWithoutSmall([])).toEqual([]);
});

test('no row has fewer than five people, no group is lost or twice, and nothing large is merged without need', () => {
  fc.assert(
    fc.property(fc.array(fc.array(fc.nat(30), { minLength: 1, maxLength: 12 }), { maxLength: 8 }), (lists) => {
      const groups = lists.map((people, id) => group(id, people));
      const rows = rowsWithoutSmall(groups);
      const everybody = new Set(lists.flat());
      const peopleOf = (ids: readonly number[]): Set<number> => new Set(ids.flatMap((id) => lists[id] ?? []));
      for (const ids of rows) expect(peopleOf(ids).size).toBeGreaterThanOrEqual(5);
      if (rows.length > 0) expect(rows.flat().sort()).toEqual(groups.map(({ id }) => id).sort());
      else expect(everybody.size < 5 || groups.length === 0).toBe(true);
      if (groups.every(({ size }) => size >= 5)) expect(rows.every((ids) => ids.length === 1)).toBe(true);
    }),
  );
});
