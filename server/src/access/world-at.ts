import type { CourseGrants, Day, Tree } from '@gate-roster/core';
import { sql } from 'drizzle-orm';
import type { SignedIn } from '../accounts/actor.ts';
import { oneRow, type Queryable } from '../database/connect.ts';
import { type Standing, standsNow, stoodAtEndOf } from '../database/history.ts';
import { loadTree, wholeTree } from '../groups/queries.ts';
import { seesHome } from '../courses/own-courses.ts';
import { grantsByCourse, loadGrants } from './load-rules.ts';

/** Everything that access follows from, for one day. */
export interface AccessWorld {
  day: Day;
  isPast: boolean;
  /** Which rows count: of a past day those that stood when it ended, else those that stand. */
  stands: Standing;
  tree: Tree;
  courses: readonly CourseGrants[];
}

/** A past day as it stood when it ended; a later one, or none, as things stand now; of courses, those that the reader may know of. With `courseId` of that course alone. */
export async function accessWorld(
  db: Queryable,
  actor: SignedIn,
  day: Day = actor.today,
  courseId: number | null = null,
): Promise<AccessWorld> {
  const today = await wholeTree(db);
  const seen = (courses: readonly CourseGrants[]): CourseGrants[] =>
    courses.filter(({ course: { home = null } }) => home === null || seesHome(actor, today, home));
  if (day >= actor.today) {
    const courses = seen(await grantsByCourse(db, courseId === null ? null : [courseId]));
    return { day, isPast: false, stands: standsNow, tree: today, courses };
  }
  const stands = stoodAtEndOf(day, actor.timeZone);
  return { day, isPast: true, stands, tree: await loadTree(db, stands), courses: seen(await loadGrants(db, stands, courseId)) };
}

/** The first day whose end is on record. */
export async function historySince(db: Queryable, { timeZone }: SignedIn): Promise<Day> {
  return (
    await oneRow<{ day: Day }>(
      db,
      sql`select coalesce((min(from_at) at time zone ${timeZone})::date, current_date) as day from group_version`,
    )
  ).day;
}
