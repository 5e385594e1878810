import { sql } from 'drizzle-orm';
import { ids, type Queryable, rows } from '../database/connect.ts';
import { reopensDay, validUntilDay } from './rounds.ts';

/** One person's rounds of a course. */
export interface RoundFacts {
  round: number;
  validUntil: string | null;
  reopensOn: string | null;
  earlier: { doneDay: string; score: number | null }[];
}

/** By course, the rounds of one person, for courses that are valid for a time or were done before. */
export async function roundsOf(db: Queryable, personId: number, courseIds: readonly number[]): Promise<Map<number, RoundFacts>> {
  const found = await rows<RoundFacts & { courseId: number }>(
    db,
    sql`
    select e.course_id as "courseId", e.round, case when e.status = 'done' and c.valid_months is not null then ${validUntilDay} end as "validUntil",
      case when e.status = 'done' and c.valid_months is not null then ${reopensDay} end as "reopensOn",
      coalesce((select jsonb_agg(jsonb_build_object('doneDay', b.done_day, 'score', b.score) order by b.round desc) from enrolment b
        where b.person_id = e.person_id and b.course_id = e.course_id and not b.is_current and b.done_day is not null), '[]') as earlier
    from enrolment e join course_now c on c.id = e.course_id where e.person_id = ${personId} and e.is_current and e.course_id = any(${ids(courseIds)})`,
    { plan: 'kept' },
  );
  return new Map(found.map(({ courseId, ...facts }) => [courseId, facts]));
}

export const noRounds: RoundFacts = { round: 1, validUntil: null, reopensOn: null, earlier: [] };
