import type { GrantDraft } from '@gate-roster/contract';
import {
  type Conflict,
  type CourseGrants,
  type Grant,
  lookAtGrants,
  later,
  may,
  memberOf,
  noEffects,
  speakingBranch,
  resolve,
  courseRules,
} from '@gate-roster/core';
import { and, isNull, sql } from 'drizzle-orm';
import { mayEnd } from './grid.ts';
import { coursesOfGrants, grantsByCourse, learnerClasses } from './load-rules.ts';
import { ids, isAmong, rows } from '../database/connect.ts';
import * as tables from '../database/schema.ts';
import { notFound, ProblemError } from '../http/problem.ts';
import { type PlanContext, type Planner, summaryOf } from '../changes/plan.ts';
import { withStatus } from '../changes/shift.ts';
import { seatsOfGrants } from '../seats/seats-of-look.ts';

/** Opens and blocks courses for groups, and ends grants; several at once as one change. */
export const planGrantAccess: Planner<'grant-access'> = async (context, change) => {
  const standing = await context.db
    .select({ row_id: tables.grant.rowId, group_id: tables.grant.groupId, maker_branch_id: tables.grant.makerBranchId })
    .from(tables.grant)
    .where(and(isAmong(tables.grant.rowId, change.end), isNull(tables.grant.untilAt)));
  // A grant on another branch does not exist for this actor; one that stands on theirs may still be somebody else's word.
  const known = standing.filter(({ group_id }) => group_id !== null && mayOpen(context, group_id));
  const ending = known.filter(({ group_id, maker_branch_id }) => mayEnd(context.actor, context.tree, group_id ?? 0, maker_branch_id));
  for (const draft of change.begin) if (!mayOpen(context, draft.groupId)) throw notFound();

  const ended = await coursesOfGrants(
    context.db,
    ending.map(({ row_id }) => row_id),
  );
  const held = await coursesOfSets(
    context.db,
    change.begin.flatMap(({ courseSetId }) => courseSetId ?? []),
  );
  const aboutOf = ({ courseId, courseSetId }: GrantDraft): readonly number[] =>
    courseId === null ? (held.get(courseSetId ?? 0) ?? []) : [courseId];
  const courseIds = [...new Set([...change.begin.flatMap(aboutOf), ...ended])];
  const courses = await grantsByCourse(context.db, courseIds);
  if (courses.length < courseIds.length) throw notFound();
  const begin = change.begin.map((draft, index) => ({ draft, courseIds: aboutOf(draft), grant: asGrant(context, draft, -1 - index) }));
  await checkPayers(context, begin);
  for (const { draft } of begin) checkUnits(draft, courses.find(({ course }) => course.id === draft.courseId)?.course.units ?? []);

  const tops = [...new Set([...begin.map(({ draft }) => draft.groupId), ...ending.flatMap(({ group_id }) => group_id ?? [])])];
  const classes = await learnerClasses(context.db, tops, context.seen);
  const seatsFirst = new Map(change.seatsFirst?.map((personId) => [personId, comesFirst]));
  const delta = { end: ending.map(({ row_id }) => row_id), begin: begin.map((each) => ({ courseIds: each.courseIds, grant: each.grant })) };
  const effects = {
    ...noEffects(),
    ...(await withStatus(context.db, lookAtGrants(context.tree, courses, classes, delta, context.today))),
    seats: await seatsOfGrants(context, classes, delta, seatsFirst),
  };
  effects.conflicts = conflicts(
    context,
    { gone: change.end.length - known.length, fromAbove: known.length - ending.length, ending: ending.length },
    begin,
    courses,
  );

  return {
    effects,
    within: tops,
    groups: tops,
    summary: summaryOf({
      groups: tops,
      courses: courseIds,
      counts: { people: effects.gains.reduce((sum, { people }) => sum + people, 0) },
      effects: [...new Set([...begin.map(({ draft }) => draft.effect), ...(ending.length > 0 ? (['end'] as const) : [])])],
    }),
    async write(tx, writer) {
      await writer.end(
        'grant',
        ending.map(({ row_id }) => row_id),
      );
      for (const { draft, grant } of begin) {
        const { due, courseSetId = null } = draft;
        const [row] = await rows<{ row_id: number }>(
          tx,
          sql`
          insert into access_grant (group_id, with_subgroups, course_id, course_set_id, effect, firm, first_day, last_day, units, due_day, due_days, due_least_days, due_firm, licences, other_licences, note, maker_branch_id, made_by, made_at)
          values (${draft.groupId}, ${draft.withSubgroups}, ${draft.courseId}, ${courseSetId}, ${draft.effect}, ${draft.firm}, ${draft.firstDay}, ${draft.lastDay},
            ${draft.units === null ? null : ids(draft.units)}, ${due && 'day' in due.at ? due.at.day : null}, ${due && 'days' in due.at ? due.at.days : null},
            ${due?.leastDays ?? null}, ${due?.firm ?? false}, ${draft.payers ? ids(draft.payers.licences) : null}, ${draft.payers?.others ?? true}, ${draft.note ?? null}, ${grant.makerBranch}, ${context.actor.personId},
            coalesce((select min(made_at) from access_grant where row_id = any(${ids(ending.map(({ row_id }) => row_id))}) and group_id = ${draft.groupId} and coalesce(course_id = ${draft.courseId}, course_set_id = ${courseSetId}) and effect = ${draft.effect}), now())) returning row_id`,
        );
        writer.note('grant', { after_row: row?.row_id ?? null, group_id: draft.groupId });
      }
      return { courses: courseIds, fileRows: seatsFirst };
    },
  };
};

