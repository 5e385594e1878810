import type { MyCourse, WhyStep } from '@gate-roster/contract';
import { resolve } from '@gate-roster/core';
import { sql } from 'drizzle-orm';
import { grantsByCourse, learners, rulesOfCourse } from '../access/load-rules.ts';
import type { SignedIn } from '../accounts/actor.ts';
import type { ProgressSight } from '../accounts/reach.ts';
import { ids, type Queryable, rows } from '../database/connect.ts';
import { groupsInBranches, wholeTree } from '../groups/queries.ts';
import { found, notFound } from '../http/problem.ts';
import { whySteps } from '../people/sheet.ts';
import { roundsOf } from '../progress/round-facts.ts';
import { type Enrolment, enrolmentsOf } from '../progress/enrolments.ts';
import { finishedUnits, unitsDone } from '../progress/learners.ts';
import { type ForNow, forNow, unitsForNow } from '../splits/running.ts';

/** The own courses: overdue and begun ones on top, then open, later, done. */
export async function myCourses(
  db: Queryable,
  actor: SignedIn,
): Promise<{ courses: MyCourse[]; forNow: { until: string; words: string; link: string | null }[] }> {
  const sight = await cardSight(db, actor);
  // What does not need one another is asked at once: a page that every learner opens waits for the slowest, not for all in turn.
  const [always, now, finished] = await Promise.all([
    enrolmentsOf(db, [actor.personId], { today: actor.today, sight, dueSoonDays: actor.dueSoonDays, withLater: true }),
    forNow(db, { personId: actor.personId, today: actor.today, sight }, null),
    finishedUnits(db, [actor.personId]),
  ]);
  const enrolments = now ? await withSplits(db, always, now) : always;
  const courseIds = enrolments.map(({ courseId }) => courseId);
  const [rounds, own, setBy] = await Promise.all([
    roundsOf(db, actor.personId, courseIds),
    ownActivities(db, actor.personId, enrolments),
    groupsThatSet(db, actor.personId, courseIds),
  ]);
  const courses = enrolments
    .map((each): MyCourse => ({
      id: each.courseId,
      name: each.course,
      open: each.units.length > 0,
      opensOn: each.opensOn,
      status: each.status,
      lateness: each.lateness,
      due: each.due,
      doneDay: each.doneDay,
      score: each.score,
      units: each.units.length > 0 ? each.units.length : each.allUnits,
      unitsDone: unitsDone(finished, each),
      setBy: setBy.get(each.courseId) ?? null,
      ownActivities: own.get(each.courseId)?.own ?? 0,
      toHandIn: own.get(each.courseId)?.open ?? 0,
      inLine: each.inLine,
      noLicence: each.lacksSeat && each.inLine === null,
      forNowUntil: now?.courses.get(each.courseId)?.isOtherwise ? now.until : null,
      doneBefore: rounds.get(each.courseId)?.earlier[0]?.doneDay ?? null,
      validUntil: rounds.get(each.courseId)?.validUntil ?? null,
      reopensOn: rounds.get(each.courseId)?.reopensOn ?? null,
    }))
    .sort((a, b) => rank(a) - rank(b) || (a.due ?? '9').localeCompare(b.due ?? '9') || a.name.localeCompare(b.name));
  return { courses, forNow: (now?.parts ?? []).map(({ until, words, link }) => ({ until, words, link })) };
}

/** How many activities of what is open the learner ticks off or hands in, and how many of those are still to be done. */
async function ownActivities(
  db: Queryable,
  personId: number,
  enrolments: readonly Enrolment[],
): Promise<Map<number, { own: number; open: number }>> {
  const found = await rows<{ id: number; own: number; open: number }>(
    db,
    sql`
        select a.course_id as id, count(*)::int as own, (count(*) filter (where not coalesce(r.finished, false) and not exists (
          select 1 from work w join work_version v on v.work_id = w.id and v.state = 'waiting' where w.enrolment_id = e.id and w.activity_id = a.id)))::int as open
        from jsonb_to_recordset(${JSON.stringify(enrolments.map(({ courseId, units }) => ({ course: courseId, units })))}::jsonb) as k(course bigint, units jsonb)
        join activity_now a on a.course_id = k.course and a.finished_by <> 'player' and k.units @> to_jsonb(a.unit_id)
        left join enrolment e on e.person_id = ${personId} and e.course_id = a.course_id and e.is_current left join activity_result r on r.enrolment_id = e.id and r.activity_id = a.id
        group by 1`,
    { plan: 'kept' },
  );
  return new Map(found.map(({ id, ...counts }) => [id, counts]));
}

