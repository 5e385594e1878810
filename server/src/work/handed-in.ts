import type { Answer, Routes, WorkSheet } from '@gate-roster/contract';
import type { Filter, HandIn } from '@gate-roster/core';
import { and, eq, sql, type SQL } from 'drizzle-orm';
import type { SignedIn } from '../accounts/actor.ts';
import { type ProgressSight, progressSight } from '../accounts/reach.ts';
import { courseSight } from '../courses/own-courses.ts';
import { ids, iso, maybeRow, oneRow, type Queryable, rows } from '../database/connect.ts';
import * as tables from '../database/schema.ts';
import { all, type FilterReader, whoFits } from '../filters/conditions.ts';
import { found } from '../http/problem.ts';
import { enrolmentsWhere } from '../progress/enrolments.ts';
import { groupsOf, isCounted, onlyGroups } from '../people/scope.ts';
import { skillNames, versionsOf } from './read-work.ts';
import { isMarkable, isSeen } from './sight.ts';

/* What was handed in, for those who mark it. */

const claimMinutes = 10;

export interface WhichWork {
  list: 'waiting' | 'marked' | 'sent back';
  courseId?: number | undefined;
  personId?: number | undefined;
  /** Marked by the reader. */
  mine: boolean;
  filter: Filter;
  after?: string | undefined;
  limit: number;
}

/** Versions `v` of work `w` with the learner `p`; the enrolment `e` only where the reader does not see everything. */
const pieces = (sight: ProgressSight): SQL =>
  sql`work_version v join work w on w.id = v.work_id join person p on p.id = w.person_id ${sight === null ? sql`` : sql`join enrolment e on e.id = w.enrolment_id`}`;
const piecesWithEnrolments = sql`${pieces(null)} join enrolment e on e.id = w.enrolment_id`;
/** An older version that a later one followed is shown with the later one; what waits is the last one always. */
const isLast = sql`not exists (select 1 from work_version o where o.work_id = v.work_id and o.number > v.number and o.state <> 'draft')`;
/** So many of what is marked are counted, and no more. */
const mostCounted = 10_000;