/** Before every row of a file, and before those whom none brings. */
const comesFirst = -1;

const mayOpen = (context: PlanContext, groupId: number): boolean =>
  context.tree.has(groupId) && may(context.actor, 'openCourses', { path: context.tree.path(groupId) });

function asGrant(context: PlanContext, draft: GrantDraft, id: number): Grant {
  return {
    id,
    at: { group: draft.groupId, withSubgroups: draft.withSubgroups },
    about: draft.courseId === null ? { courseSet: draft.courseSetId ?? 0 } : { course: draft.courseId },
    effect: draft.effect,
    firm: draft.firm,
    firstDay: draft.firstDay,
    lastDay: draft.lastDay,
    units: draft.units,
    due: draft.due,
    payers: draft.payers ?? null,
    makerBranch: speakingBranch(context.actor, 'openCourses', { path: context.tree.path(draft.groupId) }),
    madeDay: context.today,
  };
}

/** A statement that begins, with the courses about which it speaks. */
interface Beginning {
  draft: GrantDraft;
  courseIds: readonly number[];
  grant: Grant;
}

/** The courses that these sets hold; a set that is not there is `not-found`. */
export async function coursesOfSets(db: PlanContext['db'], sets: readonly number[]): Promise<Map<number, number[]>> {
  const found = await rows<{ id: number; courses: number[] }>(
    db,
    sql`
    select s.id, coalesce((select jsonb_agg(i.course_id order by i.course_id) from course_in_set i where i.course_set_id = s.id), '[]') as courses
    from course_set_now s where s.id = any(${ids(sets)})`,
  );
  if (found.length < new Set(sets).size) throw notFound();
  return new Map(found.map(({ id, courses }) => [id, courses]));
}

/** A licence pays only for what it covers, and where its home and the group lie on one path. */
async function checkPayers({ db, tree }: PlanContext, begin: readonly Beginning[]): Promise<void> {
  const paid = begin.filter(({ draft }) => draft.payers);
  if (paid.length === 0) return;
  const found = await rows<{ id: number; home_id: number; courses: number[] }>(
    db,
    sql`select licence_id as id, group_id as home_id, array(select course_id from licence_course c where c.licence_id = l.licence_id) as courses from licence_now l`,
  );
  const isRight = ({ draft: { payers, groupId }, courseIds }: Beginning): boolean =>
    (payers?.licences ?? []).every((id) => {
      const licence = found.find((each) => each.id === id);
      return (
        licence?.courses.some((course) => courseIds.includes(course)) &&
        (tree.isInBranch(groupId, licence.home_id) || tree.isInBranch(licence.home_id, groupId))
      );
    });
  if (!paid.every(isRight))
    throw new ProblemError('bad-request', {
      where: [{ place: 'body.change.begin', what: 'A licence that does not pay for this course here' }],
    });
}

function checkUnits(draft: GrantDraft, known: readonly number[]): void {
  const wrong =
    (draft.units !== null && (draft.units.length === 0 || draft.units.some((unit) => !known.includes(unit)))) ||
    (draft.firm && draft.effect === 'open') ||
    (draft.due !== null && draft.effect === 'block') ||
    (draft.payers && draft.effect === 'block') ||
    (draft.firstDay !== null && draft.lastDay !== null && draft.lastDay < draft.firstDay);
  if (wrong)
    throw new ProblemError('bad-request', {
      where: [{ place: 'body.change.begin', what: 'Units of another course, a firm open, a due day on a block, or days out of order' }],
    });
}

