import type { GroupId } from '../groups/tree.ts';
import type { PersonId } from '../access/grant.ts';

/** In what leaves the platform without names, a row of fewer learners is added to another. */
export const leastShown = 5;

/** A group as one row. `people` is needed only of those that are too small. */
export interface SizedGroup {
  id: GroupId;
  size: number;
  people: readonly PersonId[];
}

/**
 * Groups that stand in one row, so that no row has fewer learners than `least`: a small one is added together with its smallest
 * neighbour, and a learner of both counts once.
 * @returns Rows of group ids; none when all together are too few to be shown.
 * @example Groups of 3, 4 and 20 give rows of 7 and 20; two groups of the same 3 people and one of 20 give one row.
 */
export function rowsWithoutSmall(groups: readonly SizedGroup[], least = leastShown): GroupId[][] {
  let rows = groups
    .filter(({ size }) => size > 0)
    .map(({ id, size, people }) => ({ ids: [id], size, people: size < least ? new Set(people) : null }));
  for (;;) {
    rows = rows.sort((a, b) => a.size - b.size);
    const [small, next, ...others] = rows;
    if (!small || small.size >= least) return rows.map(({ ids }) => ids);
    if (!next) return [];
    const people = small.people && next.people ? new Set([...small.people, ...next.people]) : null;
    const together = {
      ids: [...next.ids, ...small.ids],
      size: people?.size ?? next.size,
      people: people && people.size < least ? people : null,
    };
    rows = [together, ...others];
  }
}
