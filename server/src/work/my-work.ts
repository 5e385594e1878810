import type { ActivityContent, MyActivity } from '@gate-roster/contract';
import { dayOfMoment, type HandIn, whyNotHandIn } from '@gate-roster/core';
import { and, eq, isNull, sql } from 'drizzle-orm';
import type { SignedIn } from '../accounts/actor.ts';
import type { ProgressSight } from '../accounts/reach.ts';
import { cardSight } from '../courses/my-courses.ts';
import { firstOf, ids, maybeRow, oneRow, onlyOne, type Queryable, rows, type Transaction } from '../database/connect.ts';
import * as tables from '../database/schema.ts';
import { found, notFound, ProblemError } from '../http/problem.ts';
import { noteHandedIn } from '../messages/send-message.ts';
import { announce } from '../live/announce.ts';
import { restand, writeRestood } from '../progress/restand.ts';
import { markStandings } from '../progress/standings.ts';
import { keepWay, lockEnrolment } from '../progress/lock-enrolment.ts';
import { type OpenNow, openNow } from '../splits/running.ts';
import { noteForRules } from '../rules/note-events.ts';
import { foldWork, writeFolded } from './fold-work.ts';
import { skillNames, versionsOf } from './read-work.ts';

/* What a learner hands in and ticks off. */

/** Who works, and what of their courses they may work on. */
export interface Learner {
  personId: number;
  today: string;
  timeZone: string;
  /** null: everything; a lasting card opens less. */
  sight: ProgressSight;
}

export const learnerOf = async (db: Queryable, actor: SignedIn): Promise<Learner> => ({
  personId: actor.personId,
  today: actor.today,
  timeZone: actor.timeZone,
  sight: await cardSight(db, actor),
});

interface ActivityRow {
  id: number;
  name: string;
  unit: string;
  unitId: number;
  courseId: number;
  finishedBy: MyActivity['finishedBy'];
  handIn: HandIn | null;
  content: ActivityContent | null;
}

const activityColumns = sql`a.id, a.name, u.name as unit, u.id as "unitId", a.course_id as "courseId", a.finished_by as "finishedBy", a.hand_in as "handIn", a.content`;

/** The activities of an own course. @throws ProblemError `not-found` when it is neither open nor was worked on. */
export async function myWork(
  db: Queryable,
  learner: Learner,
  courseId: number,
  reader: { secret: string; now: Date },
): Promise<{ course: { id: number; name: string }; activities: MyActivity[]; skills: { id: number; name: string }[] }> {
  const { enrolment, units: open } = await openNow(db, learner, courseId);
  const course = await firstOf(
    db.select({ id: tables.courseNow.id, name: tables.courseNow.name }).from(tables.courseNow).where(eq(tables.courseNow.id, courseId)),
  );
  if (!course || (!enrolment && open.length === 0)) throw notFound();
  const activities = await rows<ActivityRow & { finished: boolean; score: number | null; workId: number | null }>(
    db,
    sql`
    select ${activityColumns}, coalesce(r.finished, false) as finished, r.score, w.id as "workId"
    from activity_now a join unit_now u on u.id = a.unit_id
    left join enrolment e on e.person_id = ${learner.personId} and e.course_id = a.course_id and e.is_current
    left join activity_result r on r.enrolment_id = e.id and r.activity_id = a.id left join work w on w.enrolment_id = e.id and w.activity_id = a.id
    where a.course_id = ${courseId} order by u.position, a.position`,
  );
  const shown = activities.filter(
    ({ unitId, workId }) => (enrolment?.units ?? []).includes(unitId) || open.includes(unitId) || workId !== null,
  );
  const withWork = shown.flatMap(({ workId, handIn }) => (workId !== null && handIn ? [[workId, handIn] as const] : []));
  const pieces = await versionsOf(
    db,
    withWork.map(([workId]) => workId),
    new Map(withWork),
    { ...reader, personId: learner.personId },
  );
  return {
    course,
    activities: shown.map(({ workId, unitId, handIn, courseId: _, ...activity }) => {
      const versions = pieces.get(workId ?? 0)?.versions ?? [];
      const isOpen = open.includes(unitId);
      return {
        ...activity,
        asks: handIn,
        versions,
        canHandIn: isOpen && handIn !== null && !activity.finished && mayHandInAgain(versions, handIn),
      };
    }),
    skills: await skillNames(db, new Set(shown.flatMap(({ handIn }) => handIn?.skillIds ?? []))),
  };
}

