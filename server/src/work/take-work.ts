import { dayOfMoment } from '@gate-roster/core';
import { sql } from 'drizzle-orm';
import { type Database, maybeRow, oneRow } from '../database/connect.ts';
import { ProblemError } from '../http/problem.ts';
import { saveWork } from './my-work.ts';

/** What an outside course platform hands in for the learner of a launch. */
export interface SentWork {
  id: string;
  launchId: string;
  activityId: number;
  words: string;
  link: string | null;
}

/**
 * Takes a piece of work from a source, once per id; it is handed in at once.
 * @returns The version.
 * @throws ProblemError `not-found` when the launch is over or unknown, or the activity is not of its course.
 */
export async function takeWork(
  db: Database,
  sourceId: number,
  { id, launchId, activityId, words, link }: SentWork,
  { now, publicUrl }: { now: Date; publicUrl: string },
): Promise<number> {
  return db.transaction(async (tx) => {
    const launch = await maybeRow<{ person_id: number; time_zone: string }>(
      tx,
      sql`
      select l.person_id, o.time_zone from launch l join course x on x.id = l.course_id and x.source_id = ${sourceId} join activity_now a on a.course_id = x.id and a.id = ${activityId} cross join organisation o
      where l.id = ${launchId} and l.ends_at > ${now.toISOString()}
        and exists (select 1 from person_state s where s.person_id = l.person_id and s.until_at is null and s.state = 'active') for share of l`,
    );
    if (!launch) throw new ProblemError('not-found');
    const learner = { personId: launch.person_id, today: dayOfMoment(now, launch.time_zone), timeZone: launch.time_zone, sight: null };
    const fresh = await tx.execute(sql`insert into report (id, source_id) values (${id}, ${sourceId}) on conflict do nothing`);
    if (fresh.rowCount === 1) return saveWork(tx, learner, activityId, { words, link, skillIds: [], handIn: true }, { now, publicUrl });
    return (
      await oneRow<{ id: number }>(
        tx,
        sql`
        select v.id from work_version v join work w on w.id = v.work_id join enrolment e on e.id = w.enrolment_id and e.is_current
        where e.person_id = ${launch.person_id} and w.activity_id = ${activityId} order by v.number desc limit 1`,
      )
    ).id;
  });
}
