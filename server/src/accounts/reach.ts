import { branchesWith, type GroupId, type Power } from '@gate-roster/core';
import { sql, type SQL } from 'drizzle-orm';
import { ids, isAmong, type Queryable } from '../database/connect.ts';
import * as tables from '../database/schema.ts';
import { groupsInBranches } from '../groups/queries.ts';
import type { SignedIn } from './actor.ts';

/** The tops of what the actor may see; null: everything. */
export const branchTops = (actor: SignedIn): GroupId[] | null => branchesWith(actor, 'see');

/** The groups that the actor may know of; null: all. */
export async function seenGroups(db: Queryable, actor: SignedIn): Promise<Set<GroupId> | null> {
  const tops = branchTops(actor);
  return tops === null ? null : groupsInBranches(db, tops);
}

/** What a leader sees of progress; null: everything. */
export type ProgressSight = {
  /** Groups whose people they see. */
  own: readonly GroupId[];
  /** Groups through which an enrolment of these people may be open for the leader to see it: their own, and those above. */
  via: readonly GroupId[];
} | null;

/** @param act What else than progress is looked at the same way: `see` for what is open to whom, `markWork` for what was handed in. */
export async function progressSight(db: Queryable, actor: SignedIn, act: Power | 'see' = 'seeProgress'): Promise<ProgressSight> {
  const tops = branchesWith(actor, act);
  if (tops === null) return null;
  const own = [...(await groupsInBranches(db, tops))];
  const above = await db
    .selectDistinct({ id: tables.groupBranch.ancestorId })
    .from(tables.groupBranch)
    .where(isAmong(tables.groupBranch.groupId, tops));
  return { own, via: [...new Set([...own, ...above.map(({ id }) => id)])] };
}

/** Is any of these groups one through which the reader sees? */
export const seenThrough = (sight: ProgressSight, groups: SQL): SQL => (sight === null ? sql`true` : sql`${groups} && ${ids(sight.via)}`);
