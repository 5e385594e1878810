import { dayOfMoment, type ReportedTry, resultOfTries, type TriesResult } from '@gate-roster/core';
import { sql } from 'drizzle-orm';
import { type Database, ids, iso, maybeRow, oneRow, rows, type Transaction } from '../database/connect.ts';
import { ProblemError } from '../http/problem.ts';
import { announce } from '../live/announce.ts';
import { noteForRules } from '../rules/note-events.ts';
import { type OpenNow, wasOpenFor } from '../splits/running.ts';
import { lastDone, restand, writeRestood } from './restand.ts';
import { markStandings } from './standings.ts';

/** What is read from one xAPI-shaped statement. */
export interface Report {
  id: string;
  launchId: string;
  activityId: number;
  finished: boolean;
  /** 0 to 100. */
  score: number | null;
  at: Date;
  /** How long the try took, up to `at`. */
  seconds: number;
}

/** A report is taken back by its source. */
export interface Voiding {
  voids: string;
}

/**
 * Takes reports of one source: each counts once, only about the source's own courses, and only for the
 * launch it names. Result, standing and announcement are one transaction.
 * @returns How many were new.
 * @throws ProblemError `not-found` when the launch is over or unknown, or the activity is not of its course.
 */
export async function takeReports(db: Database, sourceId: number, reports: readonly (Report | Voiding)[], now: Date): Promise<number> {
  return db.transaction(async (tx) => {
    let taken = 0;
    for (const report of reports) {
      const isNew = 'voids' in report ? await takeVoid(tx, sourceId, report.voids, now) : await takeReport(tx, sourceId, report, now);
      if (isNew) taken++;
    }
    return taken;
  });
}

async function takeReport(tx: Transaction, sourceId: number, given: Report, now: Date): Promise<boolean> {
  // Nothing was done later than it was reported.
  const report = given.at > now ? { ...given, at: now } : given;
  const launch = await maybeRow<{
    person_id: number;
    course_id: number;
    unit_id: number;
    works: boolean;
    time_zone: string;
  }>(
    tx,
    sql`
    select l.person_id, l.course_id, u.id as unit_id, o.time_zone,
      exists (select 1 from person_state s where s.person_id = l.person_id and s.until_at is null and s.state = 'active') as works from launch l join course x on x.id = l.course_id join course_now c on c.id = x.id cross join organisation o
    join activity_now a on a.id = ${report.activityId} and a.finished_by = 'player' join unit_now u on u.id = a.unit_id and u.course_id = c.id
    where l.id = ${report.launchId} and x.source_id = ${sourceId} and l.ends_at > ${now.toISOString()} for share of l`,
  );
  if (!launch) throw new ProblemError('not-found');
  const today = dayOfMoment(now, launch.time_zone);
  // A launch goes on only as long as the account works and the unit is open to its person, with a seat where one is needed.
  const working = { personId: launch.person_id, today, sight: null };
  const begunAgo = (now.getTime() - report.at.getTime()) / 1000 + report.seconds;
  const open = launch.works ? await wasOpenFor(tx, working, launch.course_id, launch.unit_id, begunAgo) : null;
  if (!open) throw new ProblemError('not-open');
  const fresh = await tx.execute(sql`insert into report (id, source_id) values (${report.id}, ${sourceId}) on conflict do nothing`);
  if (fresh.rowCount !== 1) return false;

  await markStandings(tx, [launch.person_id]);
  const enrolment = await lockEnrolment(tx, launch.person_id, launch.course_id, report.at);
  await tx.execute(sql`
    update report set enrolment_id = ${enrolment.id}, activity_id = ${report.activityId}, finished = ${report.finished}, score = ${report.score}, at = ${report.at.toISOString()}
    where id = ${report.id}`);
  await foldTries(tx, enrolment.id, report.activityId);
  const about = { enrolmentId: enrolment.id, personId: launch.person_id, courseId: launch.course_id, isWorse: false };
  await writeRestood(
    tx,
    await restand(tx, [about], today, { opens: open.enrolment ? [open.enrolment] : [] }),
    new Map([[enrolment.id, report.at.toISOString()]]),
    launch.time_zone,
  );
  await keepWay(tx, enrolment.id, open);
  await tx.execute(sql`update person set active_at = ${report.at.toISOString()} where id = ${launch.person_id}`);
  await tellOf(tx, launch.person_id);
  return true;
}

