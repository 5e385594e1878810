import type { AccessGrid } from '@gate-roster/contract';

export type GridRow = AccessGrid['rows'][number];

export interface GridColumn {
  course: AccessGrid['courses'][number];
  /** Where its cell stands in a row. */
  index: number;
}

export interface ShownSet {
  name: string;
  isFolded: boolean;
  columns: GridColumn[];
}

export interface GridWish {
  scopeId: number;
  withSubgroups: boolean;
  /** Part of a course's name. */
  find: string;
  /** Only groups and courses where a statement stands. */
  onlyDecided: boolean;
  /** Courses that are no columns. */
  without: readonly number[];
  isGroupFolded: (groupId: number) => boolean;
  isSetFolded: (name: string) => boolean;
  /** On a narrow window: only this course. */
  onlyCourse: number | null;
  /** How courses in no set are headed. */
  noSet: string;
}

const isDecided = ({ cells }: GridRow): boolean => cells.some(({ grants }) => grants.length > 0);

/** Rows and columns of the grid that are shown: what is folded, above without a word, or not looked for is left out. */
export function shownGrid(grid: AccessGrid, wish: GridWish): { rows: GridRow[]; sets: ShownSet[] } {
  const hidden = new Set<number>();
  const rows = grid.rows.filter((row) => {
    // A group above shows only where something comes from it, and the branch only with its subgroups on.
    if (row.isAbove) return isDecided(row);
    if (row.id === wish.scopeId) return true;
    if (row.parentId !== null && (wish.isGroupFolded(row.parentId) || hidden.has(row.parentId))) hidden.add(row.id);
    return !hidden.has(row.id) && wish.withSubgroups && (!wish.onlyDecided || isDecided(row));
  });
  const wanted = wish.find.trim().toLowerCase();
  const sets = new Map<string, ShownSet>();
  for (const [index, course] of grid.courses.entries()) {
    if (wish.onlyCourse !== null && course.id !== wish.onlyCourse) continue;
    if (wish.without.includes(course.id)) continue;
    if (wanted !== '' && !course.name.toLowerCase().includes(wanted)) continue;
    if (wish.onlyDecided && !rows.some(({ cells }) => (cells[index]?.grants.length ?? 0) > 0)) continue;
    const name = course.set ?? wish.noSet;
    // Who looks for a course sees it, folded or not.
    const isFolded = wish.onlyCourse === null && wanted === '' && wish.isSetFolded(name);
    const set = sets.get(name) ?? { name, isFolded, columns: [] };
    sets.set(name, set);
    set.columns.push({ course, index });
  }
  return { rows, sets: [...sets.values()] };
}
