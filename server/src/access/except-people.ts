import type { Exception } from '@gate-roster/contract';
import { type Conflict, type CourseEffect, emptyWho, isBlocked, may, noEffects, speakingBranch } from '@gate-roster/core';
import { sql } from 'drizzle-orm';
import { type PlanContext, type Planner, summaryOf } from '../changes/plan.ts';
import { accessOfShift } from '../changes/shift.ts';
import { ids, rows } from '../database/connect.ts';
import { found, notFound, ProblemError } from '../http/problem.ts';
import { onDay } from '../progress/standings.ts';
import { doneThemselves } from './exceptions.ts';
import { mayEnd } from './grid.ts';
import { grantsByCourse } from './load-rules.ts';
import { grantColumns, grantOnPerson } from './grant-rows.ts';

/**
 * Opens or blocks a course for chosen people, gives them more time, exempts them or counts it as done elsewhere; or ends what was
 * said of them so. A leader says it in the name of a branch, of people in it: an open, a block and more time act on the paths
 * through that branch alone; exempt and done elsewhere only where every path to the course leads through it.
 */
export const planExceptPeople: Planner<'except-people'> = async (context, change) => {
  const { db, actor, tree, today } = context;
  if (!tree.has(change.groupId) || !may(actor, 'openCourses', { path: tree.path(change.groupId) })) throw notFound();
  const branch = speakingBranch(actor, 'openCourses', { path: tree.path(change.groupId) });
  const { courseId, exception } = change;
  const about = found((await grantsByCourse(db, [courseId]))[0]);
  checkException(exception, about.course.units);
  const people = await peopleOf(context, change.personIds, courseId, branch);
  const { concerned, conflicts } = whoIsConcerned(exception, people);
  const personIds = concerned.map(({ id }) => id);
  const isGrant = exception.what === 'open' || exception.what === 'block';
  const endGrants = isGrant || exception.what === 'none' ? concerned.flatMap(({ grants }) => grants) : [];
  const endRows = concerned.flatMap(({ exceptions }) =>
    exceptions.flatMap(({ row, kind }) => (exception.what === 'none' || kind === exception.what ? [row] : [])),
  );
  const grants = isGrant
    ? personIds.map((person, index) => ({
        ...grantOnPerson({ person, courseId, makerBranch: branch, madeDay: today, index }),
        ...wordsOf(exception),
      }))
    : [];
  const effects = noEffects();
  effects.conflicts = conflicts;
  if (concerned.length === 0 || (exception.what === 'none' && endGrants.length + endRows.length === 0))
    effects.conflicts = [...conflicts, { code: 'nothing to do', blocks: true, count: 1 }];
  if (!isBlocked(effects)) {
    if (endGrants.length + grants.length > 0)
      Object.assign(
        effects,
        await accessOfShift(context, {
          people: { personIds, afterwards: (person) => person },
          grants: { end: endGrants, begin: grants.map((grant) => ({ courseIds: [courseId], grant })) },
        }),
      );
    const ofCourse = (list: readonly number[]): CourseEffect[] =>
      list.length === 0 ? [] : [{ courseId, day: null, who: { ...emptyWho(), persons: [...list] }, people: list.length }];
    const ending = exception.what === 'none';
    const has = (kind: string) => concerned.flatMap(({ id, exceptions }) => (exceptions.some((each) => each.kind === kind) ? [id] : []));
    if (exception.what === 'done elsewhere') effects.becomeDone = ofCourse(personIds);
    if (ending) {
      const elsewhere = has('done elsewhere');
      const themselves = await doneThemselves(db, [courseId], elsewhere, today);
      effects.noLongerDone = [...effects.noLongerDone, ...ofCourse(elsewhere.filter((id) => !themselves.has(`${id}/${courseId}`)))];
    }
    if (exception.what === 'more time' || exception.what === 'exempt') effects.excepted = ofCourse(personIds);
    if (ending) effects.excepted = ofCourse([...new Set([...has('more time'), ...has('exempt')])]);
  }
  return {
    effects,
    groups: [change.groupId],
    summary: summaryOf({
      groups: [change.groupId],
      courses: [courseId],
      people: personIds.slice(0, 1),
      counts: { people: personIds.length },
      fields: [exception.what],
    }),
    async write(_, writer) {
      await writer.end('grant', endGrants);
      await writer.end('exception', endRows);
      await writer.begin(
        'grant',
        grants.map((grant) => grantColumns(grant, actor.personId)),
      );
      if (exception.what === 'more time' || exception.what === 'exempt' || exception.what === 'done elsewhere')
        await writer.begin(
          'exception',
          personIds.map((person_id) => ({
            person_id,
            course_id: courseId,
            kind: exception.what,
            day: 'day' in exception ? exception.day : null,
            reason: 'reason' in exception ? exception.reason : null,
            proof: 'proof' in exception ? exception.proof : null,
            maker_branch_id: branch,
            made_by: actor.personId,
            made_at: new Date().toISOString(),
          })),
        );
      return { people: personIds, excepted: personIds.map((personId) => ({ personId, courseId })) };
    },
  };
};

