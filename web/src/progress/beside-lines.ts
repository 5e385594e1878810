import type { SideBySide } from '@gate-roster/contract';

export type BesideRow = SideBySide['rows'][number];

export interface BesideLine {
  row: BesideRow;
  /** The scope, below the groups. */
  isScope: boolean;
  /** How the line above stood on the earlier day. */
  isEarlier: boolean;
}

/**
 * Each group, below it how it stood on an earlier day, and the scope last. Cells of the earlier day stand in the order of the courses of
 * the later; a course that was not there yet has none.
 */
export function besideLines(now: SideBySide, sorted: readonly BesideRow[], then: SideBySide | null): BesideLine[] {
  const stood = (row: BesideRow, isScope: boolean): BesideLine[] => {
    const found = isScope ? then?.scope : then?.rows.find(({ id }) => id === row.id);
    if (!found || !then) return [];
    const cells = now.courses.map(({ id }) => found.cells[then.courses.findIndex((course) => course.id === id)] ?? null);
    return [{ row: { ...found, cells }, isScope, isEarlier: true }];
  };
  const list = [...sorted.map((row) => ({ row, isScope: false })), { row: now.scope, isScope: true }];
  return list.flatMap(({ row, isScope }) => [{ row, isScope, isEarlier: false }, ...stood(row, isScope)]);
}
