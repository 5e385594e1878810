import { hasPayers, type Tree } from '@gate-roster/core';
import type { Queryable } from '../database/connect.ts';
import { grantsByCourse } from './load-rules.ts';

/**
 * Courses for which anything can be another when a branch leaves or enters the branches of these groups: by a statement there, by
 * its maker, or by who pays. Null: all of them, since a group above has days of its own or is archived.
 */
export async function inheritedCourses(db: Queryable, tree: Tree, above: readonly number[]): Promise<number[] | null> {
  const isPlain = (id: number): boolean => {
    const { state, firstDay, lastDay } = tree.node(id);
    return state === 'active' && firstDay === null && lastDay === null;
  };
  if (!above.every((id) => tree.has(id) && isPlain(id))) return null;
  const concerned = new Set(above);
  const about = await grantsByCourse(db, null);
  return about
    .filter(
      ({ grants }) =>
        hasPayers(grants) ||
        grants.some(
          ({ at, makerBranch }) => ('group' in at && concerned.has(at.group)) || (makerBranch !== null && concerned.has(makerBranch)),
        ),
    )
    .map(({ course }) => course.id);
}
