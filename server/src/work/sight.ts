import { sql, type SQL } from 'drizzle-orm';
import type { SignedIn } from '../accounts/actor.ts';
import { type ProgressSight, progressSight, seenThrough } from '../accounts/reach.ts';
import { ids, type Queryable } from '../database/connect.ts';

/** A condition on enrolments `e`: in a group that the reader sees, and open, or worked on, through one. */
export const isSeen = (sight: NonNullable<ProgressSight>): SQL =>
  sql`${seenThrough(sight, sql`e.via_groups`)} and exists (select 1 from membership m where m.person_id = e.person_id and m.until_at is null and m.group_id = any(${ids(sight.own)}))`;

/**
 * A condition on enrolments `e`: their work may be marked by the actor. A leader marks learners who are in a group of a branch
 * where they hold the power, in courses that are open, or were worked on, through a group that they see.
 */
export async function isMarkable(db: Queryable, actor: SignedIn): Promise<SQL> {
  const works = sql`exists (select 1 from person_state s where s.person_id = e.person_id and s.until_at is null and s.state = 'active')`;
  const sight = await progressSight(db, actor, 'markWork');
  return sight === null ? works : sql`${works} and ${isSeen(sight)}`;
}
