import { type Day, lateness, type Lateness, type Status } from '@gate-roster/core';
import { sql, type SQL } from 'drizzle-orm';
import { ids, type Queryable, rows } from '../database/connect.ts';
import { onDay } from './standings.ts';

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
  /** Their place in line for a seat, among those whom the reader sees; null: they need none, or have one. */
  inLine: number | null;
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
  const visible = via === null ? sql`true` : sql`(x.via_groups && ${ids(via)} or (x.id is null and e.via_groups && ${ids(via)}))`;
  const found = await rows<Omit<Enrolment, 'lateness'>>(
    db,
    sql`
    with chosen as materialized (select p.id, p.set_id, p.own_windows from person p where ${people}),
    about as materialized (select c.id, c.name from course c where ${courses}),
    windows as materialized (
      select q.id as person_id, x.id, x.course_id, x.first_day, x.last_day, x.units, x.via_groups, x.due_day, x.due_is_own from chosen q
      join entitlement x on x.set_id = q.set_id where not q.own_windows and x.course_id in (select id from about)
      union all
      select q.id, x.id, x.course_id, x.first_day, x.last_day, x.units, x.via_groups, x.due_day, x.due_is_own from chosen q
      join entitlement x on x.person_id = q.id where q.own_windows and x.course_id in (select id from about)
    ),
    work as materialized (select e.* from chosen q join enrolment e on e.person_id = q.id where e.is_current and e.course_id in (select id from about)),
    pairs as (select person_id, course_id from windows union select person_id, course_id from work)
    select pairs.person_id as "personId", c.id as "courseId", c.name as course, coalesce(to_jsonb(x.units), '[]') as units, coalesce(to_jsonb(x.via_groups), '[]') as "viaGroups",
      (select count(*)::int from unit u where u.course_id = c.id) as "allUnits", later.day as "opensOn",
      coalesce(e.status, 'not begun') as status, case when l.id is not null then null when x.due_is_own then own_due_day(x.id, pairs.person_id) else x.due_day end as due,
      e.done_day as "doneDay", e.score, coalesce(e.exempt, false) as exempt,
      case when l.id is not null then (select count(*)::int from seat_line o where o.course_id = l.course_id and o.until_at is null and o.place <= l.place and ${via === null ? sql`true` : sql`exists (select 1 from membership m where m.person_id = o.person_id and m.until_at is null and m.group_id = any(${ids(via)}))`}) end as "inLine"
    from pairs join about c on c.id = pairs.course_id
    left join windows x on x.person_id = pairs.person_id and x.course_id = c.id and ${onDay(today)}
    left join work e on e.person_id = pairs.person_id and e.course_id = c.id
    left join seat_line l on l.person_id = pairs.person_id and l.course_id = c.id and l.until_at is null
    left join (select person_id, course_id, min(first_day) as day from windows where first_day > ${today} group by 1, 2) later
      on later.person_id = pairs.person_id and later.course_id = c.id and x.id is null
    where (x.id is not null or (e.id is not null and (e.status <> 'not begun' or e.exempt)) or (${withLater} and later.day is not null)) and ${visible}
    order by pairs.person_id, c.name`,
  );
  return found.map((row) => ({ ...row, lateness: row.exempt ? 'on time' : lateness(row.due, row.doneDay, today) }));
}
