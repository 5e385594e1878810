import { branchesWith, type GroupId } from '@gate-roster/core';
import type { Queryable } from '../database/connect.ts';
import { groupsInBranches } from '../groups/queries.ts';
import type { SignedIn } from './actor.ts';

/** The tops of what the actor may see; null: everything. */
export const branchTops = (actor: SignedIn): GroupId[] | null => branchesWith(actor, 'see');

/** The groups that the actor may know of; null: all. */
export async function seenGroups(db: Queryable, actor: SignedIn): Promise<Set<GroupId> | null> {
  const tops = branchTops(actor);
  return tops === null ? null : groupsInBranches(db, tops);
}

/** The groups through which the actor sees progress; null: all. */
export async function progressVia(db: Queryable, actor: SignedIn): Promise<Set<GroupId> | null> {
  const tops = branchesWith(actor, 'seeProgress');
  return tops === null ? null : groupsInBranches(db, tops);
}
