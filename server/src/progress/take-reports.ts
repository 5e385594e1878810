import { addTo, type Day, dayOfMoment, type ReportedTry, resultOfTries, type TriesResult } from '@gate-roster/core';
import { and, isNull, sql } from 'drizzle-orm';
import { type Database, isAmong, iso, rows, texts, type Transaction } from '../database/connect.ts';
import * as tables from '../database/schema.ts';
import { ProblemError } from '../http/problem.ts';
import { announceAll } from '../live/announce.ts';
import { noteForRules } from '../rules/note-events.ts';
import type { OpenNow } from '../splits/running.ts';
import { keepStatements, type SaidStatement } from '../standards/keep-statements.ts';
import { keepWay } from './lock-enrolment.ts';
import { type OpenThen, openThen, type Worked } from './open-then.ts';
import { openWindows } from './open-windows.ts';
import { lastDone, restand, type Restanding, writeRestood } from './restand.ts';
import { markStandings } from './standings.ts';

/** What every statement of a source has, whatever it says. */
interface Sent {
  id: string;
  /** A keyed hash of what it says: another under the same id is refused. */
  digest: string;
  said: SaidStatement | null;
}

/** A try at an activity of a course of the source's, by somebody whom it may report on. */
export interface Report extends Sent, Worked {
  activityId: number;
  finished: boolean;
  /** 0 to 100. */
  score: number | null;
  /**
   * The file of old results that brings it, for which an administrator vouches: it counts if the unit is open today, also when it was not
   * at its moment, and fires no rule.
   */
  vouchedBy?: number;
}

/** A report is taken back by its source. */
export interface Voiding extends Sent {
  voids: string;
}

/** What says nothing of progress is kept all the same. */
export interface Other extends Sent {
  personId: number;
  at: Date;
}

export type Incoming = Report | Voiding | Other;

const isVoiding = (each: Incoming): each is Voiding => 'voids' in each;
const isReport = (each: Incoming): each is Report => 'activityId' in each;

export interface Taken {
  /** How many were new. */
  fresh: number;
  /** Of these, reports on what was not open at their moment: kept, and not counted. */
  notOpen: number;
}

/**
 * Takes statements of one source, all of them or none: each counts once. Keeping them, results, standings and announcements are one
 * transaction of so many statements, however many there are.
 * @throws ProblemError `statement-differs` when another one was sent under the same id.
 */
export async function takeReports(db: Database, sourceId: number, sent: readonly Incoming[], now: Date): Promise<Taken> {
  for (let tries = 1; ; tries++) {
    try {
      return await db.transaction((tx) => takeWithin(tx, sourceId, sent, now));
    } catch (error) {
      if (!(error instanceof CameTwice) || tries === mostTries) throw error;
    }
  }
}

const mostTries = 3;

/** One of these was taken by another request while this one was under way; next time it is known. */
class CameTwice extends ProblemError {
  constructor() {
    super('busy', { retryAfter: 1 });
  }
}

async function takeWithin(tx: Transaction, sourceId: number, sent: readonly Incoming[], now: Date): Promise<Taken> {
  const fresh = await onlyFresh(tx, sourceId, sent);
  if (fresh.length === 0) return { fresh: 0, notOpen: 0 };
  const [{ timeZone = 'UTC' } = {}] = await tx.select({ timeZone: tables.organisation.timeZone }).from(tables.organisation);
  // Nothing was done later than it was reported.
  const reports = fresh.filter(isReport).map((each) => (each.at > now ? { ...each, at: now } : each));
  const today = dayOfMoment(now, timeZone);
  const open = reports.length === 0 ? [] : await openThen(tx, reports, now, timeZone);
  await openVouched(tx, reports, open, today);
  const counted = reports.flatMap((each, place) => (open[place]?.isOpen ? [{ ...each, inSplit: open[place].inSplit }] : []));
  const { voided, again } = await noteVoids(tx, sourceId, fresh.filter(isVoiding), now);
  await markStandings(tx, [...new Set([...counted, ...voided].map(({ personId }) => personId))]);
  const roundOf = await lockEnrolments(tx, counted, timeZone);
  await noteReports(tx, sourceId, { fresh, reports, counted, roundOf }, now);
  await workOut(tx, counted, roundOf, voided, { today, timeZone });
  await keepStatements(tx, sourceId, fresh, now);
  await tellOf(tx, counted, voided);
  return { fresh: fresh.length - again, notOpen: reports.length - counted.length };
}

