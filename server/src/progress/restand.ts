import { type ActivityResult, addTo, type Day, dayOfMoment, standing, type Status } from '@gate-roster/core';
import { sql } from 'drizzle-orm';
import { ids, isAmong, iso, type Queryable, rows, type Transaction } from '../database/connect.ts';
import * as tables from '../database/schema.ts';
import { openWindows, type OpenWindow } from './open-windows.ts';

/* What the results of activities make of enrolments: their status and score (core, `standing`). */

export interface Restanding {
  enrolmentId: number;
  personId: number;
  courseId: number;
  /** A result got worse: a mark was corrected or undone, or work was taken back. Only then can a done enrolment be done no more. */
  isWorse: boolean;
}

export interface Restood extends Restanding {
  before: Status;
  after: Status;
  score: number | null;
  finishedActivities: number;
  hasResults: boolean;
  /** Is it the round that is under way? */
  isCurrent: boolean;
  open: Pick<OpenWindow, 'units' | 'viaGroups'> | null;
}

/** Results as they would be, by enrolment; those of other activities are read. */
export type ResultsThen = ReadonlyMap<number, ReadonlyMap<number, ActivityResult | null>>;

/**
 * Works out the status of enrolments from their results, all in five statements however many there are.
 */
export async function restand(
  db: Queryable,
  list: readonly Restanding[],
  today: Day,
  { then = new Map() }: { then?: ResultsThen } = {},
): Promise<Restood[]> {
  if (list.length === 0) return [];
  const courses = [...new Set(list.map(({ courseId }) => courseId))];
  const windows = await openWindows(
    db,
    list.map(({ personId, courseId }) => ({ personId, courseId, day: today })),
  );
  const rules = new Map(
    (
      await rows<{ id: number; passScore: number | null; doneBy: number[] | null }>(
        db,
        sql`select id, pass_score as "passScore", to_jsonb(done_by_activities) as "doneBy" from course_now where id = any(${ids(courses)})`,
      )
    ).map((rule) => [rule.id, { activities: rule.doneBy, passScore: rule.passScore }]),
  );
  const activities = await db
    .select({
      id: tables.activityNow.id,
      unitId: tables.activityNow.unitId,
      scored: tables.activityNow.scored,
      courseId: tables.activityNow.courseId,
    })
    .from(tables.activityNow)
    .where(isAmong(tables.activityNow.courseId, courses));
  const byCourse = new Map<number, typeof activities>();
  for (const each of activities) addTo(byCourse, each.courseId, each);
  const enrolments = ids(list.map(({ enrolmentId }) => enrolmentId));
  const known = await rows<{ id: number; status: Status; doneElsewhere: boolean; isCurrent: boolean; results: ActivityResult[] }>(
    db,
    sql`
    select e.id, e.status, e.done_elsewhere as "doneElsewhere", e.is_current as "isCurrent", coalesce((
      select jsonb_agg(jsonb_build_object('activityId', r.activity_id, 'finished', r.finished, 'score', r.score)) from activity_result r where r.enrolment_id = e.id), '[]') as results
    from enrolment e where e.id = any(${enrolments})`,
  );
  const byId = new Map(known.map((each) => [each.id, each]));
  return list.flatMap((each, place) => {
    const enrolment = byId.get(each.enrolmentId);
    const rule = rules.get(each.courseId);
    if (!enrolment || !rule) return [];
    const theirs = windows[place] ?? null;
    const changed = then.get(each.enrolmentId) ?? new Map<number, ActivityResult | null>();
    const results = [
      ...enrolment.results.filter(({ activityId }) => !changed.has(activityId)),
      ...[...changed.values()].flatMap((result) => result ?? []),
    ];
    const stood = standing(byCourse.get(each.courseId) ?? [], theirs?.units ?? [], results, rule);
    // What was done once stays done: a worse later try takes nothing away.
    const keeps = enrolment.status === 'done' && (!each.isWorse || enrolment.doneElsewhere);
    return [
      {
        ...each,
        before: enrolment.status,
        after: keeps ? ('done' as const) : stood.status,
        score: stood.score,
        finishedActivities: stood.finishedActivities,
        hasResults: results.length > 0,
        isCurrent: enrolment.isCurrent,
        open: theirs,
      },
    ];
  });
}

/** Writes what `restand` worked out; the people's standings are marked by the caller, before any enrolment is locked. `at`: when what made the difference was done, in ISO form, by enrolment; `begun`: when those that may not have begun did. */
export async function writeRestood(
  tx: Transaction,
  list: readonly Restood[],
  at: ReadonlyMap<number, string>,
  timeZone: string,
  begun: ReadonlyMap<number, string> = new Map(),
): Promise<void> {
  const written = list.map((each) => {
    const moment = at.get(each.enrolmentId) ?? null;
    return {
      id: each.enrolmentId,
      status: each.after,
      score: each.score,
      finished: each.finishedActivities,
      turns: each.before !== each.after && (each.before === 'done' || each.after === 'done'),
      done_at: each.after === 'done' ? moment : null,
      done_day: each.after === 'done' && moment !== null ? dayOfMoment(new Date(moment), timeZone) : null,
      begun: each.hasResults,
      begun_at: begun.get(each.enrolmentId) ?? null,
      via: each.open && each.open.viaGroups.length > 0 ? `{${each.open.viaGroups.join()}}` : null,
    };
  });
  await tx.execute(sql`
    update enrolment e set status = r.status, score = r.score, finished_activities = r.finished, begun_at = case when r.begun then least(e.begun_at, r.begun_at) end,
      done_at = case when r.turns then r.done_at else e.done_at end, done_day = case when r.turns then r.done_day else e.done_day end,
      done_by_narrowing = e.done_by_narrowing and not r.turns, via_groups = coalesce(r.via::bigint[], e.via_groups)
    from jsonb_to_recordset(${JSON.stringify(written)}::jsonb) as r(id bigint, status text, score double precision, finished smallint, turns boolean, done_at timestamptz, done_day date, begun boolean, begun_at timestamptz, via text)
    where e.id = r.id`);
}

/** When the last of what is finished was done. */
export async function lastDone(tx: Transaction, enrolmentIds: readonly number[]): Promise<Map<number, string>> {
  const found = await rows<{ id: number; at: string }>(
    tx,
    sql`select enrolment_id as id, max(last_at) as at from activity_result where enrolment_id = any(${ids(enrolmentIds)}) and finished group by 1`,
  );
  return new Map(found.map(({ id, at }) => [id, iso(at)]));
}
