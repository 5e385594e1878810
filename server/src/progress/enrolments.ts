import { type Day, lateness, type Lateness, type Status } from '@gate-roster/core';
import { sql, type SQL } from 'drizzle-orm';
import { ids, type Queryable, rows } from '../database/connect.ts';
import { onDay } from './tallies.ts';

/** One person and one course: open to them, opening later, or with work. */
export interface Enrolment {
  personId: number;
  courseId: number;
  course: string;
  /** Ids of the units that are open today; empty: not open. */
  units: number[];
  allUnits: number;
  viaGroups: number[];
  opensOn: Day | null;
  status: Status;
  lateness: Lateness;
  due: Day | null;
  doneDay: Day | null;
  score: number | null;
  exempt: boolean;
}

/** Enrolments of people; `via` as in TallyQuestion. Without `withLater`, what only opens later is left out. */
export async function enrolmentsOf(
  db: Queryable,
  people: readonly number[],
  how: { today: Day; via: readonly number[] | null; withLater?: boolean },
): Promise<Enrolment[]> {
  return enrolmentsWhere(db, sql`p.id = any(${ids(people)})`, sql`true`, how);
}

/** The same for people (`p`) and courses (`c`) that a condition names. */
export async function enrolmentsWhere(
  db: Queryable,
  people: SQL,
  courses: SQL,
  { today, via, withLater = false }: { today: Day; via: readonly number[] | null; withLater?: boolean },
): Promise<Enrolment[]> {
  const theirs = sql`((not p.own_windows and x.set_id = p.set_id) or (p.own_windows and x.person_id = p.id))`;
  const visible = via === null ? sql`true` : sql`(x.via_groups && ${ids(via)} or (x.id is null and e.via_groups && ${ids(via)}))`;
  const found = await rows<Omit<Enrolment, 'lateness'>>(
    db,
    sql`
    select p.id as "personId", c.id as "courseId", c.name as course, coalesce(to_jsonb(x.units), '[]') as units, coalesce(to_jsonb(x.via_groups), '[]') as "viaGroups",
      (select count(*)::int from unit u where u.course_id = c.id) as "allUnits", later.day as "opensOn",
      coalesce(e.status, 'not begun') as status, case when x.due_is_own then own_due_day(x.id, p.id) else x.due_day end as due,
      e.done_day as "doneDay", e.score, coalesce(e.exempt, false) as exempt
    from person p cross join course c
    left join entitlement x on x.course_id = c.id and ${theirs} and ${onDay(today)}
    left join enrolment e on e.person_id = p.id and e.course_id = c.id and e.is_current
    left join lateral (select min(x.first_day) as day from entitlement x where x.course_id = c.id and ${theirs} and x.first_day > ${today}) later on x.id is null
    where ${people} and ${courses} and (x.id is not null or (e.id is not null and (e.status <> 'not begun' or e.exempt)) or (${withLater} and later.day is not null)) and ${visible}
    order by p.id, c.name`,
  );
  return found.map((row) => ({ ...row, lateness: row.exempt ? 'on time' : lateness(row.due, row.doneDay, today) }));
}