/** What is vouched for counts, too, where it is open today. */
async function openVouched(tx: Transaction, reports: readonly Report[], open: OpenThen[], today: Day): Promise<void> {
  const places = reports.flatMap(({ vouchedBy }, place) => (vouchedBy !== undefined && !open[place]?.isOpen ? [place] : []));
  const asked = places.flatMap((place) => reports[place] ?? []);
  const windows = await openWindows(
    tx,
    asked.map(({ personId, courseId }) => ({ personId, courseId, day: today })),
  );
  for (const [index, place] of places.entries())
    if (windows[index]?.units.includes(asked[index]?.unitId ?? 0)) open[place] = { isOpen: true, inSplit: null };
}

/** Those that did not come before. @throws ProblemError `statement-differs`. */
async function onlyFresh(tx: Transaction, sourceId: number, sent: readonly Incoming[]): Promise<Incoming[]> {
  const byId = new Map(sent.map((each) => [each.id, each]));
  const before = await rows<{ id: string; digest: string | null }>(
    tx,
    sql`select r.id, r.digest from unnest(${texts(byId.keys())}::uuid[]) q(id) join report r on r.source_id = ${sourceId} and r.id = q.id`,
  );
  const other = before.find(({ id, digest }) => digest !== null && digest !== byId.get(id)?.digest);
  if (other) throw new ProblemError('statement-differs', { where: [{ place: other.id, what: 'Another statement has this id' }] });
  for (const { id } of before) byId.delete(id);
  return [...byId.values()];
}

interface Voided {
  personId: number;
  courseId: number;
  enrolmentId: number;
  activityId: number;
}

/**
 * Notes what is taken back: what it made done is done no more, unless another try did it too. A void that comes before its report is
 * kept until then; one of another source's report, or of another void, does nothing.
 * @returns What counted until now, and how many took back what had been taken back before.
 */
async function noteVoids(
  tx: Transaction,
  sourceId: number,
  voids: readonly Voiding[],
  now: Date,
): Promise<{ voided: Voided[]; again: number }> {
  if (voids.length === 0) return { voided: [], again: 0 };
  const named = texts(voids.map(({ voids: id }) => id));
  const found = await rows<Voided | Record<keyof Voided, null>>(
    tx,
    sql`
    with fresh as (insert into report_void (report_id, source_id, received_at) select distinct v.id::uuid, ${sourceId}::bigint, ${now.toISOString()}::timestamptz from unnest(${named}) v(id) order by 1 on conflict do nothing returning report_id)
    select e.person_id as "personId", e.course_id as "courseId", r.enrolment_id as "enrolmentId", r.activity_id as "activityId"
    from fresh f left join report r on r.source_id = ${sourceId} and r.id = f.report_id left join enrolment e on e.id = r.enrolment_id`,
  );
  const voided = found.filter((each): each is Voided => each.enrolmentId !== null);
  return { voided, again: voids.length - found.length };
}

type Counted = Report & { inSplit: OpenNow | null };

/** The round that a report falls into, by person, course and moment. */
type RoundOf = (report: Worked) => number;

/** Enrolments are made where there are none, and locked in the order of their ids. */
async function lockEnrolments(tx: Transaction, counted: readonly Counted[], timeZone: string): Promise<RoundOf> {
  if (counted.length === 0) return () => 0;
  const pairs = JSON.stringify([
    ...new Map(counted.map((each) => [`${each.personId}/${each.courseId}`, { person: each.personId, course: each.courseId }])).values(),
  ]);
  const asked = sql`jsonb_to_recordset(${pairs}::jsonb) as q(person bigint, course bigint)`;
  await tx.execute(sql`
    insert into enrolment (person_id, course_id, status) select q.person, q.course, 'not begun' from ${asked} order by q.person, q.course on conflict do nothing`);
  const found = await rows<{ id: number; personId: number; courseId: number; round: number; opened: string | null }>(
    tx,
    sql`
    select e.id, e.person_id as "personId", e.course_id as "courseId", e.round, e.round_opened_day as opened
    from ${asked} join enrolment e on e.person_id = q.person and e.course_id = q.course order by e.id for update of e`,
  );
  const byPair = new Map<string, typeof found>();
  for (const each of found) addTo(byPair, `${each.personId}/${each.courseId}`, each);
  for (const list of byPair.values()) list.sort((a, b) => b.round - a.round);
  const roundOf: RoundOf = ({ personId, courseId, at }) => {
    const list = byPair.get(`${personId}/${courseId}`) ?? [];
    if (list.length < 2) return list[0]?.id ?? 0;
    const day = dayOfMoment(at, timeZone);
    // What was done before a round opened belongs to the one before.
    return (list.find(({ opened }) => opened === null || opened <= day) ?? list.at(-1))?.id ?? 0;
  };
  return roundOf;
}