function conflicts(
  context: PlanContext,
  ends: { gone: number; fromAbove: number; ending: number },
  begin: readonly Beginning[],
  courses: Awaited<ReturnType<typeof grantsByCourse>>,
): Conflict[] {
  const found: Conflict[] = [];
  if (ends.gone > 0) found.push({ code: 'grant gone', blocks: true, count: ends.gone });
  // At one group a block wins, so a leader's open beside a block from above would do nothing.
  // Of a course set, what is not blocked opens.
  const isBlockedFromAbove = (draft: GrantDraft, courseId: number): boolean =>
    (courses.find(({ course }) => course.id === courseId)?.grants ?? []).some(
      ({ at, effect, makerBranch }) =>
        'group' in at &&
        at.group === draft.groupId &&
        effect === 'block' &&
        !mayEnd(context.actor, context.tree, draft.groupId, makerBranch),
    );
  const blockedFromAbove = begin.filter(
    ({ draft, grant, courseIds }) =>
      grant.effect === 'open' && courseIds.length > 0 && courseIds.every((courseId) => isBlockedFromAbove(draft, courseId)),
  ).length;
  const fromAbove = ends.fromAbove + blockedFromAbove;
  if (fromAbove > 0) found.push({ code: 'said from above', blocks: true, count: fromAbove });
  const notTheirs = begin.filter(
    ({ grant, courseIds }) =>
      grant.effect === 'open' &&
      !isTheirs(
        context,
        courses.filter(({ course }) => courseIds.includes(course.id)),
        grant.makerBranch,
      ),
  ).length;
  if (notTheirs > 0) found.push({ code: 'course by leader', blocks: true, count: notTheirs });
  const away = begin.filter(({ draft, courseIds }) =>
    courses.some(
      ({ course: { id, home = null } }) => home !== null && courseIds.includes(id) && !context.tree.isInBranch(draft.groupId, home),
    ),
  ).length;
  if (away > 0) found.push({ code: 'course of a branch', blocks: true, count: away });
  const paidAbove = begin.filter(({ draft, grant, courseIds }) => {
    if (grant.effect === 'block' || grant.makerBranch === null || grant.payers) return false;
    const member = memberOf(draft.groupId);
    const day = later(context.today, draft.firstDay ?? context.today);
    return courses.some(
      ({ course, grants }) =>
        courseIds.includes(course.id) &&
        resolve(courseRules(context.tree, course, [...grants, grant]), member, day).paths.some(
          ({ openedBy, payers }) => openedBy === grant.id && payers !== null,
        ),
    );
  }).length;
  if (paidAbove > 0) found.push({ code: 'paid above', blocks: false, count: paidAbove });
  const past = begin.filter(({ draft: { due } }) => due && 'day' in due.at && due.at.day < context.today).length;
  if (past > 0) found.push({ code: 'due day past', blocks: false, count: past });
  const same = begin.filter(({ grant, courseIds }) =>
    courses.some(({ course, grants }) => courseIds.includes(course.id) && grants.some((other) => isSame(other, grant))),
  ).length;
  if (same > 0) found.push({ code: 'same already', blocks: same === begin.length, count: same });
  if (begin.length === 0 && ends.ending === 0 && found.length === 0) found.push({ code: 'nothing to do', blocks: true, count: 1 });
  return found;
}

/** What a leader opens is in force only while the course is open at the group their power comes from. */
export const isTheirs = ({ tree, today }: PlanContext, courses: readonly CourseGrants[], makerBranch: number | null): boolean =>
  makerBranch === null ||
  courses.some(
    ({ course, grants }) =>
      (course.home ?? null) !== null || resolve(courseRules(tree, course, grants), memberOf(makerBranch), today).units.length > 0,
  );

/** What a grant says, without its number and when it was made. */
const saying = ({ at, about, effect, firm, firstDay, lastDay, units, due, payers, makerBranch }: Grant): string =>
  JSON.stringify([at, about, effect, firm, firstDay, lastDay, units, due, payers ?? null, makerBranch]);
const isSame = (a: Grant, b: Grant): boolean => saying(a) === saying(b);
