import { type ActivityResult, type Day, type HandIn, type MarkedVersion, resultOfWork, type WorkResult } from '@gate-roster/core';
import { sql } from 'drizzle-orm';
import { ids, iso, type Queryable, rows, type Transaction } from '../database/connect.ts';
import { lastDone, restand, type Restood, writeRestood } from '../progress/restand.ts';

/*
 * What marks make of activities and enrolments. The result of an activity that is marked is worked out from all versions of its
 * work each time one of them changes (core, `resultOfWork`), so that the order in which marks come does not matter.
 */

/** Marks as they would be; null: the version would have none. */
export type MarksThen = ReadonlyMap<number, MarkedVersion['mark']>;

interface Fold {
  workId: number;
  enrolmentId: number;
  personId: number;
  courseId: number;
  activityId: number;
  before: ActivityResult | null;
  after: WorkResult | null;
  /** State of each version, as its mark says. */
  versions: { id: number; state: 'waiting' | 'sent back' | 'marked' }[];
}

export interface Folded {
  folds: Fold[];
  restood: Restood[];
}

/** Works out what pieces of work come to. `then`: as if these versions had other marks than they have. */
export async function foldWork(db: Queryable, workIds: readonly number[], today: Day, then: MarksThen = new Map()): Promise<Folded> {
  const found = await rows<{
    id: number;
    enrolment_id: number;
    person_id: number;
    course_id: number;
    activity_id: number;
    hand_in: HandIn | null;
    before: ActivityResult | null;
    versions: { id: number; handed_in_at: string; is_late: boolean; verdict: 'sent back' | 'marked' | null; score: number | null }[];
  }>(
    db,
    sql`
    select w.id, w.enrolment_id, e.person_id, e.course_id, w.activity_id, a.hand_in,
      (select jsonb_build_object('activityId', r.activity_id, 'finished', r.finished, 'score', r.score) from activity_result r where r.enrolment_id = w.enrolment_id and r.activity_id = w.activity_id) as before,
      coalesce((select jsonb_agg(jsonb_build_object('id', v.id, 'handed_in_at', v.handed_in_at, 'is_late', v.is_late, 'verdict', m.verdict, 'score', m.score) order by v.number)
        from work_version v left join mark m on m.version_id = v.id and m.until_at is null where v.work_id = w.id and v.state <> 'draft'), '[]') as versions
    from work w join enrolment e on e.id = w.enrolment_id left join activity_now a on a.id = w.activity_id
    where w.id = any(${ids(workIds)}) order by w.id`,
  );
  const folds = found.map((work): Fold => {
    const versions = work.versions.map((version) => {
      const given: MarkedVersion['mark'] = then.has(version.id) ? (then.get(version.id) ?? null) : markOf(version);
      return { id: version.id, handedInAt: iso(version.handed_in_at), isLate: version.is_late, mark: given };
    });
    return {
      workId: work.id,
      enrolmentId: work.enrolment_id,
      personId: work.person_id,
      courseId: work.course_id,
      activityId: work.activity_id,
      before: work.before,
      // An activity that is no longer marked, or was taken out, keeps the result that it had.
      after: work.hand_in ? resultOfWork(versions, work.hand_in) : kept(work.before),
      // A version that a later one followed waits no more, also when the mark that sent it back was undone.
      versions: versions.map(({ id, mark }, place) => ({
        id,
        state: mark?.verdict ?? (place === versions.length - 1 ? 'waiting' : 'sent back'),
      })),
    };
  });
  const results = new Map<number, Map<number, ActivityResult | null>>();
  const worse = new Set<number>();
  for (const { enrolmentId, activityId, before, after } of folds) {
    const ofEnrolment = results.get(enrolmentId) ?? new Map<number, ActivityResult | null>();
    results.set(enrolmentId, ofEnrolment.set(activityId, after && { activityId, finished: after.finished, score: after.score }));
    if ((before?.finished === true && after?.finished !== true) || (before?.score ?? -1) > (after?.score ?? -1)) worse.add(enrolmentId);
  }
  const about = [...new Map(folds.map((fold) => [fold.enrolmentId, fold])).values()];
  const restood = await restand(
    db,
    about.map(({ enrolmentId, personId, courseId }) => ({ enrolmentId, personId, courseId, isWorse: worse.has(enrolmentId) })),
    today,
    { then: results },
  );
  return { folds, restood };
}

const markOf = ({ verdict, score }: { verdict: 'sent back' | 'marked' | null; score: number | null }): MarkedVersion['mark'] =>
  verdict === null ? null : verdict === 'marked' ? { verdict, score: score ?? 0 } : { verdict };

const kept = (before: ActivityResult | null): WorkResult | null =>
  before && { finished: before.finished, score: before.score, tries: 1, lastAt: '' };

/** Writes what was folded: states of versions, results, enrolments. The people's standings are marked before. */
export async function writeFolded(tx: Transaction, { folds, restood }: Folded, timeZone: string): Promise<void> {
  const versions = folds.flatMap((fold) => fold.versions);
  await tx.execute(sql`
    update work_version v set state = r.state from jsonb_to_recordset(${JSON.stringify(versions)}::jsonb) as r(id bigint, state text)
    where v.id = r.id and v.state <> r.state`);
  const marked = folds.filter(({ after }) => after?.lastAt !== '');
  const gone = marked.filter(({ after }) => after === null);
  await tx.execute(sql`
    delete from activity_result r using jsonb_to_recordset(${JSON.stringify(gone.map(keys))}::jsonb) as g(enrolment bigint, activity bigint)
    where r.enrolment_id = g.enrolment and r.activity_id = g.activity`);
  const there = marked.flatMap((fold) => (fold.after ? [{ ...keys(fold), ...fold.after }] : []));
  await tx.execute(sql`
    insert into activity_result (enrolment_id, activity_id, finished, score, tries, last_at)
    select enrolment, activity, finished, score, tries, "lastAt" from jsonb_to_recordset(${JSON.stringify(there)}::jsonb)
      as r(enrolment bigint, activity bigint, finished boolean, score double precision, tries int, "lastAt" timestamptz)
    on conflict (enrolment_id, activity_id) do update set finished = excluded.finished, score = excluded.score, tries = excluded.tries, last_at = excluded.last_at`);
  await writeRestood(
    tx,
    restood,
    await lastDone(
      tx,
      restood.map(({ enrolmentId }) => enrolmentId),
    ),
    timeZone,
  );
}

const keys = ({ enrolmentId, activityId }: Fold): { enrolment: number; activity: number } => ({
  enrolment: enrolmentId,
  activity: activityId,
});

/** The pieces that these versions, or marks, belong to. */
export const worksOf = async (db: Queryable, versionIds: readonly number[]): Promise<number[]> =>
  (await rows<{ id: number }>(db, sql`select distinct work_id as id from work_version where id = any(${ids(versionIds)}) order by 1`)).map(
    ({ id }) => id,
  );