/** Work on what only a split opened belongs to the paths through the split's group. */
export async function keepWay(tx: Transaction, enrolmentId: number, { enrolment, viaGroups }: OpenNow): Promise<void> {
  if (!enrolment?.units.length && viaGroups.length > 0)
    await tx.execute(sql`update enrolment set via_groups = ${ids(viaGroups)} where id = ${enrolmentId}`);
}

/** Tells those who look at this person's work, and asks the rules. */
async function tellOf(tx: Transaction, personId: number, isQuiet = false): Promise<void> {
  const groups = await rows<{ group_id: number }>(
    tx,
    sql`select group_id from membership where person_id = ${personId} and until_at is null`,
  );
  await noteForRules(tx, [{ personId, what: 'progress' }], { depth: 0, isQuiet });
  await announce(tx, { topics: ['progress'], groups: groups.map(({ group_id }) => group_id), personId });
}

/**
 * Takes a report back: what it made done is done no more, unless another try did it too. A void that comes before its report is kept
 * until then; one of another source's report does nothing. @returns Whether it is new.
 */
async function takeVoid(tx: Transaction, sourceId: number, reportId: string, now: Date): Promise<boolean> {
  const fresh = await tx.execute(
    sql`insert into report_void (report_id, source_id) values (${reportId}, ${sourceId}) on conflict do nothing`,
  );
  if (fresh.rowCount !== 1) return false;
  const about = await maybeRow<{ enrolmentId: number; activityId: number; personId: number; courseId: number; timeZone: string }>(
    tx,
    sql`
    select r.enrolment_id as "enrolmentId", r.activity_id as "activityId", e.person_id as "personId", e.course_id as "courseId", o.time_zone as "timeZone"
    from report r join enrolment e on e.id = r.enrolment_id cross join organisation o where r.id = ${reportId} and r.source_id = ${sourceId}`,
  );
  if (!about) return true;
  await markStandings(tx, [about.personId]);
  await tx.execute(sql`select 1 from enrolment where id = ${about.enrolmentId} for update`);
  await foldTries(tx, about.enrolmentId, about.activityId);
  const restood = await restand(tx, [{ ...about, isWorse: true }], dayOfMoment(now, about.timeZone));
  await writeRestood(tx, restood, await lastDone(tx, [about.enrolmentId]), about.timeZone);
  await tellOf(tx, about.personId, true);
  return true;
}

/** Works out the result of an activity again, from every try that was not taken back. The caller has locked the enrolment. */
async function foldTries(tx: Transaction, enrolmentId: number, activityId: number): Promise<void> {
  const kept = await maybeRow<{ before: TriesResult | null }>(
    tx,
    sql`select before from activity_result where enrolment_id = ${enrolmentId} and activity_id = ${activityId}`,
  );
  const tries = await rows<ReportedTry>(
    tx,
    sql`
    select r.finished, r.score, r.at from report r where r.enrolment_id = ${enrolmentId} and r.activity_id = ${activityId}
      and not exists (select 1 from report_void v where v.report_id = r.id and v.source_id = r.source_id)`,
  );
  const before = kept?.before ?? null;
  const result = resultOfTries(
    before,
    tries.map((each) => ({ ...each, at: iso(each.at) })),
  );
  if (result === null)
    await tx.execute(sql`delete from activity_result where enrolment_id = ${enrolmentId} and activity_id = ${activityId}`);
  else
    await tx.execute(sql`
      insert into activity_result (enrolment_id, activity_id, finished, score, tries, last_at)
      values (${enrolmentId}, ${activityId}, ${result.finished}, ${result.score}, ${result.tries}, ${result.lastAt})
      on conflict (enrolment_id, activity_id) do update set finished = excluded.finished, score = excluded.score, tries = excluded.tries, last_at = excluded.last_at`);
}

/** The current enrolment, made if there is none, locked so that reports of one person queue up. `at`: when it was begun; null: it is not. */
export async function lockEnrolment(
  tx: Transaction,
  personId: number,
  courseId: number,
  at: Date | null,
): Promise<{ id: number; status: string }> {
  await tx.execute(
    sql`insert into enrolment (person_id, course_id, status) values (${personId}, ${courseId}, 'not begun') on conflict do nothing`,
  );
  const enrolment = await oneRow<{ id: number; status: string }>(
    tx,
    sql`select id, status from enrolment where person_id = ${personId} and course_id = ${courseId} and is_current for update`,
  );
  await tx.execute(
    sql`update enrolment set begun_at = coalesce(begun_at, ${at?.toISOString() ?? null}::timestamptz) where id = ${enrolment.id}`,
  );
  return enrolment;
}
