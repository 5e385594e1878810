import { mostLevels, type ProgressReport } from '@gate-roster/contract';
import { readLearnerSort, readSort, type SortedBy, writeSort } from '@gate-roster/core';
import type { UrlCode } from '../shell/url-state.ts';

type Row = ProgressReport['rows'][number];

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

/** Groups without one and those below it. */
export function withoutBranch(ids: readonly number[], rows: readonly Row[], top: number): number[] {
  const parents = new Map(rows.flatMap(({ id, parentId, part }) => (part === null ? [[id, parentId] as const] : [])));
  const isBelow = (id: number): boolean => {
    for (let at: number | null = id; at !== null; at = parents.get(at) ?? null) if (at === top) return true;
    return false;
  };
  return ids.filter((id) => !isBelow(id));
}

/** How many levels of subgroups are asked for, in an address; 0: as many as fit. */
export const levelsCode: UrlCode<number> = {
  read: (text) => (/^[0-9]$/u.test(text) && Number(text) <= mostLevels ? Number(text) : undefined),
  write: String,
};
/** How rows are sorted, in an address. */
export const sortCode: UrlCode<SortedBy> = { read: readSort, write: writeSort };
/** How learners are sorted, in an address. */
export const learnerSortCode: UrlCode<string> = { read: (text) => (readLearnerSort(text) ? text : undefined), write: (value) => value };