/** A page of what was handed in within a scope, with how much there is of each kind. */
export async function handedIn(
  db: Queryable,
  reader: FilterReader,
  { groupId, withSubgroups }: { groupId: number; withSubgroups: boolean },
  { list, courseId, personId, mine, filter, after, limit }: WhichWork,
): Promise<Answer<Routes['handedIn']>> {
  const { actor } = reader;
  const sight = await progressSight(db, actor, 'markWork');
  // Counted learners have an active account, so its state is not checked again.
  const who = whoFits(reader, isCounted(groupId, withSubgroups), groupsOf(groupId, withSubgroups), filter);
  const ofCourse = (id: number): SQL => sql`w.activity_id in (select a.id from activity a where a.course_id = ${id})`;
  const condition = all([
    who,
    ...(sight === null ? [] : [isSeen(sight)]),
    ...(courseId === undefined ? [] : [ofCourse(courseId)]),
    ...(personId === undefined ? [] : [sql`w.person_id = ${personId}`]),
    ...(mine
      ? [sql`exists (select 1 from mark m where m.version_id = v.id and m.until_at is null and m.marked_by = ${actor.personId})`]
      : []),
  ]);
  const isOldestFirst = list === 'waiting';
  const [, afterAt, afterId] = /^(.{10,40})\/(\d{1,15})$/u.exec(after ?? '') ?? [];
  const beyond =
    afterAt === undefined || Number.isNaN(Date.parse(afterAt))
      ? sql`true`
      : isOldestFirst
        ? sql`(v.handed_in_at, v.id) > (${afterAt}::timestamptz, ${Number(afterId)}::bigint)`
        : sql`(v.handed_in_at, v.id) < (${afterAt}::timestamptz, ${Number(afterId)}::bigint)`;
  const order = isOldestFirst ? sql`v.handed_in_at, v.id` : sql`v.handed_in_at desc, v.id desc`;
  const page = await rows<{
    versionId: number;
    personId: number;
    givenName: string;
    familyName: string;
    activity: string;
    course: string;
    groups: string[];
    handedInAt: string;
    number: number;
    isLate: boolean;
    takenBy: string | null;
  }>(
    db,
    sql`
    with page as (select v.id from ${pieces(sight)} where v.state = ${list} and ${list === 'waiting' ? sql`true` : isLast} and ${condition} and ${beyond} order by ${order} limit ${limit + 1})
    select v.id as "versionId", p.id as "personId", n.given_name as "givenName", n.family_name as "familyName", a.name as activity, c.name as course,
      coalesce((select jsonb_agg(g.name order by g.name) from membership m join group_now g on g.id = m.group_id where m.person_id = p.id and m.until_at is null and ${onlyGroups(sql`m.group_id`, sight && sight.own)}), '[]') as groups,
      v.handed_in_at as "handedInAt", v.number, v.is_late as "isLate",
      (select t.given_name || ' ' || t.family_name from work_claim k join personal_now t on t.person_id = k.person_id where k.version_id = v.id and k.until_at > now() and k.person_id <> ${actor.personId}) as "takenBy"
    from page join work_version v on v.id = page.id join work w on w.id = v.work_id join enrolment e on e.id = w.enrolment_id join person p on p.id = e.person_id
    join personal_now n on n.person_id = p.id join course_now c on c.id = e.course_id
    join lateral (select name from activity_version o where o.activity_id = w.activity_id order by row_id desc limit 1) a on true order by ${order}`,
  );
  const counted = (state: 'marked' | 'sent back'): SQL =>
    sql`(select count(*)::int from (select 1 from ${pieces(sight)} where v.state = ${state} and ${isLast} and ${condition} limit ${mostCounted}) c)`;
  const counts = await oneRow<{ waiting: number; marked: number; sentBack: number; oldest: string | null; median: string | null }>(
    db,
    sql`
    select count(*)::int as waiting, ${counted('marked')} as marked, ${counted('sent back')} as "sentBack",
      min(v.handed_in_at) as oldest, percentile_disc(0.5) within group (order by v.handed_in_at) as median
    from ${pieces(sight)} where v.state = 'waiting' and ${condition}`,
  );
  const courses = await rows<{ id: number; name: string }>(
    db,
    sql`select c.id, c.name from course_now c where ${(await courseSight(db, actor))(sql`c.home_id`)} and exists (select 1 from activity_now a where a.course_id = c.id and a.finished_by = 'marker') order by c.name`,
  );
  const shown = page.slice(0, limit);
  const last = shown.at(-1);
  return {
    pieces: shown.map((piece) => ({ ...piece, handedInAt: iso(piece.handedInAt) })),
    counts: { waiting: counts.waiting, marked: counts.marked, 'sent back': counts.sentBack },
    oldestDays: daysSince(counts.oldest),
    medianDays: daysSince(counts.median),
    courses,
    next: page.length > limit && last ? `${last.handedInAt}/${last.versionId}` : null,
  };
}

const daysSince = (moment: string | null): number | null =>
  moment === null ? null : Math.max(0, Math.round(((Date.now() - Date.parse(iso(moment))) / 86_400_000) * 10) / 10);