/** The group whose statement opens each course. */
async function groupsThatSet(
  db: Queryable,
  personId: number,
  courseIds: readonly number[],
): Promise<Map<number, { id: number; name: string }>> {
  const found = await rows<{ id: number; group_id: number; name: string }>(
    db,
    sql`
    select x.course_id as id, g.id as group_id, g.name from person p join entitlement x on (not p.own_windows and x.set_id = p.set_id) or (p.own_windows and x.person_id = p.id)
    join access_grant a on a.row_id = any(x.by_grants) join group_now g on g.id = a.group_id where p.id = ${personId} and x.course_id = any(${ids(courseIds)})`,
    { plan: 'kept' },
  );
  return new Map(found.map(({ id, group_id, name }) => [id, { id: group_id, name }]));
}

/**
 * The chain that decides an own course, through the groups of the learner and those above them.
 * @throws ProblemError `not-found` when it is none of theirs, now or later.
 */
export async function whyMine(db: Queryable, actor: SignedIn, courseId: number): Promise<WhyStep[]> {
  const sight = await cardSight(db, actor);
  const how = { today: actor.today, sight, dueSoonDays: actor.dueSoonDays, withLater: true };
  if (!(await enrolmentsOf(db, [actor.personId], how)).some((each) => each.courseId === courseId)) throw notFound();
  const [about] = await grantsByCourse(db, [courseId]);
  const [learner] = await learners(db, [actor.personId]);
  const tree = await wholeTree(db);
  const { chain } = resolve(rulesOfCourse(tree, found(about)), found(learner), actor.today);
  return whySteps(found(about), chain, tree, new Set(sight?.own ?? found(learner).memberships.map(({ groupId }) => groupId)));
}

/** Enrolments with the units that splits leave and open for now, and courses that only a split opens. */
async function withSplits(db: Queryable, enrolments: readonly Enrolment[], now: ForNow): Promise<Enrolment[]> {
  const known = new Set(enrolments.map(({ courseId }) => courseId));
  const added = [...now.courses].flatMap(([id, { offered }]) => (offered.length > 0 && !known.has(id) ? [id] : []));
  const named = await rows<{ id: number; name: string; units: number }>(
    db,
    sql`select c.id, c.name, (select count(*)::int from unit_now u where u.course_id = c.id) as units from course_now c where c.id = any(${ids(added)})`,
  );
  const fresh = named.map(({ id, name, units }): Enrolment => ({ ...notBegun, courseId: id, course: name, allUnits: units }));
  return [...enrolments, ...fresh].map((each) => {
    const course = now.courses.get(each.courseId);
    if (!course?.isOtherwise && !(course && each.lacksSeat && course.offered.length > 0)) return each;
    const { units } = unitsForNow(each, course);
    const isLent = each.lacksSeat && units.length > 0;
    return { ...each, units, ...(isLent ? { lacksSeat: false, inLine: null } : {}) };
  });
}

const notBegun: Omit<Enrolment, 'courseId' | 'course' | 'allUnits'> = {
  personId: 0,
  units: [],
  viaGroups: [],
  opensOn: null,
  status: 'not begun',
  lateness: 'on time',
  due: null,
  doneDay: null,
  score: null,
  exempt: false,
  lacksSeat: false,
  inLine: null,
};

/** A lasting card opens only what its group's branch opens; null: everything. */
export async function cardSight(db: Queryable, { onlyIn }: SignedIn): Promise<ProgressSight> {
  if (onlyIn === null) return null;
  const own = [...(await groupsInBranches(db, [onlyIn]))];
  return { own, via: own };
}

function rank(course: MyCourse): number {
  if (course.status === 'done') return 4;
  if (!course.open) return 6;
  if (course.inLine !== null || course.noLicence) return 5;
  if (course.lateness === 'overdue') return 0;
  if (course.lateness === 'due soon') return 1;
  return course.status === 'under way' ? 2 : 3;
}
