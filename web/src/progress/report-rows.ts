import type { ProgressReport } from '@gate-roster/contract';
import { completion, type Tally } from '@gate-roster/core';

type Row = ProgressReport['rows'][number];

/** What the rows of the report are sorted by: their names as they come, how many learners, or how much of a course is done. */
export type SortedBy = { by: 'name' } | { by: 'learners'; most: boolean } | { by: 'course'; id: number; most: boolean };

/**
 * The first row is of the scope and stays; those below each row are sorted among themselves, so that a tree stays one.
 * @param courseIds In the order of the cells. What nobody has comes last.
 */
export function sortRows(rows: readonly Row[], sorted: SortedBy, courseIds: readonly number[]): Row[] {
  const column = sorted.by === 'course' ? courseIds.indexOf(sorted.id) : -1;
  const valueOf = (row: Row): number | null => {
    if (sorted.by === 'learners') return row.learners;
    const cell: Tally | null = row.cells[column] ?? null;
    return cell && completion(cell);
  };
  const below = new Map<number | null, Row[]>();
  for (const row of rows) if (row.depth > 0) below.set(row.parentId, [...(below.get(row.parentId) ?? []), row]);
  const inOrder = (list: readonly Row[]): readonly Row[] =>
    sorted.by === 'name'
      ? list
      : list.toSorted((a, b) => {
          const [one, other] = [valueOf(a), valueOf(b)];
          if (one === null || other === null) return Number(one === null) - Number(other === null);
          return sorted.most ? other - one : one - other;
        });
  const walk = (row: Row): Row[] => [row, ...(row.part === null ? inOrder(below.get(row.id) ?? []).flatMap(walk) : [])];
  return rows.filter(({ depth }) => depth === 0).flatMap(walk);
}

/** Rows of which no row above is folded. */
export function openRows(rows: readonly Row[], isFolded: (id: number) => boolean): Row[] {
  const shown = new Set<number>();
  return rows.filter((row) => {
    const isShown =
      row.depth === 0 ||
      row.part !== null ||
      row.depth === 1 ||
      (row.parentId !== null && shown.has(row.parentId) && !isFolded(row.parentId));
    if (isShown && row.part === null) shown.add(row.id);
    return isShown;
  });
}

/** Once by the most, once by the least, and then by name again. */
export const nextSort = (now: SortedBy, asked: { by: 'learners' } | { by: 'course'; id: number }): SortedBy => {
  const isSame = now.by === asked.by && (now.by !== 'course' || asked.by !== 'course' || now.id === asked.id);
  if (!isSame) return { ...asked, most: true };
  return now.most ? { ...asked, most: false } : { by: 'name' };
};

/** In an address: `learners`, `-learners`, `7` for a course, `-7`; least first with a minus. */
export const sortCode = {
  read(text: string): SortedBy | undefined {
    const found = /^(-?)(learners|[1-9]\d{0,14})$/u.exec(text);
    if (!found) return undefined;
    const most = found[1] === '';
    return found[2] === 'learners' ? { by: 'learners', most } : { by: 'course', id: Number(found[2]), most };
  },
  write: (sorted: SortedBy): string =>
    sorted.by === 'name' ? '' : `${sorted.most ? '' : '-'}${sorted.by === 'learners' ? 'learners' : String(sorted.id)}`,
};
