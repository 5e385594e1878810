import { type CourseEffect, type Effects, emptyWho } from '@gate-roster/core';
import { sql } from 'drizzle-orm';
import type { PlanContext } from '../changes/plan.ts';
import type { Subject } from '../changes/writer.ts';
import { ids, isAmong, type Queryable, rows } from '../database/connect.ts';
import * as tables from '../database/schema.ts';
import { doneThemselves, type ExceptedPair } from './exceptions.ts';

/* What an undo does to exceptions of people. */

/** Of whom, in which course, these rows speak. */
export const exceptedPairs = (db: Queryable, rowIds: readonly number[]): Promise<ExceptedPair[]> =>
  db
    .selectDistinct({ personId: tables.courseException.personId, courseId: tables.courseException.courseId })
    .from(tables.courseException)
    .where(isAmong(tables.courseException.rowId, rowIds));

/** Of exceptions that turn: who becomes done or is so no longer, and whose due day or exemption is another. */
export async function exceptionsTurned(
  { db, today }: PlanContext,
  subjects: readonly Subject[],
): Promise<Pick<Effects, 'becomeDone' | 'noLongerDone' | 'excepted'>> {
  const ofExceptions = subjects.filter(({ kind }) => kind === 'exception');
  const begin = ofExceptions.flatMap(({ before_row }) => before_row ?? []);
  const end = ofExceptions.flatMap(({ after_row }) => after_row ?? []);
  const found = await rows<{ person_id: number; course_id: number; kind: string; begins: boolean; is_done: boolean }>(
    db,
    sql`
    select x.person_id, x.course_id, x.kind, x.row_id = any(${ids(begin)}) as begins, coalesce(e.status = 'done', false) as is_done
    from course_exception x left join enrolment e on e.person_id = x.person_id and e.course_id = x.course_id and e.is_current
    where x.row_id = any(${ids([...begin, ...end])}) order by x.course_id, x.person_id`,
  );
  const byCourse = (list: typeof found): CourseEffect[] => {
    const courses = new Map<number, Set<number>>();
    for (const { course_id, person_id } of list) courses.set(course_id, (courses.get(course_id) ?? new Set()).add(person_id));
    return [...courses].map(([courseId, people]) => ({
      courseId,
      day: null,
      who: { ...emptyWho(), persons: [...people] },
      people: people.size,
    }));
  };
  const elsewhere = found.filter(({ kind }) => kind === 'done elsewhere');
  const themselves = await doneThemselves(
    db,
    elsewhere.map(({ course_id }) => course_id),
    elsewhere.map(({ person_id }) => person_id),
    today,
  );
  return {
    becomeDone: byCourse(elsewhere.filter(({ begins, is_done }) => begins && !is_done)),
    noLongerDone: byCourse(elsewhere.filter(({ begins, person_id, course_id }) => !begins && !themselves.has(`${person_id}/${course_id}`))),
    excepted: byCourse(found.filter(({ kind }) => kind !== 'done elsewhere')),
  };
}