/** Keeps what came: whom and what it is about, and whether it counts. In the order of their ids, so that two requests never wait in a ring. */
async function noteReports(
  tx: Transaction,
  sourceId: number,
  {
    fresh,
    reports,
    counted,
    roundOf,
  }: { fresh: readonly Incoming[]; reports: readonly Report[]; counted: readonly Counted[]; roundOf: RoundOf },
  now: Date,
): Promise<void> {
  const counts = new Map(counted.map((each) => [each.id, roundOf(each)]));
  const tries = new Map(reports.map((each) => [each.id, each]));
  const noted = fresh.map((each) => {
    const { id, digest } = each;
    const report = tries.get(id);
    if (isVoiding(each)) return { id, digest };
    if (!report) return { id, digest, person: each.personId, at: each.at.toISOString(), not_counted: 'other verb' };
    const { personId: person, activityId: activity, finished, score } = report;
    const about = { id, digest, person, activity, finished, score, at: report.at.toISOString(), file: report.vouchedBy };
    return counts.has(id) ? { ...about, enrolment: counts.get(id) } : { ...about, not_counted: 'not open' };
  });
  const kept = await tx.execute(sql`
    insert into report (source_id, id, digest, received_at, person_id, enrolment_id, activity_id, finished, score, at, not_counted, result_file_id)
    select ${sourceId}, q.id, q.digest, ${now.toISOString()}, q.person, q.enrolment, q.activity, q.finished, q.score, q.at, q.not_counted, q.file
    from jsonb_to_recordset(${JSON.stringify(noted)}::jsonb) as q(id uuid, digest text, person bigint, enrolment bigint, activity bigint, finished boolean, score double precision, at timestamptz, not_counted text, file bigint)
    order by q.id on conflict do nothing`);
  if (kept.rowCount !== noted.length) throw new CameTwice();
}

/** Results of the activities, and what they make of the enrolments. */
async function workOut(
  tx: Transaction,
  counted: readonly Counted[],
  roundOf: RoundOf,
  voided: readonly Voided[],
  { today, timeZone }: { today: string; timeZone: string },
): Promise<void> {
  if (counted.length + voided.length === 0) return;
  const voidedIds = voided.map(({ enrolmentId }) => enrolmentId);
  if (voided.length > 0)
    await tx
      .select({ id: tables.enrolment.id })
      .from(tables.enrolment)
      .where(isAmong(tables.enrolment.id, voidedIds))
      .orderBy(tables.enrolment.id)
      .for('update');
  const about = new Map<number, Restanding>();
  const activities = new Map<string, { enrolmentId: number; activityId: number }>();
  const note = (enrolmentId: number, { personId, courseId, activityId }: Omit<Voided, 'enrolmentId'>, isWorse: boolean): void => {
    about.set(enrolmentId, { enrolmentId, personId, courseId, isWorse: isWorse || (about.get(enrolmentId)?.isWorse ?? false) });
    activities.set(`${enrolmentId}/${activityId}`, { enrolmentId, activityId });
  };
  for (const each of voided) note(each.enrolmentId, each, true);
  const begun = new Map<number, string>();
  for (const each of counted) {
    const id = roundOf(each);
    const at = each.at.toISOString();
    note(id, each, false);
    if (at < (begun.get(id) ?? '~')) begun.set(id, at);
  }
  await foldTries(tx, [...activities.values()]);
  const restood = await restand(tx, [...about.values()], today);
  // The paths of an earlier round stay those that were open then.
  const written = restood.map((each) => (each.isCurrent ? each : { ...each, open: null }));
  await writeRestood(tx, written, await lastDone(tx, [...about.keys()]), timeZone, begun);
  for (const each of counted) if (each.inSplit) await keepWay(tx, roundOf(each), each.inSplit);
  const active = new Map<number, string>();
  for (const { personId, at } of counted) if (at.toISOString() > (active.get(personId) ?? '')) active.set(personId, at.toISOString());
  await tx.execute(sql`
    update person p set active_at = greatest(p.active_at, q.at) from jsonb_to_recordset(${JSON.stringify([...active].map(([id, at]) => ({ id, at })))}::jsonb) as q(id bigint, at timestamptz) where p.id = q.id`);
}

