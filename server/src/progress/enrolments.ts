import { type Day, lateness, type Lateness, type Status } from '@gate-roster/core';
import { sql, type SQL } from 'drizzle-orm';
import { type ProgressSight, seenThrough } from '../accounts/reach.ts';
import { ids, type Queryable, rows } from '../database/connect.ts';
import { lacksSeat, ownDueDays } from './due-days.ts';
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
  /** It asks for a seat that they do not have. */
  lacksSeat: boolean;
  /** Their place in line for a seat, among those whom the reader sees; null: they need none, have one, or no licence can pay. */
  inLine: number | null;
}

interface How {
  today: Day;
  /** What the reader sees; null: everything. */
  sight: ProgressSight;
  dueSoonDays?: number;
  /** Also what only opens later. */
  withLater?: boolean;
  /** Also what is open at no time and was not worked on: all people by all courses that are named. */
  withClosed?: boolean;
  /** Due days take most of the time; where nobody asks for them, they are null. */
  withDue?: boolean;
}

/** A page of them: one plan for all pages is better than planning each, which takes about as long as the answer. */
const fewPeople = 200;

/** Enrolments of people. */
export async function enrolmentsOf(db: Queryable, people: readonly number[], how: How): Promise<Enrolment[]> {
  return enrolmentsWhere(db, sql`p.id = any(${ids(people)})`, sql`true`, { ...how, areFew: people.length <= fewPeople });
}

/** The same for people (`p`) and courses (`c`) that a condition names. */
export async function enrolmentsWhere(
  db: Queryable,
  people: SQL,
  courses: SQL,
  { areFew = false, ...how }: How & { areFew?: boolean },
): Promise<Enrolment[]> {
  const found = await rows<Omit<Enrolment, 'lateness'>>(
    db,
    sql`
    select e.person_id as "personId", e.course_id as "courseId", e.course, e.units, e.via_groups as "viaGroups", e.all_units as "allUnits", e.opens_on as "opensOn",
      e.status, e.due, e.done_day as "doneDay", e.score, e.exempt, e.lacks_seat as "lacksSeat", e.in_line as "inLine"
    from (${enrolmentRows(people, courses, how)}) e order by e.person_id, e.course`,
    areFew ? { plan: 'one for all' } : {},
  );
  return found.map((row) => ({ ...row, lateness: row.exempt ? 'on time' : lateness(row.due, row.doneDay, how.today, how.dueSoonDays) }));
}

/**
 * A statement for the enrolments of people (`p`) and courses (`c`) that a condition names: what is open, what has been worked on
 * and, if asked for, what opens later.
 *
 * A leader sees an enrolment that is open through a group of their sight, or whose work was done through one. What is open only
 * through others is not open as far as they may know.
 */
export function enrolmentRows(
  people: SQL,
  courses: SQL,
  { today, sight, withLater = false, withClosed = false, withDue = true }: How,
): SQL {
  const isOwn =
    sight === null
      ? sql`true`
      : sql`exists (select 1 from membership m where m.person_id = o.person_id and m.until_at is null and m.group_id = any(${ids(sight.own)}))`;
  return sql`
    with chosen as materialized (select p.id, p.set_id, p.own_windows from person p where ${people}),
    about as materialized (select c.id, c.name, (select count(*)::int from unit_now u where u.course_id = c.id) as all_units from course_now c where ${courses}),
    windows as materialized (
      select q.id as person_id, x.id, x.course_id, x.first_day, x.last_day, x.units, x.via_groups, x.due_day, x.due_is_own, x.needs_seat, x.payers, x.other_payers from chosen q join entitlement x on x.set_id = q.set_id
      where not q.own_windows and x.course_id in (select id from about) and ${seenThrough(sight, sql`x.via_groups`)}
      union all
      select q.id, x.id, x.course_id, x.first_day, x.last_day, x.units, x.via_groups, x.due_day, x.due_is_own, x.needs_seat, x.payers, x.other_payers from chosen q join entitlement x on x.person_id = q.id
      where q.own_windows and x.course_id in (select id from about) and ${seenThrough(sight, sql`x.via_groups`)}
    ),
    open as materialized (select * from windows x where ${onDay(today)}),
    due as materialized (${ownDueDays(sql`select id as window_id, person_id from open where due_is_own and ${withDue}`, today)}),
    work as materialized (
      select e.*, (e.status <> 'not begun' or e.exempt) as is_begun, ${seenThrough(sight, sql`e.via_groups`)} as is_seen
      from chosen q join enrolment e on e.person_id = q.id where e.is_current and e.course_id in (select id from about)
    ),
    later as (select person_id, course_id, min(first_day) as day from windows where first_day > ${today} group by 1, 2),
    pairs as (
      select person_id, course_id from open
      union select person_id, course_id from work where is_begun and is_seen
      union select person_id, course_id from later where ${withLater}
      union select chosen.id, about.id from chosen cross join about where ${withClosed}
    )
    select pairs.person_id, c.id as course_id, c.name as course, coalesce(to_jsonb(x.units), '[]') as units, coalesce(to_jsonb(x.via_groups), '[]') as via_groups,
      x.id is not null as is_open, coalesce(e.is_begun, false) as is_begun, e.via_groups as work_via,
      c.all_units, case when x.id is null then later.day end as opens_on,
      coalesce(e.status, 'not begun') as status, case when s.lacks then null when x.due_is_own then due.due else x.due_day end as due,
      e.done_day, e.score, coalesce(e.exempt, false) as exempt, coalesce(s.lacks, false) as lacks_seat,
      case when s.lacks and l.row_id is not null then (select count(*)::int from seat_line o where o.course_id = l.course_id and o.until_at is null and o.place <= l.place and ${isOwn}) end as in_line
    from pairs join about c on c.id = pairs.course_id
    left join open x on x.person_id = pairs.person_id and x.course_id = c.id
    left join due on due.window_id = x.id and due.person_id = pairs.person_id
    left join work e on e.person_id = pairs.person_id and e.course_id = c.id and (x.id is not null or e.is_seen)
    left join later on later.person_id = pairs.person_id and later.course_id = c.id
    left join seat_line l on l.person_id = pairs.person_id and l.course_id = c.id and l.until_at is null
    left join lateral (select ${lacksSeat(sql`pairs.person_id`)} as lacks) s on true`;
}
