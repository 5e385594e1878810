import type { Day } from '@gate-roster/core';
import { sql, type SQL } from 'drizzle-orm';
import { ids, onlyOne, type Queryable, rows, type Transaction } from '../database/connect.ts';
import * as tables from '../database/schema.ts';
import { finishedOf, isDone } from '../progress/status-after.ts';
import { onDay } from '../progress/standings.ts';

/** One person in one course. */
export interface ExceptedPair {
  personId: number;
  courseId: number;
}

/** How far people's own work goes in enrolments `e` under a condition: rows of id, person_id, course_id, is_done and last_at. */
const ownWork = (which: SQL, today: Day): SQL => sql`
  select e.id, e.person_id, e.course_id, ${isDone} as is_done, (select max(r.last_at) from activity_result r where r.enrolment_id = e.id) as last_at
  from enrolment e join course_now c on c.id = e.course_id join person p on p.id = e.person_id
  left join lateral (
    select x.units from entitlement x where x.course_id = e.course_id and ((not p.own_windows and x.set_id = p.set_id) or (p.own_windows and x.person_id = p.id)) and ${onDay(today)} limit 1
  ) o on true
  cross join lateral ${finishedOf(sql`o.units`)} f where ${which}`;

/** Of people whose course counts as done elsewhere, those who have done it themselves by now. */
export async function doneThemselves(
  db: Queryable,
  courseIds: readonly number[],
  personIds: readonly number[],
  today: Day,
): Promise<Set<string>> {
  const found = await rows<{ person_id: number; course_id: number; is_done: boolean }>(
    db,
    ownWork(
      sql`e.is_current and e.done_elsewhere and e.course_id = any(${ids(courseIds)}) and e.person_id = any(${ids(personIds)})`,
      today,
    ),
  );
  return new Set(found.flatMap(({ person_id, course_id, is_done }) => (is_done ? [`${person_id}/${course_id}`] : [])));
}

/**
 * Brings enrolments up to date with what is said of people in a course: exempt, done elsewhere, or neither any more. Where it is
 * no longer done elsewhere, it is as far as their own work goes.
 */
export async function refreshExceptions(tx: Transaction, pairs: readonly ExceptedPair[], today: Day): Promise<void> {
  if (pairs.length === 0) return;
  const asked = sql`(select distinct "personId" as person_id, "courseId" as course_id from jsonb_to_recordset(${JSON.stringify(pairs)}::jsonb) as r("personId" bigint, "courseId" bigint))`;
  const { time_zone } = await onlyOne(tx.select({ time_zone: tables.organisation.timeZone }).from(tables.organisation));
  await tx.execute(sql`
    insert into enrolment (person_id, course_id, status, via_groups)
    select q.person_id, q.course_id, 'not begun', coalesce(o.via, '{}') from ${asked} q join person p on p.id = q.person_id
    left join lateral (
      select x.via_groups as via from entitlement x where x.course_id = q.course_id and ((not p.own_windows and x.set_id = p.set_id) or (p.own_windows and x.person_id = p.id)) and ${onDay(today)} limit 1
    ) o on true
    where exists (select 1 from course_exception x where x.person_id = q.person_id and x.course_id = q.course_id and x.kind <> 'more time' and x.until_at is null)
    on conflict do nothing`);
  await tx.execute(sql`
    with said as materialized (
      select e.id, e.done_elsewhere,
        (select x.row_id from course_exception x where x.person_id = q.person_id and x.course_id = q.course_id and x.kind = 'exempt' and x.until_at is null) as exempt,
        (select x.row_id from course_exception x where x.person_id = q.person_id and x.course_id = q.course_id and x.kind = 'done elsewhere' and x.until_at is null) as elsewhere
      from ${asked} q join enrolment e on e.person_id = q.person_id and e.course_id = q.course_id and e.is_current
    ), own as materialized (
      select o.* from said s join lateral (${ownWork(sql`e.id = s.id`, today)}) o on true where s.done_elsewhere and s.elsewhere is null
    )
    update enrolment e set
      exempt = s.exempt is not null, exempt_reason = (select reason from course_exception where row_id = s.exempt),
      done_elsewhere = s.elsewhere is not null, elsewhere_reason = x.reason,
      status = case when s.elsewhere is not null then 'done' when own.id is null then e.status when own.is_done then 'done' when own.last_at is not null then 'under way' else 'not begun' end,
      done_at = case when s.elsewhere is not null then x.day::timestamp at time zone ${time_zone} when own.id is null then e.done_at when own.is_done then own.last_at end,
      done_day = case when s.elsewhere is not null then x.day when own.id is null then e.done_day when own.is_done then (own.last_at at time zone ${time_zone})::date end
    from said s left join course_exception x on x.row_id = s.elsewhere left join own on own.id = s.id
    where e.id = s.id`);
  // What stands for nothing any more leaves no trace.
  await tx.execute(sql`
    delete from enrolment e using ${asked} q where e.person_id = q.person_id and e.course_id = q.course_id and e.status = 'not begun' and not e.exempt and e.round = 1
      and e.begun_at is null and e.seat_id is null and not exists (select 1 from activity_result r where r.enrolment_id = e.id)`);
  await tx.execute(sql`insert into standing_mark select distinct p.set_id from ${asked} q join person p on p.id = q.person_id`);
}