function mayHandInAgain(versions: readonly { state: string }[], { tries }: HandIn): boolean {
  const handedIn = versions.filter(({ state }) => state !== 'draft').length;
  return versions.at(-1)?.state !== 'waiting' && (tries === null || handedIn < tries);
}

/** @throws ProblemError `not-found` when there is none of this kind, `not-open` when its unit is not open to them. */
async function openActivity(
  tx: Transaction,
  learner: Learner,
  activityId: number,
  finishedBy: MyActivity['finishedBy'],
): Promise<{ activity: ActivityRow; open: OpenNow }> {
  const activity = found(
    await maybeRow<ActivityRow>(
      tx,
      sql`select ${activityColumns} from activity_now a join unit_now u on u.id = a.unit_id where a.id = ${activityId} and a.finished_by = ${finishedBy}`,
    ),
  );
  const open = await openNow(tx, learner, activity.courseId);
  if (open.units.length === 0) found(open.enrolment);
  if (!open.units.includes(activity.unitId)) throw new ProblemError('not-open');
  return { activity, open };
}

/** The draft of a piece, begun when there is none. @throws ProblemError `being-marked` while the last version waits, `given-wrong` when no tries are left. */
async function draftOf(
  tx: Transaction,
  enrolmentId: number,
  { id, handIn }: ActivityRow,
): Promise<{ id: number; workId: number; earlier: number }> {
  await tx.execute(
    sql`insert into work (enrolment_id, activity_id, person_id) select id, ${id}::bigint, person_id from enrolment where id = ${enrolmentId} on conflict (enrolment_id, activity_id) do nothing`,
  );
  const piece = await oneRow<{ id: number; finished: boolean; last: { id: number; number: number; state: string } | null }>(
    tx,
    sql`
    select w.id, exists (select 1 from activity_result r where r.enrolment_id = w.enrolment_id and r.activity_id = w.activity_id and r.finished) as finished,
      (select jsonb_build_object('id', v.id, 'number', v.number, 'state', v.state) from work_version v where v.work_id = w.id order by v.number desc limit 1) as last
    from work w where w.enrolment_id = ${enrolmentId} and w.activity_id = ${id}`,
  );
  const { last } = piece;
  if (last?.state === 'draft') return { id: last.id, workId: piece.id, earlier: last.number - 1 };
  if (last?.state === 'waiting' || piece.finished) throw new ProblemError('being-marked');
  const earlier = last?.number ?? 0;
  if (!handIn || (handIn.tries !== null && earlier >= handIn.tries)) throw wrong('no tries left');
  const { id: versionId } = await onlyOne(
    tx
      .insert(tables.workVersion)
      .values({ workId: piece.id, number: earlier + 1 })
      .returning({ id: tables.workVersion.id }),
  );
  return { id: versionId, workId: piece.id, earlier };
}

const wrong = (what: string): ProblemError => new ProblemError('given-wrong', { where: [{ place: 'body', what }] });

export interface Given {
  words: string;
  link: string | null;
  skillIds: readonly number[];
  handIn: boolean;
}

/** Keeps what is given as the draft of a piece, and hands it in when asked to. @returns The version. */
export async function saveWork(
  tx: Transaction,
  learner: Learner,
  activityId: number,
  given: Given,
  { now, publicUrl }: { now: Date; publicUrl: string },
): Promise<number> {
  const { activity, open } = await openActivity(tx, learner, activityId, 'marker');
  // A link to a page of ours would be followed by a marker who is signed in.
  if (given.link !== null && new URL(given.link).host === new URL(publicUrl).host) throw wrong('link wrong');
  await markStandings(tx, [learner.personId]);
  const { id: enrolmentId } = await lockEnrolment(tx, learner.personId, activity.courseId, given.handIn ? now : null);
  const draft = await draftOf(tx, enrolmentId, activity);
  const { files } = await oneRow<{ files: number }>(tx, sql`select count(*)::int as files from work_file where version_id = ${draft.id}`);
  const skillIds = [...new Set(given.skillIds)];
  if (activity.handIn && given.handIn) {
    const [why] = whyNotHandIn({ ...given, skillIds, files }, activity.handIn, draft.earlier);
    if (why) throw wrong(why);
  }
  await tx.execute(
    sql`update work_version set words = ${given.words}, link = ${given.link}, skill_ids = ${ids(skillIds)} where id = ${draft.id}`,
  );
  if (!given.handIn) return draft.id;
  await keepWay(tx, enrolmentId, open);
  const due = open.enrolment?.due ?? null;
  const isLate = due !== null && dayOfMoment(now, learner.timeZone) > due;
  await tx.update(tables.workVersion).set({ state: 'waiting', handedInAt: now, isLate }).where(eq(tables.workVersion.id, draft.id));
  await writeFolded(tx, await foldWork(tx, [draft.workId], learner.today), learner.timeZone);
  await noteHandedIn(tx, learner.personId, activityId, learner.today);
  await tellOf(tx, learner, now);
  return draft.id;
}

