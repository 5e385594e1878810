import type { WorkedActivity } from '@gate-roster/core';
import { sql } from 'drizzle-orm';
import { ids, type Queryable, rows } from '../../database/connect.ts';

/** Results of a course are some megabytes. */
const keptCourses = 4;

interface Results {
  byPerson: Map<number, readonly WorkedActivity[]>;
  /** Membership sets whose people are to be read again. */
  stale: Set<number>;
}

/** What learners have worked on in the courses that were asked for last, by activity. */
export class CourseResults {
  readonly #kept = new Map<number, Results>();

  markStale(sets: readonly number[]): void {
    for (const { stale } of this.#kept.values()) for (const id of sets) stale.add(id);
  }

  clear(): void {
    this.#kept.clear();
  }

  /** @returns By person; those who have no result are not in it. */
  async of(db: Queryable, courseId: number, timeZone: string): Promise<ReadonlyMap<number, readonly WorkedActivity[]>> {
    const kept = this.#kept.get(courseId) ?? { byPerson: new Map(await loadResults(db, courseId, timeZone, null)), stale: new Set() };
    const { byPerson, stale } = kept;
    if (stale.size > 0) for (const [id, worked] of await loadResults(db, courseId, timeZone, [...stale])) byPerson.set(id, worked);
    stale.clear();
    // As the latest one.
    this.#kept.delete(courseId);
    this.#kept.set(courseId, kept);
    for (const old of this.#kept.keys()) if (this.#kept.size > keptCourses) this.#kept.delete(old);
    return byPerson;
  }
}

/** @param sets Of the people of these sets alone, also of those who have no result any more; null: of everybody. */
async function loadResults(
  db: Queryable,
  courseId: number,
  timeZone: string,
  sets: readonly number[] | null,
): Promise<(readonly [number, readonly WorkedActivity[]])[]> {
  const found = await rows<{ line: [person: number, ...results: [activity: number, finished: boolean, day: string][]] }>(
    db,
    sql`
    select jsonb_build_array(p.id) || coalesce(jsonb_agg(jsonb_build_array(r.activity_id, r.finished, (r.last_at at time zone ${timeZone})::date)) filter (where r.activity_id is not null), '[]') as line
    from person p join enrolment e on e.person_id = p.id and e.course_id = ${courseId} and e.is_current left join activity_result r on r.enrolment_id = e.id
    where ${sets === null ? sql`p.counted` : sql`p.set_id = any(${ids(sets)})`} group by p.id`,
  );
  return found.map(({ line: [id, ...results] }) => [
    id,
    results.map(([activityId, finished, lastDay]) => ({ activityId, finished, lastDay })),
  ]);
}
