import { useGridCursor } from './grid-cursor.ts';

const cursor = () =>
  useGridCursor(
    () => 4,
    () => 3,
  );

describe('useGridCursor', () => {
  it('steps by arrows and stops at the edges', () => {
    const grid = cursor();
    for (const key of ['ArrowUp', 'ArrowLeft', 'ArrowDown', 'ArrowRight', 'ArrowRight', 'ArrowRight'])
      expect(grid.step(key, false)).toBe(true);
    expect(grid.at.value).toEqual({ row: 1, column: 2 });
    expect(grid.step('x', false)).toBe(false);
  });

  it('draws a range with shift from where it began, in any direction', () => {
    const grid = cursor();
    grid.goTo({ row: 2, column: 2 }, false);
    grid.step('ArrowUp', true);
    grid.step('ArrowLeft', true);
    expect(grid.places.value).toEqual([
      { row: 1, column: 1 },
      { row: 1, column: 2 },
      { row: 2, column: 1 },
      { row: 2, column: 2 },
    ]);
    expect([1, 0, 3].map((row) => grid.inRow(row)?.left ?? null)).toEqual([1, null, null]);
    // A set is chosen by its heading in the rows that the range has.
    grid.across(0, 1);
    expect(grid.places.value.map(({ row, column }) => [row, column])).toEqual([
      [1, 0],
      [1, 1],
      [2, 0],
      [2, 1],
    ]);
    grid.step('ArrowDown', false);
    expect(grid.places.value).toEqual([{ row: 3, column: 1 }]);
  });
});
