import type { Day } from '@gate-roster/core';
import { sql, type SQL } from 'drizzle-orm';
import { rows, type Transaction } from '../database/connect.ts';
import { onDay } from './standings.ts';

/** The day on which the next round of an enrolment `e` in a course `c` opens (core: `reopensOn`; a test compares). */
export const reopensDay: SQL = sql`greatest((e.done_day + make_interval(months => c.valid_months))::date - coalesce(c.reopens_days, 0), e.done_day + 1)`;
/** The first day on which it is no longer valid. */
export const validUntilDay: SQL = sql`(e.done_day + make_interval(months => c.valid_months))::date`;

/**
 * Opens the next round of courses that are valid for a time, for those who have done them and to whom they are open: the earlier
 * result stays, the new round has a status and a due day of its own. Dated the day on which it was to open, however late it is
 * looked for; a course that was counted as done elsewhere has to be done again.
 * @returns How many began.
 */
export async function openRounds(tx: Transaction, today: Day): Promise<number> {
  const begun = await rows<{ person_id: number; course_id: number }>(
    tx,
    sql`
    with due as materialized (
      select e.id, e.person_id, e.course_id, e.round, ${reopensDay} as opened, o.via
      from course_now c join enrolment e on e.course_id = c.id and e.is_current and e.status = 'done' and not e.exempt join person p on p.id = e.person_id and p.counted
      cross join lateral (
        select x.via_groups as via from entitlement x where x.course_id = e.course_id and ((not p.own_windows and x.set_id = p.set_id) or (p.own_windows and x.person_id = p.id)) and ${onDay(today)} limit 1
      ) o
      where c.valid_months is not null and not c.archived and ${reopensDay} <= ${today}::date
    ), earlier as (
      update enrolment e set is_current = false from due where e.id = due.id returning e.id
    )
    select due.person_id, due.course_id, due.round, due.opened::text, to_jsonb(due.via) as via from due join earlier on earlier.id = due.id order by 1, 2`,
  );
  if (begun.length === 0) return 0;
  const list = sql`jsonb_to_recordset(${JSON.stringify(begun)}::jsonb) as r(person_id bigint, course_id bigint, round int, opened date, via bigint[])`;
  await tx.execute(sql`
    insert into enrolment (person_id, course_id, round, round_opened_day, status, via_groups)
    select person_id, course_id, round + 1, opened, 'not begun', via from ${list}`);
  await tx.execute(sql`
    update course_exception x set until_at = greatest(now(), x.from_at) from ${list}
    where x.person_id = r.person_id and x.course_id = r.course_id and x.kind = 'done elsewhere' and x.until_at is null`);
  await tx.execute(sql`insert into standing_mark select distinct p.set_id from ${list} join person p on p.id = r.person_id`);
  return begun.length;
}
