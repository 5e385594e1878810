import type { Answer, CourseRequest, Routes } from '@gate-roster/contract';
import { branchesWith } from '@gate-roster/core';
import { sql, type SQL } from 'drizzle-orm';
import type { SignedIn } from '../accounts/actor.ts';
import { seenGroups } from '../accounts/reach.ts';
import { ids, iso, oneRow, type Queryable, rows } from '../database/connect.ts';
import { groupsOf, onlyGroups } from '../people/scope.ts';

const shownAtOnce = 200;

export interface Scope {
  groupId: number;
  withSubgroups: boolean;
}

/** `r` waits for an answer, and can be answered: the course is open on request still, and the account works. */
const isWaiting = sql`r.until_at is null and r.state = 'asking'
  and exists (select 1 from course_now c where c.id = r.course_id and c.terms = 'request' and not c.archived)
  and exists (select 1 from person_state s where s.person_id = r.person_id and s.until_at is null and s.state = 'active')`;

/** Whoever asks (`r`) has a membership in these groups. */
const isIn = (groups: SQL): SQL =>
  sql`exists (select 1 from membership m where m.person_id = r.person_id and m.until_at is null and m.group_id in (${groups}))`;

/** Requests `r` that wait for a word of this actor. */
const decidedBy = (actor: SignedIn): SQL => {
  const tops = branchesWith(actor, 'openCourses');
  return sql`${isWaiting} and ${tops === null ? sql`true` : isIn(sql`select group_id from group_branch where ancestor_id = any(${ids(tops)})`)}`;
};

/** Requests `r` of people of the scope; null: of everybody of whom the actor decides. */
const ofScope = (scope: Scope | null): SQL => (scope === null ? sql`true` : isIn(groupsOf(scope.groupId, scope.withSubgroups)));

/** How many requests wait for the actor's word. */
export async function countCourseRequests(db: Queryable, actor: SignedIn, scope: Scope | null): Promise<number> {
  return (
    await oneRow<{ requests: number }>(
      db,
      sql`select count(*)::int as requests from course_request r where ${decidedBy(actor)} and ${ofScope(scope)}`,
    )
  ).requests;
}

/** Who of the scope asks for a course, the longest-waiting first, with their groups as far as the actor may see them. */
export async function courseRequestsInScope(db: Queryable, actor: SignedIn, scope: Scope): Promise<Answer<Routes['courseRequests']>> {
  const own = await seenGroups(db, actor);
  const found = await rows<CourseRequest & { of_all: number }>(
    db,
    sql`
    select r.row_id as id, r.person_id as "personId", trim(n.given_name || ' ' || n.family_name) as name, r.course_id as "courseId", c.name as course, r.asked_at as "askedAt", r.asking as words,
      (select coalesce(jsonb_agg(jsonb_build_object('id', g.id, 'name', g.name) order by m.row_id), '[]') from membership m join group_now g on g.id = m.group_id
        where m.person_id = r.person_id and m.until_at is null and ${onlyGroups(sql`m.group_id`, own)}) as groups,
      count(*) over ()::int as of_all
    from course_request r join personal_now n on n.person_id = r.person_id join course_now c on c.id = r.course_id
    where ${decidedBy(actor)} and ${ofScope(scope)} order by r.asked_at, r.row_id limit ${shownAtOnce}`,
  );
  return {
    requests: found.map(({ of_all: _, ...each }) => ({ ...each, askedAt: iso(each.askedAt) })),
    more: Math.max(0, (found[0]?.of_all ?? 0) - found.length),
  };
}
