import type { InsideCourse, PersonInside } from '@gate-roster/contract';
import {
  addDays,
  type CoursePart,
  courseParts,
  type Filter,
  hasStopped,
  type InsideSums,
  personParts,
  type PlacedActivity,
  placeIn,
  stoppedAfterDays,
} from '@gate-roster/core';
import { sql, type SQL } from 'drizzle-orm';
import { type Database, ids, oneRow, type Queryable, rows } from '../database/connect.ts';
import { type FilterReader, fittingEnrolments, whoFits, withFitting } from '../filters/conditions.ts';
import type { Cell, Table } from '../http/table.ts';
import type { ListFilter } from '../people/filtered.ts';
import { countBoth, type FoundPerson, type Page, peopleRows } from '../people/list.ts';
import { countNotCounted, groupsOf, isCounted } from '../people/scope.ts';
import { enrolmentsWhere } from './enrolments.ts';
import type { InsideQuestion } from './columns/questions.ts';
import { coursesInScope } from './learners.ts';

type Units = InsideCourse['units'];
type Worked = PersonInside['results'][number];

/**
 * Learners by activity for one course of a scope. Figures, where they stop and the days from unit_now to unit are of all who fit, the
 * rows of a page. @returns null when the course is not open in the scope; without one, the first that is.
 */
export async function insideCourse(
  db: Database,
  asking: FilterReader,
  groupId: number,
  asked: ListFilter & { courseId?: number | undefined },
  page: Page,
): Promise<InsideCourse | null> {
  const withSubgroups = asked.subgroups === 'yes';
  const courses = await coursesInScope(db, asking, groupId, withSubgroups);
  const course = asked.courseId === undefined ? courses[0] : courses.find(({ id }) => id === asked.courseId);
  if (!course) return null;
  const part: CoursePart = { part: 'course', courses: [course.id], sets: [] };
  const filter: Filter = [...asked.filter, part];
  const reader = await withFitting(asking, groupId, withSubgroups, filter);
  const units = await unitsOf(db, course.id);
  const [{ people, next }, { matching, total }, notCounted, sums] = await Promise.all([
    peopleRows(db, reader, groupId, { ...asked, filter }, page),
    countBoth(db, reader, groupId, { ...asked, filter }, { ...asked, filter: [] }),
    countNotCounted(db, groupId, withSubgroups),
    sumsOf(db, reader, { groupId, withSubgroups, filter, courseId: course.id, activities: placed(units) }),
  ]);
  const inside = await peopleInside(db, reader, course.id, units, people);
  return { course, courses, units, ...sums, learners: matching, ofAll: total, notCounted, people: inside, next };
}

const unitsOf = (db: Queryable, courseId: number): Promise<Units> =>
  rows(
    db,
    sql`
    select u.id, u.name, coalesce((select jsonb_agg(jsonb_build_object('id', a.id, 'name', a.name, 'scored', a.scored) order by a.position) from activity_now a where a.unit_id = u.id), '[]') as activities
    from unit_now u where u.course_id = ${courseId} order by u.position`,
  );

/** In the order of their units. */
const placed = (units: Units): PlacedActivity[] =>
  units.flatMap(({ id: unitId, activities }) => activities.map(({ id }) => ({ id, unitId })));

/** Figures, stops and days of all who fit (core: `insideSums`): from memory, or from the database (a test compares). */
async function sumsOf(db: Queryable, reader: FilterReader, question: Omit<InsideQuestion, 'kind' | 'reader'>): Promise<InsideSums> {
  const { actor, own, sight, realToday, columns } = reader;
  const remembered = await columns?.answer({ kind: 'inside', reader: { actor, own, sight, realToday }, ...question });
  if (remembered) return remembered;
  const { groupId, withSubgroups, filter, courseId } = question;
  const fitting = whoFits(reader, isCounted(groupId, withSubgroups), groupsOf(groupId, withSubgroups), personParts(filter));
  // Most people of a large branch do not have the course, and those need not be looked at.
  const learners = reader.fitting ? sql`${fitting} and ${reader.fitting.people}` : fitting;
  return readSums(db, reader, courseId, fittingEnrolments(reader, learners, courseParts(filter)));
}