/** One piece with all its versions. @throws ProblemError `not-found` when the actor may not mark the learner's work. */
export async function workSheet(
  db: Queryable,
  actor: SignedIn,
  versionId: number,
  reader: { secret: string; now: Date },
): Promise<WorkSheet> {
  const own = await progressSight(db, actor, 'markWork');
  const piece = found(
    await maybeRow<{
      workId: number;
      personId: number;
      givenName: string;
      familyName: string;
      courseId: number;
      course: string;
      unit: string;
      activityId: number;
      activity: string;
      handIn: HandIn;
      groups: string[];
      finished: number;
      needed: number;
    }>(
      db,
      sql`
      select w.id as "workId", p.id as "personId", n.given_name as "givenName", n.family_name as "familyName", c.id as "courseId", c.name as course, u.name as unit, a.activity_id as "activityId", a.name as activity, a.hand_in as "handIn",
        coalesce((select jsonb_agg(g.name order by g.name) from membership m join group_now g on g.id = m.group_id where m.person_id = p.id and m.until_at is null and ${onlyGroups(sql`m.group_id`, own && own.own)}), '[]') as groups,
        e.finished_activities as finished, (select count(*)::int from activity_now o where o.course_id = c.id) as needed
      from ${piecesWithEnrolments} join personal_now n on n.person_id = p.id join course_now c on c.id = e.course_id
      join lateral (select * from activity_version o where o.activity_id = w.activity_id and o.hand_in is not null order by o.row_id desc limit 1) a on true
      join lateral (select name from unit_version o where o.unit_id = a.unit_id order by o.row_id desc limit 1) u on true
      where v.id = ${versionId} and v.state <> 'draft' and ${await isMarkable(db, actor)}`,
    ),
  );
  const ofPiece = (
    await versionsOf(db, [piece.workId], new Map([[piece.workId, piece.handIn]]), { ...reader, personId: actor.personId })
  ).get(piece.workId);
  const versions = (ofPiece?.versions ?? []).filter(({ state }) => state !== 'draft');
  const version = found(versions.find(({ id }) => id === versionId));
  const [enrolment] = await enrolmentsWhere(db, sql`p.id = ${piece.personId}`, sql`c.id = ${piece.courseId}`, {
    today: actor.today,
    sight: own,
  });
  return {
    versionId,
    person: {
      id: piece.personId,
      name: `${piece.givenName} ${piece.familyName}`,
      givenName: piece.givenName,
      familyName: piece.familyName,
    },
    groups: piece.groups,
    course: { id: piece.courseId, name: piece.course },
    unit: piece.unit,
    activity: { id: piece.activityId, name: piece.activity },
    asks: piece.handIn,
    skills: await skillNames(db, new Set([...piece.handIn.skillIds, ...versions.flatMap(({ skillIds }) => skillIds)])),
    finished: piece.finished,
    needed: piece.needed,
    due: enrolment?.due ?? null,
    status: enrolment?.status ?? 'not begun',
    version,
    earlier: versions.filter(({ number }) => number < version.number),
    corrected: (ofPiece?.corrected ?? []).flatMap(({ versionId: of, ...mark }) => (of === versionId ? [mark] : [])),
    mayMark: piece.personId !== actor.personId,
  };
}

/** Takes a waiting piece for some minutes, or gives it back. @throws ProblemError `not-found` when it is not theirs to mark. */
export async function claimWork(
  db: Queryable,
  actor: SignedIn,
  versionId: number,
  take: boolean,
): Promise<{ until: string | null; takenBy: string | null }> {
  found(
    await maybeRow(
      db,
      sql`select v.id from ${piecesWithEnrolments} where v.id = ${versionId} and v.state <> 'draft' and ${await isMarkable(db, actor)} for update of v`,
    ),
  );
  if (!take) {
    await db.delete(tables.workClaim).where(and(eq(tables.workClaim.versionId, versionId), eq(tables.workClaim.personId, actor.personId)));
    return { until: null, takenBy: null };
  }
  const mine = await maybeRow<{ until: string }>(
    db,
    sql`
    insert into work_claim as c (version_id, person_id, until_at) values (${versionId}, ${actor.personId}, now() + make_interval(mins => ${claimMinutes}::int))
    on conflict (version_id) do update set person_id = excluded.person_id, until_at = excluded.until_at where c.person_id = excluded.person_id or c.until_at <= now()
    returning until_at as until`,
  );
  if (mine) return { until: iso(mine.until), takenBy: null };
  const { name, until } = await oneRow<{ name: string; until: string }>(
    db,
    sql`select coalesce(n.given_name || ' ' || n.family_name, '') as name, c.until_at as until from work_claim c left join personal_now n on n.person_id = c.person_id where c.version_id = ${versionId}`,
  );
  return { until: iso(until), takenBy: name };
}

/** Those who claim a piece and keep it open: other pieces that they had taken are free again. */
export const freeOthers = (db: Queryable, personId: number, versionId: number): Promise<unknown> =>
  db.execute(sql`delete from work_claim where person_id = ${personId} and version_id <> all(${ids([versionId])})`);
