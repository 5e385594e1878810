import { courseParts, type Filter, personParts, type Tally } from '@gate-roster/core';
import { sql, type SQL } from 'drizzle-orm';
import { ids, type Queryable, rows } from '../database/connect.ts';
import { type FilterReader, fittingEnrolments, whoFits } from '../filters/conditions.ts';
import { groupsOf, isCounted } from '../people/scope.ts';

/*
 * Groups that have only parts of a course open are compared on what all of them have: an enrolment counts as done when every activity of
 * the common units is finished.
 */

interface Asked {
  groups: readonly number[];
  withSubgroups: boolean;
  filter: Filter;
}

const enrolmentsIn = (reader: FilterReader, groupId: number, { withSubgroups, filter }: Omit<Asked, 'groups'>): SQL =>
  fittingEnrolments(
    reader,
    whoFits(reader, isCounted(groupId, withSubgroups), groupsOf(groupId, withSubgroups), personParts(filter)),
    courseParts(filter),
  );

/** Of each course, the units that are open to everybody of these groups who has it open. */
export async function commonUnits(db: Queryable, reader: FilterReader, asked: Asked): Promise<Map<number, number[]>> {
  const common = new Map<number, number[]>();
  for (const groupId of asked.groups) {
    const found = await rows<{ courseId: number; units: number[] }>(
      db,
      sql`select distinct e.course_id as "courseId", e.units from (${enrolmentsIn(reader, groupId, asked)}) e where jsonb_array_length(e.units) > 0`,
    );
    for (const { courseId, units } of found)
      common.set(
        courseId,
        (common.get(courseId) ?? units).filter((unit) => units.includes(unit)),
      );
  }
  return common;
}

/** By course, how the enrolments of a group stand on these units; a course without a common unit is left out. */
export async function talliesOnUnits(
  db: Queryable,
  reader: FilterReader,
  groupId: number,
  asked: Omit<Asked, 'groups'>,
  units: ReadonlyMap<number, readonly number[]>,
): Promise<Map<number, Pick<Tally, 'all' | 'done' | 'underWay' | 'exempt'>>> {
  const found = await rows<{ courseId: number; all: number; done: number; underWay: number; exempt: number }>(
    db,
    sql`
    with fitting as materialized (${enrolmentsIn(reader, groupId, asked)}),
    wanted as materialized (select a.id, a.course_id from activity_now a where a.unit_id = any(${ids([...units.values()].flat())})),
    needed as materialized (select course_id, count(*) as activities from wanted group by 1),
    stood as (
      select f.course_id, f.exempt, f.status <> 'not begun' as is_begun, n.activities = (
        select count(*) from enrolment e join activity_result r on r.enrolment_id = e.id and r.finished join wanted w on w.id = r.activity_id
        where e.person_id = f.person_id and e.course_id = f.course_id and e.is_current) as is_done
      from fitting f join needed n on n.course_id = f.course_id
    )
    select course_id as "courseId", count(*)::int as "all", (count(*) filter (where is_done and not exempt))::int as done,
      (count(*) filter (where is_begun and not is_done and not exempt))::int as "underWay", (count(*) filter (where exempt))::int as exempt
    from stood group by 1`,
  );
  return new Map(found.map(({ courseId, ...tally }) => [courseId, tally]));
}
