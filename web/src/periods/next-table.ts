import type { Answer, Routes } from '@gate-roster/contract';

export type PeriodGroup = Answer<Routes['period']>['groups'][number];
/** For each group, the group whose copy its people go to; null: they leave. */
export type MoveTable = Record<number, number | null>;

export const allSame = (groups: readonly PeriodGroup[]): MoveTable => Object.fromEntries(groups.map(({ id }) => [id, id]));

/**
 * Everybody goes on to the copy of the next group beside theirs, in the order in which they stand; those of the last leave. The top
 * and groups with others below stay with their own copy.
 */
export function allUp(groups: readonly PeriodGroup[]): MoveTable {
  const isAbove = (index: number): boolean => (groups[index + 1]?.depth ?? -1) > (groups[index]?.depth ?? 0);
  return Object.fromEntries(
    groups.map(({ id, depth }, index) => {
      if (isAbove(index) || depth === 0) return [id, id];
      const rest = groups.slice(index + 1);
      const end = rest.findIndex((each) => each.depth < depth);
      const next = (end === -1 ? rest : rest.slice(0, end)).find((each) => each.depth === depth);
      return [id, next?.id ?? null];
    }),
  );
}

/** How many memberships end without another. */
export const goNowhere = (groups: readonly PeriodGroup[], table: MoveTable): number =>
  groups.reduce((sum, { id, people }) => sum + (table[id] == null ? people : 0), 0);