interface Concerned {
  id: number;
  /** Statements on them about this course, and exceptions, that the actor may end. */
  grants: number[];
  exceptions: { row: number; kind: string }[];
  isDone: boolean;
  isOpen: boolean;
  /** Every way to the course leads through the branch in whose name is spoken. */
  isTheirs: boolean;
}

/** @throws ProblemError `not-found` when somebody is not of the actor's people. */
async function peopleOf(
  { db, actor, tree, today }: PlanContext,
  personIds: readonly number[],
  courseId: number,
  branch: number | null,
): Promise<Concerned[]> {
  const wanted = [...new Set(personIds)].sort((a, b) => a - b);
  const inBranch =
    branch === null
      ? sql`true`
      : sql`exists (select 1 from membership m join group_branch b on b.group_id = m.group_id where m.person_id = p.id and m.until_at is null and b.ancestor_id = ${branch})`;
  const people = await rows<
    Omit<Concerned, 'grants' | 'exceptions' | 'isTheirs'> & {
      grants: { row: number; maker: number | null }[];
      exceptions: { row: number; kind: string; maker: number | null }[];
      via: number[];
    }
  >(
    db,
    sql`
    select p.id,
      coalesce((select jsonb_agg(jsonb_build_object('row', g.row_id, 'maker', g.maker_branch_id)) from access_grant g where g.person_id = p.id and g.course_id = ${courseId} and g.until_at is null), '[]') as grants,
      coalesce((select jsonb_agg(jsonb_build_object('row', x.row_id, 'kind', x.kind, 'maker', x.maker_branch_id)) from course_exception x where x.person_id = p.id and x.course_id = ${courseId} and x.until_at is null), '[]') as exceptions,
      exists (select 1 from enrolment e where e.person_id = p.id and e.course_id = ${courseId} and e.is_current and e.status = 'done') as "isDone",
      o.via is not null as "isOpen", to_jsonb(coalesce(o.via, '{}')) as via
    from person p left join lateral (
      select x.via_groups as via from entitlement x where x.course_id = ${courseId} and ((not p.own_windows and x.set_id = p.set_id) or (p.own_windows and x.person_id = p.id)) and ${onDay(today)} limit 1
    ) o on true
    where p.id = any(${ids(wanted)}) and p.erased_at is null and ${inBranch} order by p.id`,
  );
  if (people.length < wanted.length) throw notFound();
  const mayEndOn = (maker: number | null): boolean =>
    actor.role === 'administrator' || (maker !== null && mayEnd(actor, tree, maker, maker));
  return people.map(({ grants, exceptions, via, ...person }) => ({
    ...person,
    grants: grants.flatMap(({ row, maker }) => (mayEndOn(maker) ? [row] : [])),
    exceptions: exceptions.filter(({ maker }) => mayEndOn(maker)),
    isTheirs: branch === null || (via.length > 0 && via.every((group) => tree.has(group) && tree.isInBranch(group, branch))),
  }));
}

/** Of whom it can be said, and what stands in the way for the others. */
function whoIsConcerned({ what }: Exception, people: readonly Concerned[]): { concerned: Concerned[]; conflicts: Conflict[] } {
  if (what === 'open' || what === 'block') return { concerned: [...people], conflicts: [] };
  if (what === 'none')
    return { concerned: people.filter(({ grants, exceptions }) => grants.length + exceptions.length > 0), conflicts: [] };
  const isMark = what === 'exempt' || what === 'done elsewhere';
  const reasonOf = (person: Concerned): Conflict['code'] | null => {
    if (!person.isOpen) return 'not open to them';
    if (isMark && !person.isTheirs) return 'open elsewhere too';
    return what !== 'exempt' && person.isDone ? 'done already' : null;
  };
  const conflicts = (['not open to them', 'open elsewhere too', 'done already'] as const).flatMap((code): Conflict[] => {
    const list = people.filter((person) => reasonOf(person) === code).map(({ id }) => id);
    return list.length === 0 ? [] : [{ code, blocks: list.length === people.length, count: list.length, people: list }];
  });
  return { concerned: people.filter((person) => reasonOf(person) === null), conflicts };
}

function checkException(exception: Exception, units: readonly number[]): void {
  const isWrong =
    (exception.what === 'open' && exception.units?.some((unit) => !units.includes(unit))) ||
    ((exception.what === 'open' || exception.what === 'block') &&
      exception.firstDay !== null &&
      exception.lastDay !== null &&
      exception.lastDay < exception.firstDay);
  if (isWrong)
    throw new ProblemError('bad-request', {
      where: [{ place: 'body.change.exception', what: 'Units of another course, or days out of order' }],
    });
}

const wordsOf = (exception: Extract<Exception, { what: 'open' | 'block' }>) => ({
  effect: exception.what,
  firstDay: exception.firstDay,
  lastDay: exception.lastDay,
  units: exception.what === 'open' ? exception.units : null,
  due: exception.what === 'open' ? exception.due : null,
});
