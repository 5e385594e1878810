import type { Answer, CourseOnDay, Routes, WhyStep } from '@gate-roster/contract';
import { courseRules, type Day, may, memberOf, opensLater, resolve } from '@gate-roster/core';
import { and, eq, isNull, sql } from 'drizzle-orm';
import type { SignedIn } from '../accounts/actor.ts';
import { progressSight, seenGroups } from '../accounts/reach.ts';
import { ids, type Queryable, rows } from '../database/connect.ts';
import * as tables from '../database/schema.ts';
import { wholeTree } from '../groups/queries.ts';
import type { Deps } from '../http/deps.ts';
import { found, notFound } from '../http/problem.ts';
import { groupsOf, visiblePerson } from '../people/scope.ts';
import { whySteps } from '../people/sheet.ts';
import { enrolmentsOf } from '../progress/enrolments.ts';
import type { Scope } from './course-requests.ts';
import { aboutGrants, statementOf } from './grid.ts';
import { learners } from './load-rules.ts';
import { type AccessWorld, accessWorld, historySince } from './world-at.ts';

/**
 * Which courses were, or will be, open to somebody on a day, and why. A leader sees what is open through groups of their sight.
 * @throws ProblemError `not-found` when the reader does not see the person, or not their progress.
 */
export async function personCoursesOn(
  db: Queryable,
  actor: SignedIn,
  personId: number,
  day: Day,
): Promise<Answer<Routes['personCourses']>> {
  await mayReadProgressOf(db, actor, personId);
  const own = await seenGroups(db, actor);
  const sight = await progressSight(db, actor);
  const world = await accessWorld(db, actor, day);
  const [learner] = await learners(db, [personId], world.stands);
  const names = await namesOf(db, world);
  const courses = !learner
    ? []
    : world.courses.map((about): CourseOnDay => {
        const rules = courseRules(world.tree, about.course, about.grants);
        const access = resolve(rules, learner, day);
        const isSeen = sight === null || access.paths.some(({ groupId }) => groupId !== null && sight.via.includes(groupId));
        const units = isSeen ? access.units.length : 0;
        return {
          id: about.course.id,
          name: names.get(about.course.id) ?? '',
          open: units > 0,
          units,
          allUnits: about.course.units.length,
          opensLater: units > 0 ? null : opensLater(rules, learner, day),
          why: whySteps(about, access.chain, world.tree, own),
        };
      });
  return { day, isPast: world.isPast, since: await historySince(db, actor), isKnown: learner !== undefined, courses };
}

/**
 * How far somebody was in their courses at the end of a past day, or what a later day asks of them: due days and lateness as judged on it.
 * @throws ProblemError `not-found` as above; `busy` while a past day is still being made.
 */
export async function personStandings(
  { db, pastDays }: Pick<Deps, 'db' | 'pastDays'>,
  actor: SignedIn,
  personId: number,
  day: Day,
): Promise<Answer<Routes['personStandings']>> {
  await mayReadProgressOf(db, actor, personId);
  const sight = await progressSight(db, actor);
  const then = day < actor.today ? (await pastDays.at(day, actor.timeZone)).db : db;
  const enrolments = await enrolmentsOf(then, [personId], { today: day, sight, dueSoonDays: actor.dueSoonDays });
  return { standings: enrolments.map(({ courseId, status, lateness, due, score }) => ({ courseId, status, lateness, due, score })) };
}

async function mayReadProgressOf(db: Queryable, actor: SignedIn, personId: number): Promise<void> {
  await visiblePerson(db, actor, personId);
  const tree = await wholeTree(db);
  const groups = await db
    .select({ id: tables.membership.groupId })
    .from(tables.membership)
    .where(and(eq(tables.membership.personId, personId), isNull(tables.membership.untilAt)));
  if (actor.role !== 'administrator' && !groups.some(({ id }) => may(actor, 'seeProgress', { path: tree.path(id) }))) throw notFound();
}

async function namesOf(db: Queryable, { stands }: AccessWorld): Promise<Map<number, string>> {
  const list = await rows<{ id: number; name: string }>(
    db,
    sql`select c.course_id as id, c.name from course_version c where ${stands('c')}`,
  );
  return new Map(list.map(({ id, name }) => [id, name]));
}

