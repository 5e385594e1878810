import type { AccessGrid } from '@gate-roster/contract';
import { type GridWish, shownGrid } from './shown-grid.ts';

const cell = (isDecided: boolean) => ({ grants: isDecided ? [{}] : [] });
const row = (id: number, parentId: number | null, decided: readonly boolean[], isAbove = false) => ({
  id,
  parentId,
  isAbove,
  cells: decided.map(cell),
});
/** 1 and 2 are above the scope 3; 4 and 6 are in it, 5 is in 4. */
const grid = {
  courses: [
    { id: 10, name: 'VHF radio', set: 'Basics' },
    { id: 11, name: 'Engine care', set: null },
    { id: 12, name: 'Radio at night', set: 'Basics' },
  ],
  rows: [
    row(1, null, [false, false, false], true),
    row(2, 1, [true, false, false], true),
    row(3, 2, [false, false, false]),
    row(4, 3, [false, true, false]),
    row(5, 4, [false, false, false]),
    row(6, 3, [false, false, false]),
  ],
} as unknown as AccessGrid;
const wish = (more: Partial<GridWish>): GridWish => ({
  scopeId: 3,
  withSubgroups: true,
  find: '',
  onlyDecided: false,
  without: [],
  isGroupFolded: () => false,
  isSetFolded: () => false,
  onlyCourse: null,
  noSet: 'Other',
  ...more,
});
const said = (more: Partial<GridWish>) => {
  const { rows, sets } = shownGrid(grid, wish(more));
  return {
    rows: rows.map(({ id }) => id),
    sets: sets.map(({ name, isFolded, columns }) => [name, isFolded, columns.map(({ index }) => index)]),
  };
};

test('groups above show only with a word of theirs, and what is folded hides all below it', () => {
  expect(said({}).rows).toEqual([2, 3, 4, 5, 6]);
  expect(said({ isGroupFolded: (id) => id === 4 }).rows).toEqual([2, 3, 4, 6]);
  expect(said({ isGroupFolded: (id) => id === 3 }).rows).toEqual([2, 3]);
  expect(said({ withSubgroups: false }).rows).toEqual([2, 3]);
});

test('columns stand by set, keep their place in a row, and can be looked for even in a folded set', () => {
  expect(said({}).sets).toEqual([
    ['Basics', false, [0, 2]],
    ['Other', false, [1]],
  ]);
  expect(said({ find: ' radio', isSetFolded: () => true }).sets).toEqual([['Basics', false, [0, 2]]]);
  expect(said({ isSetFolded: (name) => name === 'Basics' }).sets[0]).toEqual(['Basics', true, [0, 2]]);
  expect(said({ without: [10, 11] }).sets).toEqual([['Basics', false, [2]]]);
  expect(said({ onlyCourse: 11, isSetFolded: () => true }).sets).toEqual([['Other', false, [1]]]);
});

test('only where something was decided: groups and courses with a statement, and the scope itself', () => {
  expect(said({ onlyDecided: true })).toEqual({
    rows: [2, 3, 4],
    sets: [
      ['Basics', false, [0]],
      ['Other', false, [1]],
    ],
  });
});