/** @param fitting A statement for their enrolments in the course (`enrolmentRows`). */
const readSums = (db: Queryable, { actor }: FilterReader, courseId: number, fitting: SQL): Promise<InsideSums> =>
  oneRow(
    db,
    sql`
    with fitting as materialized (${fitting}),
    acts as materialized (
      select a.id, a.unit_id, u.position, row_number() over (order by u.position, a.position) as place, count(*) over (partition by u.id) as in_unit
      from unit_now u join activity_now a on a.unit_id = u.id where u.course_id = ${courseId}
    ),
    worked as materialized (
      select f.person_id, r.activity_id, r.finished, (r.last_at at time zone ${actor.timeZone})::date as day from fitting f
      join enrolment e on e.person_id = f.person_id and e.course_id = f.course_id and e.is_current join activity_result r on r.enrolment_id = e.id
    ),
    idle as materialized (
      select f.person_id, f.units from fitting f join (select person_id, max(day) as day from worked group by 1) l on l.person_id = f.person_id
      where f.status = 'under way' and not f.exempt and l.day <= ${addDays(actor.today, -stoppedAfterDays)}
    ),
    stopped as (
      select distinct on (i.person_id) i.person_id, a.id from idle i join acts a on i.units @> to_jsonb(a.unit_id)
      where not exists (select 1 from worked w where w.person_id = i.person_id and w.activity_id = a.id and w.finished) order by i.person_id, a.place
    ),
    finished as materialized (
      select w.person_id, a.unit_id, a.position, max(w.day) as day from worked w join acts a on a.id = w.activity_id where w.finished
      group by 1, 2, 3 having count(*) = max(a.in_unit)
    ),
    steps as (
      select a.unit_id, b.day - a.day as days from finished a join finished b on b.person_id = a.person_id
        and b.position = (select min(n.position) from acts n where n.position > a.position)
    )
    select
      (select jsonb_build_object('all', count(*), 'done', count(*) filter (where status = 'done' and not exempt), 'underWay', count(*) filter (where status = 'under way' and not exempt),
        'exempt', count(*) filter (where exempt)) from fitting) as figures,
      coalesce((select jsonb_agg(jsonb_build_object('activityId', id, 'people', people)) from (select id, count(*) as people from stopped group by 1) s), '[]') as stops,
      coalesce((select jsonb_agg(jsonb_build_object('unitId', unit_id, 'people', people, 'low', quarters[1], 'median', quarters[2], 'high', quarters[3])) from (
        select unit_id, count(*) as people, percentile_cont(array[0.25, 0.5, 0.75]) within group (order by days) as quarters from steps group by 1) d), '[]') as days`,
  );

/** The same rows as a file: a line for each learner, a column for each activity. */
export async function insideTable(
  db: Database,
  reader: FilterReader,
  groupId: number,
  asked: Parameters<typeof insideCourse>[3],
): Promise<Table> {
  const first = await insideCourse(db, reader, groupId, asked, { limit: 1 });
  if (!first) return { name: 'Course', head: fileHead, lines: [] };
  const activities = first.units.flatMap((unit) => unit.activities.map((activity) => ({ ...activity, unitId: unit.id, unit: unit.name })));
  const filter: Filter = [...asked.filter, { part: 'course', courses: [first.course.id], sets: [] }];
  const lines: Cell[][] = [];
  for (let after: string | undefined; ;) {
    const { people, next } = await peopleRows(db, reader, groupId, { ...asked, filter }, { after, limit: 2000 });
    for (const each of await peopleInside(db, reader, first.course.id, first.units, people))
      lines.push([
        each.familyName,
        each.givenName,
        each.exempt ? 'exempt' : each.status,
        each.hasStopped ? (activities.find(({ id }) => id === each.at)?.name ?? '') : '',
        ...activities.map(({ id, unitId }) => {
          const result = each.results.find(({ activityId }) => activityId === id);
          if (result?.finished) return result.score === null ? 'finished' : Math.round(result.score);
          return !each.openUnits.includes(unitId) ? 'not open' : result ? 'begun' : '';
        }),
      ]);
    if (next === null) break;
    after = next;
  }
  return { name: first.course.name, head: [...fileHead, ...activities.map(({ unit, name }) => `${unit}: ${name}`)], lines };
}
const fileHead = ['Family name', 'Given name', 'Status', 'Stopped at'];

async function peopleInside(
  db: Queryable,
  { actor, sight }: FilterReader,
  courseId: number,
  units: Units,
  people: readonly FoundPerson[],
): Promise<PersonInside[]> {
  const personIds = people.map(({ id }) => id);
  const enrolments = await enrolmentsWhere(db, sql`p.id = any(${ids(personIds)})`, sql`c.id = ${courseId}`, {
    today: actor.today,
    sight,
    withDue: false,
  });
  const worked = await rows<{ personId: number; results: Worked[] }>(
    db,
    sql`
    select e.person_id as "personId", jsonb_agg(jsonb_build_object('activityId', r.activity_id, 'finished', r.finished, 'score', r.score, 'lastDay', (r.last_at at time zone ${actor.timeZone})::date)) as results
    from enrolment e join activity_result r on r.enrolment_id = e.id where e.person_id = any(${ids(personIds)}) and e.course_id = ${courseId} and e.is_current group by 1`,
  );
  const byPerson = new Map(worked.map(({ personId, results }) => [personId, results]));
  const activities = placed(units);
  return people.flatMap(({ id, givenName, familyName }) => {
    const enrolment = enrolments.find(({ personId }) => personId === id);
    if (!enrolment) return [];
    const { status, exempt, units: openUnits } = enrolment;
    const results = byPerson.get(id) ?? [];
    const at = status === 'done' || exempt ? null : placeIn(activities, openUnits, results);
    const isStopped = at !== null && status === 'under way' && hasStopped(results, actor.today);
    return [{ id, givenName, familyName, status, exempt, openUnits, at, hasStopped: isStopped, results }];
  });
}