/** Tells those who look at these people's work, and asks the rules; what is taken back fires none. */
async function tellOf(tx: Transaction, counted: readonly Counted[], voided: readonly Voided[]): Promise<void> {
  const worked = [...new Set(counted.flatMap(({ personId, vouchedBy }) => (vouchedBy === undefined ? [personId] : [])))];
  const people = [...new Set([...counted, ...voided].map(({ personId }) => personId))];
  if (people.length === 0) return;
  const groups = await tx
    .selectDistinct({ id: tables.membership.groupId })
    .from(tables.membership)
    .where(and(isAmong(tables.membership.personId, people), isNull(tables.membership.untilAt)));
  await noteForRules(
    tx,
    worked.map((personId) => ({ personId, what: 'progress' })),
  );
  await noteForRules(
    tx,
    people.filter((id) => !worked.includes(id)).map((personId) => ({ personId, what: 'progress' })),
    { isQuiet: true },
  );
  await announceAll(tx, [
    { topics: ['progress'], groups: groups.map(({ id }) => id) },
    ...people.map((personId) => ({ topics: ['progress' as const], groups: [], personId })),
  ]);
}

/** Works out the results of activities again, from every try that was not taken back. The caller has locked the enrolments. */
async function foldTries(tx: Transaction, list: readonly { enrolmentId: number; activityId: number }[]): Promise<void> {
  const asked = sql`jsonb_to_recordset(${JSON.stringify(list)}::jsonb) as q("enrolmentId" bigint, "activityId" bigint)`;
  const found = await rows<{ enrolmentId: number; activityId: number; before: TriesResult | null; tries: ReportedTry[] }>(
    tx,
    sql`
    select q."enrolmentId", q."activityId", k.before, coalesce((
      select jsonb_agg(jsonb_build_object('finished', r.finished, 'score', r.score, 'at', r.at)) from report r
      where r.enrolment_id = q."enrolmentId" and r.activity_id = q."activityId" and not exists (select 1 from report_void v where v.report_id = r.id and v.source_id = r.source_id)), '[]') as tries
    from ${asked} left join activity_result k on k.enrolment_id = q."enrolmentId" and k.activity_id = q."activityId"`,
  );
  const folded = found.map(({ before, tries, ...about }) => ({
    ...about,
    result: resultOfTries(
      before,
      tries.map((each) => ({ ...each, at: iso(each.at) })),
    ),
  }));
  await tx.execute(sql`
    delete from activity_result k using jsonb_to_recordset(${JSON.stringify(folded.filter(({ result }) => result === null))}::jsonb) as q("enrolmentId" bigint, "activityId" bigint)
    where k.enrolment_id = q."enrolmentId" and k.activity_id = q."activityId"`);
  const kept = folded.flatMap(({ result, ...about }) => (result ? [{ ...about, ...result }] : []));
  await tx.execute(sql`
    insert into activity_result (enrolment_id, activity_id, finished, score, tries, last_at)
    select q."enrolmentId", q."activityId", q.finished, q.score, q.tries, q."lastAt"
    from jsonb_to_recordset(${JSON.stringify(kept)}::jsonb) as q("enrolmentId" bigint, "activityId" bigint, finished boolean, score double precision, tries int, "lastAt" timestamptz)
    on conflict (enrolment_id, activity_id) do update set finished = excluded.finished, score = excluded.score, tries = excluded.tries, last_at = excluded.last_at`);
}
