import type { AccessCell } from '@gate-roster/contract';
import { beforeEach, expect, test } from '@jest/globals';
import { ref } from 'vue';
import { useGridCursor } from './grid-cursor.ts';
import type { GridColumn, GridRow } from './shown-grid.ts';
import type { CellDraft } from './use-access-draft.ts';
import { useGridActs } from './use-grid-acts.ts';

const closed: AccessCell = { state: 'closed', units: 0, opensOn: null, openedHere: false, grants: [], decidedAt: null };
const open: AccessCell = {
  ...closed,
  state: 'here',
  grants: [
    {
      ...{ id: 5, set: null, effect: 'open', withSubgroups: false, firm: false, firstDay: '2026-12-01', lastDay: null },
      ...{ units: [11], due: null, payers: null, note: 'cadets', by: null, madeOn: '2026-11-03', mayEnd: true },
    },
  ],
};

/** Groups 1 to 3 by courses 10, 20, 30; the first group is above the reader's branch, and the second course is open in the second one. */
function atGrid() {
  const drafted = new Map<string, CellDraft | null>();
  const shown: unknown[] = [];
  const rows = [1, 2, 3].map(
    (id) =>
      ({ id, name: `g${id}`, mayOpen: true, isAbove: id === 1, cells: [closed, id === 2 ? open : closed, closed] }) as unknown as GridRow,
  );
  const columns = [10, 20, 30].map((id, index) => ({ index, course: { id, name: `c${id}`, units: [] } }) as unknown as GridColumn);
  const cursor = useGridCursor(
    () => rows.length,
    () => columns.length,
  );
  const acts = useGridActs({
    rows: ref(rows),
    columns: ref(columns),
    cursor,
    draft: {
      at: (group: number, course: number) => drafted.get(`${group}/${course}`) ?? null,
      put: (group: number, course: number, what: CellDraft | null) => drafted.set(`${group}/${course}`, what),
    } as never,
    show: (cell) => shown.push(cell),
  });
  const press = (key: string, more: Partial<KeyboardEvent> = {}): void => {
    acts.onKey({
      key,
      shiftKey: false,
      ctrlKey: false,
      metaKey: false,
      preventDefault: () => undefined,
      stopPropagation: () => undefined,
      ...more,
    } as KeyboardEvent);
  };
  return { acts, cursor, drafted, shown, press };
}
let grid: ReturnType<typeof atGrid>;
beforeEach(() => {
  (globalThis as { document?: unknown }).document = { getElementById: () => null };
  grid = atGrid();
});
const click = (row: number, column: number, shiftKey = false): void => {
  grid.acts.choose(row, column, { shiftKey } as MouseEvent);
};

test('a click opens what is closed, shows what is not, and drafts nothing above one’s own branch', () => {
  click(2, 0);
  expect([[...grid.drafted], grid.shown]).toEqual([[['3/10', { effect: 'open' }]], [null]]);
  click(1, 1);
  click(2, 0);
  click(0, 0);
  expect([grid.drafted.size, grid.shown.slice(1)]).toEqual([
    1,
    [
      { groupId: 2, courseId: 20 },
      { groupId: 3, courseId: 10 },
    ],
  ]);
});

test('keys draft for the whole range, only where one may', () => {
  click(0, 1);
  press('ArrowDown', true);
  press('ArrowDown', true);
  expect(grid.acts.inRange.value).toBe(2);
  press('x');
  expect([...grid.drafted]).toEqual([
    ['2/20', { effect: 'block' }],
    ['3/20', { effect: 'block' }],
  ]);
  expect(grid.acts.drafted.value).toBe(true);
});
const press = (key: string, shiftKey = false): void => {
  grid.press(key, { shiftKey });
};

test('what a cell says is copied to others: whole within its course, without its units elsewhere', () => {
  click(1, 1);
  grid.press('c', { ctrlKey: true });
  click(2, 1, true);
  grid.press('v', { ctrlKey: true });
  expect(grid.drafted.get('3/20')).toMatchObject({ effect: 'open', more: { units: [11], withSubgroups: false, note: 'cadets' } });
  grid.drafted.clear();
  click(1, 1);
  click(2, 2, true);
  expect(grid.acts.copyable.value?.courseId).toBe(20);
  grid.acts.copyFirst();
  expect([...grid.drafted].map(([cell, what]) => [cell, what?.more?.units])).toEqual([
    ['2/30', null],
    ['3/20', [11]],
    ['3/30', null],
  ]);
});

test('a cell that says two things at once, or something of a set, or nothing, is not copied', () => {
  click(2, 0);
  grid.drafted.clear();
  click(2, 0);
  grid.drafted.clear();
  grid.press('c', { ctrlKey: true });
  grid.press('v', { ctrlKey: true });
  expect(grid.drafted.size).toBe(0);
});

test('Backspace takes back a draft first, then what was said here, and nothing where nothing was', () => {
  click(1, 1);
  press('x');
  press('Backspace');
  expect(grid.drafted.get('2/20')).toBeNull();
  press('Backspace');
  expect(grid.drafted.get('2/20')).toEqual({ effect: 'end' });
  click(2, 2);
  grid.drafted.clear();
  press('Delete');
  expect(grid.drafted.size).toBe(0);
});
