import type { Change } from '@gate-roster/contract';
import { type Actor, type GroupId, type Tree, may } from '@gate-roster/core';
import { sql, type SQL } from 'drizzle-orm';
import type { SignedIn } from '../accounts/actor.ts';
import { progressSight } from '../accounts/reach.ts';
import type { PlanContext } from '../changes/plan.ts';
import { ids, maybeRow, type Queryable, rows } from '../database/connect.ts';
import { notFound } from '../http/problem.ts';

/* A branch's own courses: made by its leaders, opened within it, and known to nobody else. */

/** Courses that the reader may know of, by their home: everybody's, and own ones of the branches they lead and of those above and below. */
export async function courseSight(db: Queryable, actor: SignedIn): Promise<(home: SQL) => SQL> {
  const sight = await progressSight(db, actor, 'see');
  return (home) => (sight === null ? sql`true` : sql`(${home} is null or ${home} = any(${ids(sight.via)}))`);
}

export const seesHome = (actor: Actor, tree: Tree, home: GroupId): boolean =>
  actor.role === 'administrator' ||
  (tree.has(home) && actor.leaderships.some(({ groupId }) => tree.isInBranch(home, groupId) || tree.isInBranch(groupId, home)));

/** May the actor edit a course with this home? Everybody's (null) are an administrator's. */
export const mayMakeCourses = (actor: Actor, tree: Tree, home: GroupId | null): boolean =>
  actor.role === 'administrator' || (home !== null && tree.has(home) && may(actor, 'makeCourses', { path: tree.path(home) }));

/** Whatever a change is about: own courses of branches that the actor does not see are not there. @throws ProblemError `not-found` */
export async function checkCoursesSeen({ db, actor, tree }: PlanContext, change: Change): Promise<void> {
  if (actor.role === 'administrator') return;
  const named = namedIn(change);
  if (named.courses.length + named.activities.length === 0) return;
  const homes = await rows<{ home: number }>(
    db,
    sql`select distinct c.home_id as home from course_now c where c.home_id is not null and (c.id = any(${ids(named.courses)})
      or c.id in (select course_id from activity where id = any(${ids(named.activities)})))`,
  );
  if (!homes.every(({ home }) => seesHome(actor, tree, home))) throw notFound();
}

/** Numbers of courses and activities anywhere in a change, by the names that the contract gives them. */
export function namedIn(change: Change): { courses: number[]; activities: number[] } {
  const found = { courses: new Set<number>(), activities: new Set<number>() };
  const numbers = (value: unknown): number[] => [value].flat().filter((each) => typeof each === 'number');
  const walk = (value: unknown): void => {
    if (typeof value !== 'object' || value === null) return;
    for (const [key, inner] of Object.entries(value)) {
      if (/^(courseIds?|courses?)$/u.test(key)) for (const id of numbers(inner)) found.courses.add(id);
      if (/^activit(yId|yIds|ies)$/u.test(key)) for (const id of numbers(inner)) found.activities.add(id);
      walk(inner);
    }
  };
  walk(change);
  return { courses: [...found.courses], activities: [...found.activities] };
}

/** The file of an activity, and its course. */
export const fileOfActivity = (
  db: Queryable,
  activityId: number,
): Promise<{ courseId: number; unitId: number; uploadId: number | null; home: number | null } | null> =>
  maybeRow(
    db,
    sql`select a.course_id as "courseId", a.unit_id as "unitId", (a.content->>'uploadId')::bigint as "uploadId", c.home_id as home
    from activity_now a join course_now c on c.id = a.course_id where a.id = ${activityId}`,
  );
