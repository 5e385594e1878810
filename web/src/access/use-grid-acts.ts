import type { AccessCell } from '@gate-roster/contract';
import { computed, type Ref, nextTick, shallowRef } from 'vue';
import * as words from '../words.ts';
import type { GridCursor, Place } from './grid-cursor.ts';
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

/**
 * What a cell says, to be said at others: what is drafted there, else its one statement. Units are those of its own course.
 * @returns Null when it says nothing, or several things at once.
 */
export function saidAt(drafted: CellDraft | null, cell: AccessCell | undefined): Omit<CellDraft, 'ends'> | null {
  if (drafted) return drafted.effect === 'end' ? null : { effect: drafted.effect, ...(drafted.more ? { more: drafted.more } : {}) };
  const [said, ...others] = (cell?.grants ?? []).filter(({ set }) => set === null);
  if (!said || others.length > 0) return null;
  const { effect, withSubgroups, firm, firstDay, lastDay, units, due, payers, note } = said;
  return { effect, more: { withSubgroups, firm, firstDay, lastDay, units, due, payers, note } };
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

  /** What was copied, and from which course: units are of one course only. */
  const copied = shallowRef<{ said: Omit<CellDraft, 'ends'>; courseId: number } | null>(null);
  const readAt = ({ row, column }: Place): typeof copied.value => {
    const [group, course] = [rows.value[row], columns.value[column]?.course];
    const said = group && course ? saidAt(draft.at(group.id, course.id), cellAt(group, column)) : null;
    return said && course ? { said, courseId: course.id } : null;
  };
  /** Drafts it for the range, except where it came from. */
  function paste(from: typeof copied.value, except: Place | null = null): void {
    if (!from) return;
    for (const place of cursor.places.value) {
      const row = rows.value[place.row];
      const course = columns.value[place.column]?.course;
      if (!row?.mayOpen || row.isAbove || !course || (place.row === except?.row && place.column === except.column)) continue;
      const { effect, more = {} } = from.said;
      draft.put(row.id, course.id, { effect, more: course.id === from.courseId ? more : { ...more, units: null } });
    }
  }
  /** What the cell says at which the range was begun. */
  const copyable = computed(() => (cursor.places.value.length < 2 ? null : readAt(cursor.begun.value)));

  /** The pointer, held down, comes to a cell: the range reaches it. */
  function drag(row: number, column: number): void {
    cursor.goTo({ row, column }, true);
    document.getElementById(`cell-${row}-${column}`)?.focus();
  }

  /** Cells of a drawn range in which the reader may draft. */
  const inRange = computed(() =>
    cursor.places.value.length < 2
      ? 0
      : cursor.places.value.filter(({ row }) => rows.value[row]?.mayOpen && !rows.value[row].isAbove).length,
  );
  /** Of those, in which something is drafted that can be taken back. */
  const drafted = computed(() =>
    cursor.places.value.some(({ row, column }) => draft.at(rows.value[row]?.id ?? 0, columns.value[column]?.course.id ?? 0) !== null),
  );

  function onKey(event: KeyboardEvent): void {
    if ((event.ctrlKey || event.metaKey) && event.key === 'c') copied.value = readAt(at.value);
    else if ((event.ctrlKey || event.metaKey) && event.key === 'v') paste(copied.value);
    else if (cursor.step(event.key, event.shiftKey))
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

  return {
    put,
    choose,
    drag,
    onKey,
    inRange,
    drafted,
    copyable,
    copyFirst: () => paste(copyable.value, cursor.begun.value),
    status,
  };
}