/** The draft to which a file is added. */
export async function draftForFile(tx: Transaction, learner: Learner, activityId: number): Promise<number> {
  const { activity } = await openActivity(tx, learner, activityId, 'marker');
  if (activity.handIn?.files === 'no') throw wrong('no files');
  await markStandings(tx, [learner.personId]);
  const { id } = await lockEnrolment(tx, learner.personId, activity.courseId, null);
  return (await draftOf(tx, id, activity)).id;
}

/** @throws ProblemError `not-found` when it is not in a draft of theirs. */
export async function removeFile(tx: Transaction, personId: number, fileId: number): Promise<void> {
  found(
    await maybeRow(
      tx,
      sql`
      delete from work_file f using work_version v, work w, enrolment e
      where f.id = ${fileId} and v.id = f.version_id and v.state = 'draft' and w.id = v.work_id and e.id = w.enrolment_id and e.person_id = ${personId} returning f.id`,
    ),
  );
}

/** What waits becomes a draft again. @throws ProblemError `being-marked` when somebody has begun to mark it, or has. */
export async function takeBack(tx: Transaction, learner: Learner, activityId: number, now: Date): Promise<void> {
  await markStandings(tx, [learner.personId]);
  const piece = await maybeRow<{ id: number; workId: number; state: string; taken: boolean }>(
    tx,
    sql`
    select v.id, v.work_id as "workId", v.state, exists (select 1 from work_claim c where c.version_id = v.id and c.until_at > ${now.toISOString()}) as taken
    from work_version v join work w on w.id = v.work_id join enrolment e on e.id = w.enrolment_id and e.is_current
    where e.person_id = ${learner.personId} and w.activity_id = ${activityId} order by v.number desc limit 1 for update of v`,
  );
  if (!piece) throw notFound();
  if (piece.state !== 'waiting' || piece.taken) throw new ProblemError('being-marked');
  await tx.update(tables.workVersion).set({ state: 'draft', handedInAt: null, isLate: false }).where(eq(tables.workVersion.id, piece.id));
  await writeFolded(tx, await foldWork(tx, [piece.workId], learner.today), learner.timeZone);
  await tellOf(tx, learner, now);
}

/** The learner says that an activity is finished, or that it is not. */
export async function tick(tx: Transaction, learner: Learner, activityId: number, finished: boolean, now: Date): Promise<void> {
  const { activity, open } = await openActivity(tx, learner, activityId, 'learner');
  await markStandings(tx, [learner.personId]);
  const { id: enrolmentId } = await lockEnrolment(tx, learner.personId, activity.courseId, finished ? now : null);
  await tx.execute(
    finished
      ? sql`insert into activity_result (enrolment_id, activity_id, finished, last_at) values (${enrolmentId}, ${activityId}, true, ${now.toISOString()})
          on conflict (enrolment_id, activity_id) do update set finished = true, last_at = excluded.last_at where not activity_result.finished`
      : sql`delete from activity_result where enrolment_id = ${enrolmentId} and activity_id = ${activityId}`,
  );
  const about = { enrolmentId, personId: learner.personId, courseId: activity.courseId, isWorse: !finished };
  const restood = await restand(tx, [about], learner.today);
  await keepWay(tx, enrolmentId, open);
  await writeRestood(tx, restood, new Map([[enrolmentId, now.toISOString()]]), learner.timeZone);
  await tellOf(tx, learner, now);
}

async function tellOf(tx: Transaction, { personId }: Learner, now: Date): Promise<void> {
  await tx.update(tables.person).set({ activeAt: now }).where(eq(tables.person.id, personId));
  await noteForRules(tx, [{ personId, what: 'progress' }]);
  const groups = await tx
    .select({ id: tables.membership.groupId })
    .from(tables.membership)
    .where(and(eq(tables.membership.personId, personId), isNull(tables.membership.untilAt)));
  await announce(tx, { topics: ['progress'], groups: groups.map(({ id }) => id), personId });
}
