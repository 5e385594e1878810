/* Which groups are rows of a report. */

export interface GroupInBranch {
  id: number;
  parentId: number | null;
  /** Levels below the top of the branch. */
  depth: number;
}

/** Levels that are shown when none are asked for, and as many cells as make a table of a moderate size. */
export const usualLevels = 2;
const moderateCells = 5000;
/** Levels that would make more rows than these are left out even if they are asked for. */
const mostRows = 2000;

/**
 * The groups that are rows: so many levels, and those right below a group that is unfolded and is a row itself.
 * @param branch Level by level. @param levels 0: as many as make a table of a moderate size.
 * @param columns Courses there can be.
 */
export function shownGroups<G extends GroupInBranch>(
  branch: readonly G[],
  { levels, unfold, columns }: { levels: number; unfold: ReadonlySet<number>; columns: number },
): G[] {
  const most = levels === 0 ? moderateCells / Math.max(columns, 1) : mostRows;
  let deepest = levels === 0 ? usualLevels : levels;
  while (deepest > 1 && branch.filter(({ depth }) => depth <= deepest).length > most) deepest--;
  const shown = new Set<number>();
  return branch.filter(({ id, parentId, depth }) => {
    const isShown = depth <= deepest || (parentId !== null && unfold.has(parentId) && shown.has(parentId));
    if (isShown) shown.add(id);
    return isShown;
  });
}
