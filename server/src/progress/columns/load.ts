import {
  type CourseNumbers,
  type Day,
  type EnrolmentColumns,
  type IdLists,
  type Status,
  type Stretch,
  type WholeSet,
} from '@gate-roster/core';
import { sql } from 'drizzle-orm';
import { ids, type Queryable, rows } from '../../database/connect.ts';
import { enrolmentRows } from '../enrolments.ts';

export interface LoadedSet {
  groups: readonly number[];
  stretch: Stretch;
  /** What it comes to as a whole, once that was asked for. */
  whole?: WholeSet;
}

/** As arrays: names of columns a million times over would be most of what is sent. */
type Line = [
  set: number,
  person: number,
  course: number,
  status: Status,
  exempt: boolean,
  isOpen: boolean,
  isBegun: boolean,
  hasSeat: boolean,
  inLine: boolean,
  score: number | null,
  doneDay: number | null,
  due: number | null,
  workedDay: number | null,
  openVia: number[],
  workVia: number[],
  units: number[],
];

export interface Loading {
  today: Day;
  timeZone: string;
  /** Is added to. */
  columns: EnrolmentColumns;
  lists: IdLists;
  courses: CourseNumbers;
}

/** Enrolments of all counted learners of these membership sets, on a day. Sets without anybody are among them, and sets that are gone are not. */
export async function loadSets(
  db: Queryable,
  wanted: readonly number[],
  { today, timeZone, columns, lists, courses }: Loading,
): Promise<Map<number, LoadedSet>> {
  const sets = await rows<{ id: number; groups: number[]; people: number[] }>(
    db,
    sql`
    select s.id, array(select g.group_id from membership_set_group g where g.set_id = s.id) as groups, array(select p.id from person p where p.set_id = s.id and p.counted) as people
    from membership_set s where s.id = any(${ids(wanted)})`,
  );
  const everybody = ids(sets.flatMap(({ people }) => people));
  const every = enrolmentRows(sql`p.id = any(${everybody})`, sql`true`, { today, sight: null });
  // As one line of values in a row.
  const found = await rows<{ line: Line }>(
    db,
    sql`
    with every as materialized (${every}),
    seats as materialized (
      select distinct t.person_id, k.course_id from seat t join licence_course k on k.licence_id = t.licence_id where t.until_at is null and t.person_id = any(${everybody})
    ),
    worked as materialized (
      select e.person_id, e.course_id, max((greatest(r.last_at, (select max(t.at) from report t where t.enrolment_id = e.id and t.activity_id = r.activity_id)) at time zone ${timeZone})::date) as day
      from enrolment e join activity_result r on r.enrolment_id = e.id where e.person_id = any(${everybody}) and e.is_current group by 1, 2
    )
    select jsonb_build_array(p.set_id, e.person_id, e.course_id, e.status, e.exempt, e.is_open, e.is_begun, s.person_id is not null, e.in_line is not null,
      e.score, e.done_day - date '1970-01-01', e.due - date '1970-01-01', w.day - date '1970-01-01', e.via_groups, coalesce(to_jsonb(e.work_via), '[]'), e.units) as line
    from every e join person p on p.id = e.person_id
    left join seats s on s.person_id = e.person_id and s.course_id = e.course_id
    left join worked w on w.person_id = e.person_id and w.course_id = e.course_id`,
  );
  const bySet = new Map<number, Line[]>(sets.map(({ id }) => [id, []]));
  for (const { line } of found) bySet.get(line[0])?.push(line);
  return new Map(
    sets.map(({ id, groups, people }) => [
      id,
      {
        groups,
        stretch: columns.add(
          people,
          (bySet.get(id) ?? []).map(
            ([
              ,
              personId,
              courseId,
              status,
              exempt,
              isOpen,
              isBegun,
              hasSeat,
              inLine,
              score,
              doneDay,
              due,
              workedDay,
              openVia,
              workVia,
              units,
            ]) => ({
              personId,
              courseId,
              status,
              exempt,
              isOpen,
              isBegun,
              hasSeat,
              inLine,
              score,
              doneDay,
              due,
              workedDay,
              openVia: lists.numberOf(openVia),
              workVia: lists.numberOf(workVia),
              units: lists.numberOf(units),
            }),
          ),
          courses,
        ),
      },
    ]),
  );
}