/**
 * The chain that decided for whoever was, or will be, in a group and nowhere else.
 * @throws ProblemError `not-found` when there was no such course or group on that day.
 */
export async function whyAt(db: Queryable, actor: SignedIn, groupId: number, courseId: number, day?: Day): Promise<WhyStep[]> {
  const world = await accessWorld(db, actor, day, courseId);
  const about = found(world.courses[0]);
  if (!world.tree.has(groupId)) throw notFound();
  const rules = courseRules(world.tree, about.course, about.grants);
  const { chain } = resolve(rules, memberOf(groupId), world.day);
  return whySteps(about, chain, world.tree, await seenGroups(db, actor));
}

/**
 * What opened, or will open, a course in a scope on a day, and to how many of its learners.
 * @throws ProblemError `not-found` when there was no such course yet.
 */
export async function courseOnDay(
  db: Queryable,
  actor: SignedIn,
  scope: Scope,
  courseId: number,
  day: Day,
): Promise<Answer<Routes['courseOnDay']>> {
  const world = await accessWorld(db, actor, day, courseId);
  const about = found(world.courses[0]);
  const seen = await seenGroups(db, actor);
  const now = await wholeTree(db);
  const near = new Set([...now.path(scope.groupId), ...(scope.withSubgroups ? now.branch(scope.groupId) : [])]);
  const said = about.grants.flatMap((grant) =>
    'group' in grant.at && near.has(grant.at.group) && (seen === null || seen.has(grant.at.group)) && world.tree.has(grant.at.group)
      ? [{ grant, groupId: grant.at.group }]
      : [],
  );
  const makers = await aboutGrants(
    db,
    actor,
    said.map(({ groupId }) => groupId),
    world.stands,
  );
  const classes = await classesOn(db, world, scope, [...new Set(about.grants.flatMap(({ at }) => ('person' in at ? [at.person] : [])))]);
  const rules = courseRules(world.tree, about.course, about.grants);
  const isOpen = ({ personId, groups }: LearnersOn): boolean =>
    resolve(
      rules,
      {
        personId,
        active: true,
        firstDay: null,
        lastDay: null,
        memberships: groups.map((groupId) => ({ groupId, firstDay: null, lastDay: null })),
      },
      day,
    ).units.length > 0;
  const sum = (list: readonly LearnersOn[]): number => list.reduce((total, { people }) => total + people, 0);
  return {
    day,
    isPast: world.isPast,
    since: await historySince(db, actor),
    archived: about.course.archived,
    statements: said.map(({ grant, groupId }) => ({
      ...statementOf(world.tree, actor, grant, groupId, makers),
      mayEnd: false,
      group: { id: groupId, name: world.tree.node(groupId).name },
    })),
    learners: sum(classes),
    open: sum(classes.filter(isOpen)),
  };
}

interface LearnersOn {
  /** Somebody of whom something is said by name; null: all who were in the same groups. */
  personId: number | null;
  groups: number[];
  people: number;
}

/** Learners of a scope who counted on a day, by the groups in which they were. */
async function classesOn(db: Queryable, { stands, day }: AccessWorld, scope: Scope, named: readonly number[]): Promise<LearnersOn[]> {
  const on = (alias: string) =>
    sql`coalesce(${sql.identifier(alias)}.first_day <= ${day}, true) and coalesce(${sql.identifier(alias)}.last_day >= ${day}, true)`;
  return rows<LearnersOn>(
    db,
    sql`
    with held as (
      select m.person_id, array_agg(m.group_id order by m.group_id) as groups from membership m where ${stands('m')} and ${on('m')} group by m.person_id
    )
    select case when h.person_id = any(${ids(named)}) then h.person_id end as "personId", to_jsonb(h.groups) as groups, count(*)::int as people
    from held h join person_state s on s.person_id = h.person_id and ${stands('s')} and s.state = 'active' and ${on('s')}
    where h.groups && array(${groupsOf(scope.groupId, scope.withSubgroups)}) group by 1, 2`,
  );
}
