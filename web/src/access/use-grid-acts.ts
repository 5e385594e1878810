import type { AccessCell } from '@gate-roster/contract';
import { computed, type Ref, nextTick } from 'vue';
import { words } from '../words.ts';
import type { GridCursor } from './grid-cursor.ts';
import type { GridColumn, GridRow } from './shown-grid.ts';
import type { AccessDraft, CellDraft } from './use-access-draft.ts';

interface Grid {
  rows: Ref<GridRow[]>;
  columns: Ref<GridColumn[]>;
  cursor: GridCursor;
  draft: AccessDraft;
  /** What applies at a cell is shown; null: nothing is. */
  show: (cell: { groupId: number; courseId: number } | null) => void;
}

/** What a click, a range or a key does in the grid: it drafts, nothing more. */
export function useGridActs({ rows, columns, cursor, draft, show }: Grid) {
  const { at } = cursor;
  const cellAt = (row: GridRow | undefined, column: number): AccessCell | undefined => row?.cells[columns.value[column]?.index ?? -1];

  /** Drafts the same for the whole range, where one may. */
  function put(what: CellDraft | null): void {
    for (const place of cursor.places.value) {
      const row = rows.value[place.row];
      const course = columns.value[place.column]?.course;
      if (row?.mayOpen && !row.isAbove && course) draft.put(row.id, course.id, what);
    }
  }

  /** The commonest act is to open what is closed. A click on anything else shows what applies there and drafts nothing. */
  function choose(row: number, column: number, event: MouseEvent): void {
    cursor.goTo({ row, column }, event.shiftKey);
    if (event.shiftKey) document.getElementById(`cell-${row}-${column}`)?.focus();
    const target = rows.value[row];
    const course = columns.value[column]?.course;
    if (event.shiftKey || !target?.mayOpen || target.isAbove || !course) return;
    const now = draft.at(target.id, course.id);
    const cell = cellAt(target, column);
    const isPlain = cell?.state === 'closed' && cell.grants.length === 0;
    show(isPlain && !now ? null : { groupId: target.id, courseId: course.id });
    if (isPlain && !now) put({ effect: 'open' });
  }

  /** Cells of a drawn range in which the reader may draft. */
  const inRange = computed(() =>
    cursor.places.value.length < 2
      ? 0
      : cursor.places.value.filter(({ row }) => rows.value[row]?.mayOpen && !rows.value[row].isAbove).length,
  );
  /** Of those, in which something is drafted that can be taken back. */
  const drafted = computed(() =>
    cursor.places.value.some(({ row, column }) => draft.at(rows.value[row]?.id ?? 0, columns.value[column]?.course.id ?? 0) !== undefined),
  );

  function onKey(event: KeyboardEvent): void {
    if (cursor.step(event.key, event.shiftKey))
      void nextTick(() => document.getElementById(`cell-${at.value.row}-${at.value.column}`)?.focus());
    else if (event.key === 'Enter') showHere();
    else if (event.key === ' ') put({ effect: 'open' });
    else if (event.key === 'x' || event.key === 'X') put({ effect: 'block' });
    else if (event.key === 'Backspace' || event.key === 'Delete') leave();
    else return;
    event.preventDefault();
    event.stopPropagation();
  }

  /** What applies at the cell, with what can be done about it. */
  function showHere(): void {
    const row = rows.value[at.value.row];
    const course = columns.value[at.value.column]?.course;
    if (row && course && !row.isAbove) show({ groupId: row.id, courseId: course.id });
  }

  /** Takes back what was said here, so that the groups above decide. */
  function leave(): void {
    const row = rows.value[at.value.row];
    const course = columns.value[at.value.column]?.course;
    if (!row || !course) return;
    if (draft.at(row.id, course.id)) put(null);
    else if (cellAt(row, at.value.column)?.grants.length) put({ effect: 'end' });
  }

  const status = computed(() => {
    const row = rows.value[at.value.row];
    const course = columns.value[at.value.column]?.course;
    const cell = cellAt(row, at.value.column);
    return row && course && cell
      ? words.access.status(row.name, course.name, draft.at(row.id, course.id)?.effect ?? null, cell, course.units.length)
      : '';
  });

  return { put, choose, onKey, inRange, drafted, status };
}
