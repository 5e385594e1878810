import type { Answer, Routes, StoryEvent } from '@gate-roster/contract';
import { sql, type SQL } from 'drizzle-orm';
import { type Database, ids, iso, maybeRow, type Queryable, rows } from '../database/connect.ts';
import type { FilterReader } from '../filters/conditions.ts';
import { notFound } from '../http/problem.ts';
import { onlyGroups } from '../people/scope.ts';
import { enrolmentsOf } from './enrolments.ts';
import { finishedUnits, unitsDone } from './learners.ts';

/**
 * One learner from beginning to end, as far as the reader sees: their own groups, and the courses in which they see progress. On a past
 * day (`asked-day.ts`) until its end.
 * @throws ProblemError `not-found` for a person in none of the groups in which the reader sees progress.
 */
export async function learnerStory(
  db: Database,
  { actor, own: known, sight, realToday, named }: FilterReader,
  personId: number,
): Promise<Answer<Routes['learnerStory']>> {
  const person = await maybeRow<{ id: number; givenName: string; familyName: string }>(
    db,
    sql`
    select p.id, n.given_name as "givenName", n.family_name as "familyName" from person p join personal_now n on n.person_id = p.id
    where p.id = ${personId} and p.erased_at is null and ${named}
      and (${sight === null}::boolean or exists (select 1 from membership m where m.person_id = p.id and m.until_at is null and m.group_id = any(${ids(sight?.own ?? [])})))`,
  );
  if (!person) throw notFound();
  const groups = await rows<{ id: number; name: string }>(
    db,
    sql`select g.id, g.name from membership m join group_now g on g.id = m.group_id where m.person_id = ${personId} and m.until_at is null and ${onlyGroups(sql`g.id`, known)} order by g.name`,
  );
  const enrolments = await enrolmentsOf(db, [personId], { today: actor.today, sight, dueSoonDays: actor.dueSoonDays });
  const finished = await finishedUnits(db, [personId]);
  const names = new Map(
    (
      await rows<{ id: number; name: string }>(
        db,
        sql`select id, name from group_now where id = any(${ids(enrolments.flatMap(({ viaGroups }) => viaGroups))}) and ${onlyGroups(sql`id`, known)}`,
      )
    ).map(({ id, name }) => [id, name]),
  );
  return {
    ...person,
    groups,
    courses: enrolments.map((each) => ({
      id: each.courseId,
      name: each.course,
      open: each.units.length > 0,
      through: each.units.length > 0 ? each.viaGroups.flatMap((id) => names.get(id) ?? []) : [],
      status: each.status,
      lateness: each.lateness,
      due: each.due,
      doneDay: each.doneDay,
      score: each.score,
      exempt: each.exempt,
      units: each.units.length > 0 ? each.units.length : each.allUnits,
      unitsDone: unitsDone(finished, each),
    })),
    events: await eventsOf(
      db,
      personId,
      enrolments.map(({ courseId }) => courseId),
      onlyGroups(sql`m.group_id`, known),
      actor.today === realToday ? null : sql`((${actor.today}::date + 1)::timestamp at time zone ${actor.timeZone})`,
    ),
  };
}

type Row = Omit<StoryEvent, 'about'> & { aboutId: number; about: string };

/** @param groups Which memberships `m` may be told of. @param end Of the past day that is looked at; null: up to now. */
async function eventsOf(db: Queryable, personId: number, courses: readonly number[], groups: SQL, end: SQL | null): Promise<StoryEvent[]> {
  /** What was so then, also if it ended later. */
  const stands = (untilAt: SQL): SQL => (end === null ? sql`${untilAt} is null` : sql`coalesce(${untilAt} >= ${end}, true)`);
  const found = await rows<Row>(
    db,
    sql`
    with mine as (select e.*, c.name as course from enrolment e join course_now c on c.id = e.course_id where e.person_id = ${personId} and e.course_id = any(${ids(courses)})),
    events as (
      select m.from_at as at, 'came in' as kind, m.group_id as about_id, (select name from group_version v where v.group_id = m.group_id order by row_id desc limit 1) as about,
          null::text as what, null::double precision as score, null::int as tries, null::date as day
        from membership m where m.person_id = ${personId} and ${groups}
          and not exists (select 1 from membership b where b.person_id = m.person_id and b.group_id = m.group_id and b.until_at = m.from_at)
      union all
      select m.until_at, 'left', m.group_id, (select name from group_version v where v.group_id = m.group_id order by row_id desc limit 1), null, null, null, null
        from membership m where m.person_id = ${personId} and m.until_at is not null and ${groups}
          and not exists (select 1 from membership n where n.person_id = m.person_id and n.group_id = m.group_id and n.from_at = m.until_at)
      union all select e.begun_at, 'began', e.course_id, e.course, null, null, null, null from mine e where e.begun_at is not null
      union all select (e.round_opened_day::timestamp at time zone o.time_zone), 'opened again', e.course_id, e.course, null, null, e.round, null from mine e cross join organisation o where e.round_opened_day is not null
      union all select e.done_at, 'done', e.course_id, e.course, null, e.score, null, e.done_day from mine e where e.done_at is not null and not e.done_elsewhere
      union all
      select r.last_at, 'finished', e.course_id, e.course, a.name, r.score, r.tries, null from mine e join activity_result r on r.enrolment_id = e.id
        join lateral (select name from activity_version v where v.activity_id = r.activity_id order by row_id desc limit 1) a on true where r.finished
      union all
      select v.handed_in_at, 'handed in', e.course_id, e.course, a.name, null, v.number, null from mine e join work w on w.enrolment_id = e.id join work_version v on v.work_id = w.id
        join lateral (select name from activity_version x where x.activity_id = w.activity_id order by row_id desc limit 1) a on true where v.handed_in_at is not null
      union all
      select k.marked_at, k.verdict, e.course_id, e.course, a.name, k.score, v.number, null from mine e join work w on w.enrolment_id = e.id join work_version v on v.work_id = w.id
        join mark k on k.version_id = v.id and ${stands(sql`k.until_at`)}
        join lateral (select name from activity_version x where x.activity_id = w.activity_id order by row_id desc limit 1) a on true
      union all
      select x.made_at, x.kind, x.course_id, c.name, null, null, null, x.day from course_exception x join course_now c on c.id = x.course_id
        where x.person_id = ${personId} and x.until_at is null and x.course_id = any(${ids(courses)})
      union all
      select o.given_at, 'certificate', f.course_id, c.name, f.title, o.score, null, null from certificate o
        join lateral (select course_id, title from certificate_form_version v where v.form_id = o.form_id order by row_id desc limit 1) f on true join course_now c on c.id = f.course_id
        where o.person_id = ${personId} and f.course_id = any(${ids(courses)})
      union all
      select o.until_at, 'certificate withdrawn', f.course_id, c.name, f.title, null, null, null from certificate o
        join lateral (select course_id, title from certificate_form_version v where v.form_id = o.form_id order by row_id desc limit 1) f on true join course_now c on c.id = f.course_id
        where o.person_id = ${personId} and o.until_at is not null and f.course_id = any(${ids(courses)})
    )
    select at, kind, about_id as "aboutId", about, what, score, tries, day::text as day from events where at is not null and ${end === null ? sql`true` : sql`at < ${end}`} order by at, kind, about_id`,
  );
  return found.map(({ aboutId, about, at, ...event }) => ({ ...event, at: iso(at), about: { id: aboutId, name: about } }));
}
