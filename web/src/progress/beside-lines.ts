import type { SideBySide } from '@gate-roster/contract';
import { type Apart, completion, setApart } from '@gate-roster/core';

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

/** A row of the tree, as far as groups are chosen from it. */
interface TreeRow {
  id: number;
  parentId: number | null;
}
export const mostGroups = 6;

/** What stands side by side until somebody chooses: the groups right below a group, or, where it has fewer than two, those beside it. */
export function groupsAround(rows: readonly TreeRow[], groupId: number): number[] {
  const group = rows.find(({ id }) => id === groupId);
  if (!group) return [];
  const under = (parent: number | null): number[] => rows.flatMap(({ id, parentId }) => (parentId === parent ? [id] : []));
  const below = under(group.id);
  return (below.length > 1 ? below : under(group.parentId)).slice(0, mostGroups);
}

const shownAtFirst = 4;
type ShownCourse = SideBySide['courses'][number] & { index: number };

export interface Compared {
  /** The courses that are shown, each with its place in the cells of a row. */
  courses: ShownCourse[];
  /** Rows by one course: who is least far first, and who does not have it before all others. */
  sorted: BesideRow[];
  /** By which of the cells they are sorted; null: there is no course. */
  by: number | null;
  /** The course in which the groups are furthest apart, and which ones are; null: they cannot be compared. */
  furthest: { course: string; points: number; least: string; most: string; isSmall: boolean } | null;
}

/** @param wished Ids of the courses that somebody chose; null: those in which the groups are furthest apart. */
export function compare(
  { courses, rows }: Pick<SideBySide, 'courses' | 'rows'>,
  wished: readonly number[] | null,
  sortedBy: number | null,
): Compared {
  const apart = setApart(rows.map(({ cells }) => cells));
  const asked = wished ?? apart.slice(0, shownAtFirst).map(({ course }) => courses[course]?.id ?? 0);
  const shown = asked.flatMap((id): ShownCourse[] => {
    const index = courses.findIndex((course) => course.id === id);
    const course = courses[index];
    return course ? [{ ...course, index }] : [];
  });
  const by = sortedBy ?? shown[0]?.index ?? null;
  const rateOf = ({ cells }: BesideRow): number => {
    const cell = by === null ? null : cells[by];
    return (cell ? completion(cell) : null) ?? -1;
  };
  return { courses: shown, sorted: rows.toSorted((a, b) => rateOf(a) - rateOf(b)), by, furthest: furthestOf(apart[0], courses, rows) };
}

function furthestOf(first: Apart | undefined, courses: SideBySide['courses'], rows: readonly BesideRow[]): Compared['furthest'] {
  if (first === undefined || first.points === null) return null;
  const { course, points, least, most, isSmall } = first;
  return { course: courses[course]?.name ?? '', points, least: rows[least]?.name ?? '', most: rows[most]?.name ?? '', isSmall };
}
