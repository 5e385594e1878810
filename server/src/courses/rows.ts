import type { ActivityContent } from '@gate-roster/contract';
import type { CourseFacts, CourseGrants, CourseTerms, FinishedBy, HandIn, SetItem } from '@gate-roster/core';
import { coursesInSets } from '@gate-roster/core';
import { sql } from 'drizzle-orm';
import { grantsByCourse, grantsOfSets } from '../access/load-rules.ts';
import { ids, type Queryable, rows } from '../database/connect.ts';
import type { CourseDefinition } from '../progress/status-after.ts';

/** What a course says of itself in one version. */
export interface CourseVersion {
  rowId: number;
  courseId: number;
  name: string;
  code: string | null;
  subject: string | null;
  description: string | null;
  terms: CourseTerms;
  archived: boolean;
  passScore: number | null;
  doneByActivities: number[] | null;
  validMonths: number | null;
  reopensDays: number | null;
  homeId: number | null;
  tags: string[];
}

export interface UnitRow {
  rowId: number;
  unitId: number;
  courseId: number;
  position: number;
  name: string;
}

export interface ActivityRow {
  rowId: number;
  activityId: number;
  unitId: number;
  courseId: number;
  position: number;
  name: string;
  scored: boolean;
  finishedBy: FinishedBy;
  handIn: HandIn | null;
  content: ActivityContent | null;
}

/** Versions `v` under a condition. */
export const courseVersions = (db: Queryable, where: ReturnType<typeof sql>): Promise<CourseVersion[]> =>
  rows(
    db,
    sql`
    select row_id as "rowId", course_id as "courseId", name, code, subject, description, terms, archived, pass_score as "passScore",
      to_jsonb(done_by_activities) as "doneByActivities", valid_months as "validMonths", reopens_days as "reopensDays", home_id as "homeId", tags
    from course_version v where ${where} order by row_id`,
  );

export const unitRows = (db: Queryable, where: ReturnType<typeof sql>): Promise<UnitRow[]> =>
  rows(
    db,
    sql`select row_id as "rowId", unit_id as "unitId", course_id as "courseId", position, name from unit_version v where ${where} order by course_id, position`,
  );

export const activityRows = (db: Queryable, where: ReturnType<typeof sql>): Promise<ActivityRow[]> =>
  rows(
    db,
    sql`
    select row_id as "rowId", activity_id as "activityId", unit_id as "unitId", course_id as "courseId", position, name, scored, finished_by as "finishedBy", hand_in as "handIn", content
    from activity_version v where ${where} order by course_id, unit_id, position`,
  );

export type SetItemRow = SetItem & { rowId: number };

export const setItemRows = async (db: Queryable, where: ReturnType<typeof sql>): Promise<SetItemRow[]> =>
  (
    await rows<{ row_id: number; course_set_id: number; course_id: number | null; inner_set_id: number | null }>(
      db,
      sql`select row_id, course_set_id, course_id, inner_set_id from course_set_item v where ${where} order by row_id`,
    )
  ).map(({ row_id, course_set_id, course_id, inner_set_id }) =>
    course_id === null
      ? { rowId: row_id, set: course_set_id, inner: inner_set_id ?? 0 }
      : { rowId: row_id, set: course_set_id, course: course_id },
  );

export const definitionOf = (version: CourseVersion, activities: readonly ActivityRow[]): CourseDefinition => ({
  id: version.courseId,
  passScore: version.passScore,
  doneBy: version.doneByActivities,
  activities: activities.map(({ activityId, unitId, scored }) => ({ id: activityId, unitId, scored })),
});

/** People under way in a course, who may finish it when it is archived. */
export const peopleUnderWay = async (db: Queryable, courses: readonly number[]): Promise<{ personId: number; courseId: number }[]> =>
  rows(
    db,
    sql`
    select person_id as "personId", course_id as "courseId" from enrolment
    where is_current and status = 'under way' and course_id = any(${ids(courses)}) order by 1, 2`,
  );

/** Courses with what is said of them when sets hold these items instead of those they hold now. @returns Only those of which other things are said. */
export async function coursesWithItems(db: Queryable, items: readonly SetItem[]): Promise<CourseGrants[]> {
  const now = coursesInSets(await setItemRows(db, sql`until_at is null`));
  const then = coursesInSets(items);
  const sets = [...new Set([...now.keys(), ...then.keys()])];
  /** Of each course, the sets that it comes into and leaves. */
  const turns = new Map<number, { into: number[]; outOf: number[] }>();
  const turn = (course: number) => {
    const known = turns.get(course) ?? { into: [], outOf: [] };
    turns.set(course, known);
    return known;
  };
  for (const set of sets) {
    for (const course of then.get(set) ?? []) if (!now.get(set)?.has(course)) turn(course).into.push(set);
    for (const course of now.get(set) ?? []) if (!then.get(set)?.has(course)) turn(course).outOf.push(set);
  }
  const said = await grantsOfSets(db, [...new Set([...turns.values()].flatMap(({ into }) => into))]);
  return (await grantsByCourse(db, [...turns.keys()])).map(({ course, grants }) => {
    const { into = [], outOf = [] } = turns.get(course.id) ?? {};
    const stay = grants.filter(({ about }) => !('courseSet' in about && outOf.includes(about.courseSet)));
    return { course, grants: [...stay, ...said.filter(({ about }) => 'courseSet' in about && into.includes(about.courseSet))] };
  });
}

/** The same course with other facts; what is said of it stays. */
export const withFacts = (about: CourseGrants, facts: Partial<CourseFacts>): CourseGrants => ({
  course: { ...about.course, ...facts },
  grants: about.grants,
});
