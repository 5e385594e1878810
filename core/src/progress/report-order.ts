import { addTo } from '../lists/add-to.ts';
import { completion, type Tally } from './figures.ts';

/** What the rows of a report are sorted by: their names as they come, how many learners, or how much of a course is done. */
export type SortedBy = { by: 'name' } | { by: 'learners'; most: boolean } | { by: 'course'; id: number; most: boolean };

/** A row of a report: `cells` are in the order of its courses, null where nobody has one. */
interface OrderedRow {
  id: number;
  parentId: number | null;
  depth: number;
  /** Null: the row is a group. */
  part: object | null;
  learners: number;
  cells: readonly (Tally | null)[];
}

/**
 * The first row is of the scope and stays; those below each row are sorted among themselves, so that a tree stays one.
 * @param courseIds In the order of the cells. What nobody has comes last.
 */
export function sortRows<R extends OrderedRow>(rows: readonly R[], sorted: SortedBy, courseIds: readonly number[]): R[] {
  const column = sorted.by === 'course' ? courseIds.indexOf(sorted.id) : -1;
  const valueOf = (row: R): number | null => {
    if (sorted.by === 'learners') return row.learners;
    const cell = row.cells[column] ?? null;
    return cell && completion(cell);
  };
  const below = new Map<number | null, R[]>();
  for (const row of rows) if (row.depth > 0) addTo(below, row.parentId, row);
  const inOrder = (list: readonly R[]): readonly R[] =>
    sorted.by === 'name'
      ? list
      : [...list].sort((a, b) => {
          const [one, other] = [valueOf(a), valueOf(b)];
          if (one === null || other === null) return Number(one === null) - Number(other === null);
          return sorted.most ? other - one : one - other;
        });
  const walk = (row: R): R[] => [row, ...(row.part === null ? inOrder(below.get(row.id) ?? []).flatMap(walk) : [])];
  return rows.filter(({ depth }) => depth === 0).flatMap(walk);
}

/** Once by the most, once by the least, and then by name again. */
export const nextSort = (now: SortedBy, asked: { by: 'learners' } | { by: 'course'; id: number }): SortedBy => {
  const isSame = now.by === asked.by && (now.by !== 'course' || asked.by !== 'course' || now.id === asked.id);
  if (!isSame) return { ...asked, most: true };
  return now.most ? { ...asked, most: false } : { by: 'name' };
};

/** Written as in an address: `learners`, `-learners`, `7` for a course, `-7`, least first with a minus; empty: by name. */
export const sortText = /^((-?)(learners|[1-9]\d{0,14}))?$/u;

/** @returns Undefined for what is no order. */
export function readSort(text: string): SortedBy | undefined {
  const found = sortText.exec(text);
  if (!found) return undefined;
  const [, whole, minus, what = ''] = found;
  if (whole === undefined) return { by: 'name' };
  const most = minus === '';
  return what === 'learners' ? { by: 'learners', most } : { by: 'course', id: Number(what), most };
}

export const writeSort = (sorted: SortedBy): string =>
  sorted.by === 'name' ? '' : `${sorted.most ? '' : '-'}${sorted.by === 'learners' ? 'learners' : String(sorted.id)}`;

interface Medians {
  total: number | null;
  cells: readonly (number | null)[];
}

/** A report as it is shown: without some of its courses, and in an order. */
export function orderReport<
  R extends OrderedRow & { medians: Medians | null },
  T extends { courses: readonly { id: number }[]; rows: readonly R[] },
>(report: T, { without = [], by = '' }: { without?: readonly number[] | undefined; by?: string | undefined }): T {
  const leftOut = new Set(report.courses.flatMap(({ id }, index) => (without.includes(id) ? [index] : [])));
  const only = <V>(list: readonly V[]): V[] => list.filter((_, index) => !leftOut.has(index));
  const sorted = sortRows(
    report.rows,
    readSort(by) ?? { by: 'name' },
    report.courses.map(({ id }) => id),
  );
  return {
    ...report,
    courses: only(report.courses),
    rows: sorted.map((row) => ({
      ...row,
      cells: only(row.cells),
      medians: row.medians && { ...row.medians, cells: only(row.medians.cells) },
    })),
  };
}
