import { type CourseId, type Day, may, resolveInParts, type RunningPart, type UnitId } from '@gate-roster/core';
import type { SplitPart } from '@gate-roster/contract';
import { and, eq, isNull, sql } from 'drizzle-orm';
import { asSeen, grantsByCourse, learners, rulesOf } from '../access/load-rules.ts';
import { maybeActor, type SignedIn } from '../accounts/actor.ts';
import type { ProgressSight } from '../accounts/reach.ts';
import { ids, iso, type Queryable, rows } from '../database/connect.ts';
import * as tables from '../database/schema.ts';
import { wholeTree } from '../groups/queries.ts';
import { type Enrolment, enrolmentsWhere } from '../progress/enrolments.ts';

/*
 * What a split makes otherwise is worked out when somebody opens their page, a course or an activity, or when their work is reported:
 * it holds for minutes, for few people, and nothing of it is kept but who is in which part.
 */

/** A part that is on, in which somebody is, of a split that runs. */
export interface PersonalPart extends RunningPart {
  splitId: number;
  /** The names of the split and of the part, for leaders only. */
  split: string;
  part: string;
  until: string;
  words: string;
  link: string | null;
}

export type StoredPart = Omit<SplitPart, 'personIds'>;

/** @param secondsAgo How long before now it is asked for. */
export async function runningParts(db: Queryable, personId: number, secondsAgo = 0): Promise<PersonalPart[]> {
  const at = sql`(now() - make_interval(secs => ${secondsAgo}::double precision))`;
  const found = await rows<{
    splitId: number;
    split: string;
    groupId: number;
    makerBranch: number | null;
    madeBy: number;
    until: string;
    stored: StoredPart;
    leader: string | null;
  }>(
    db,
    sql`
    select v.split_id as "splitId", v.name as split, v.group_id as "groupId", v.maker_branch_id as "makerBranch", v.made_by as "madeBy", v.runs_until as until, p.part as stored,
      (select trim(n.given_name || ' ' || n.family_name) from personal_now n where n.person_id = (p.part ->> 'leaderId')::bigint) as leader
    from split_member m join split_version v on v.split_id = m.split_id cross join lateral jsonb_array_elements(v.parts) p(part)
    where m.person_id = ${personId} and m.from_at <= ${at} and coalesce(m.until_at > ${at}, true)
      and v.from_at <= ${at} and coalesce(v.until_at > ${at}, true) and v.runs_from <= ${at} and v.runs_until > ${at}
      and (p.part ->> 'key')::int = m.part and (p.part ->> 'isOn')::boolean
    order by v.split_id`,
  );
  if (found.length === 0) return [];
  const tree = await wholeTree(db);
  const makers = new Map<number, SignedIn | null>();
  for (const { madeBy } of found) if (!makers.has(madeBy)) makers.set(madeBy, await maybeActor(db, madeBy, new Date()));
  return found.flatMap(({ stored, leader, madeBy, until, ...split }) => {
    const maker = makers.get(madeBy);
    // It ends when its leader no longer has the power.
    if (!maker || !tree.has(split.groupId) || !may(maker, 'openCourses', { path: tree.path(split.groupId) })) return [];
    const { allowance, words, link, name } = stored;
    return [{ ...split, part: leader ?? name, until: iso(until), allowance, words, link }];
  });
}

export interface PartAbout {
  splitId: number;
  groupId: number;
  split: string;
  part: string;
  until: string;
  does: 'opens' | 'narrows' | 'closes';
}

/** Parts that run in a group or above it, where the actor may split, and make something else of a course for now. */
export async function partsAbout(db: Queryable, actor: SignedIn, groupId: number, courseId: number): Promise<PartAbout[]> {
  const tree = await wholeTree(db);
  const found = await rows<Omit<PartAbout, 'part' | 'does'> & { parts: (StoredPart & { isOn: boolean })[] }>(
    db,
    sql`
    select v.split_id as "splitId", v.group_id as "groupId", v.name as split, v.runs_until as until, v.parts from split_version v
    where v.until_at is null and v.group_id = any(${ids(tree.path(groupId))}) and v.runs_from <= now() and v.runs_until > now() order by v.split_id`,
  );
  return found
    .filter((split) => may(actor, 'openCourses', { path: tree.path(split.groupId) }))
    .flatMap(({ parts, until, ...split }) =>
      parts.flatMap(({ isOn, name, allowance }): PartAbout[] => {
        if (!isOn || !allowance) return [];
        const named = allowance.courses.find((each) => each.courseId === courseId);
        const does = { only: named ? ('narrows' as const) : ('closes' as const), 'as well': 'opens' as const, none: 'closes' as const }[
          allowance.mode
        ];
        return allowance.mode === 'only' || named ? [{ ...split, part: name, until: iso(until), does }] : [];
      }),
    );
}

export interface Working {
  personId: number;
  today: Day;
  /** null: everything; a lasting card opens less. */
  sight: ProgressSight;
}

interface CourseForNow {
  /** Without a seat, only what is offered. */
  kept: readonly UnitId[];
  /** Opened by a split, and no seat stands in the way. */
  offered: readonly UnitId[];
  /** It is another than without splits. */
  isOtherwise: boolean;
  /** Somebody without a seat works on what is offered: by this licence's leave. */
  use: { splitId: number; licenceId: number; groupId: number } | null;
  viaGroups: readonly number[];
}

export interface ForNow {
  parts: readonly PersonalPart[];
  /** Until the first of the splits ends. */
  until: string;
  courses: ReadonlyMap<CourseId, CourseForNow>;
}

/** What splits make otherwise for somebody, in some courses or in all (null); null: they are in no split that runs. */
export async function forNow(
  db: Queryable,
  { personId, today, sight }: Working,
  courseIds: readonly CourseId[] | null,
  secondsAgo = 0,
): Promise<ForNow | null> {
  const parts = await runningParts(db, personId, secondsAgo);
  const [first] = parts;
  const [person] = first ? await learners(db, [personId]) : [];
  if (!first || !person) return null;
  const own = sight && new Set(sight.own);
  const learner = asSeen(person, own && ((id) => own.has(id)));
  const tree = await wholeTree(db);
  const about = await grantsByCourse(db, courseIds);
  const held = new Set(
    (
      await db
        .select({ id: tables.seat.licenceId })
        .from(tables.seat)
        .where(and(eq(tables.seat.personId, personId), isNull(tables.seat.untilAt)))
    ).map(({ id }) => id),
  );
  const lent = new Set(
    (await db.select({ id: tables.licenceNow.licenceId }).from(tables.licenceNow).where(eq(tables.licenceNow.duringSplits, true))).map(
      ({ id }) => id,
    ),
  );
  const courses = new Map<CourseId, CourseForNow>();
  for (const rules of rulesOf(tree, about)) {
    const { always, kept, offered } = resolveInParts(rules, learner, today, parts);
    const mayUse = offered.filter(
      ({ licences }) =>
        licences === null || licences.some((id) => held.has(id)) || (licences.length > 0 && licences.every((id) => lent.has(id))),
    );
    const given = new Set(mayUse.flatMap(({ units }) => units));
    const open = rules.course.units.filter((unit) => kept.includes(unit) || given.has(unit));
    const [borrowed] = mayUse.flatMap(({ licences }) => (licences?.some((id) => held.has(id)) === false ? licences : []));
    const groups = learner.memberships.map(({ groupId }) => groupId).filter((id) => tree.has(id));
    const [via] = groups.filter((id) => tree.isInBranch(id, first.groupId));
    courses.set(rules.course.id, {
      kept,
      offered: rules.course.units.filter((unit) => given.has(unit)),
      isOtherwise: open.join() !== always.join(),
      use: borrowed === undefined || via === undefined ? null : { splitId: first.splitId, licenceId: borrowed, groupId: via },
      viaGroups: groups.filter((id) => parts.some(({ groupId }) => tree.isInBranch(id, groupId))),
    });
  }
  return { parts, until: parts.map(({ until }) => until).sort()[0] ?? first.until, courses };
}

export interface OpenNow {
  /** Units that can be worked on now: with the seat that they need, and as splits leave or open them. */
  units: readonly UnitId[];
  /** As it is without splits; undefined: it is neither open nor was worked on. */
  enrolment: Enrolment | undefined;
  /** Through which groups splits open it. */
  viaGroups: readonly number[];
  use: CourseForNow['use'];
}

/** What somebody can work on in a course at this moment, or some seconds ago. */
export async function openNow(db: Queryable, working: Working, courseId: CourseId, secondsAgo = 0): Promise<OpenNow> {
  const { personId, today, sight } = working;
  const [enrolment] = await enrolmentsWhere(db, sql`p.id = ${personId}`, sql`c.id = ${courseId}`, { today, sight });
  const now = (await forNow(db, working, [courseId], secondsAgo))?.courses.get(courseId);
  if (!now) return { units: enrolment && !enrolment.lacksSeat ? enrolment.units : [], enrolment, viaGroups: [], use: null };
  return { ...unitsForNow(enrolment, now), enrolment, viaGroups: now.viaGroups };
}

/** The units for now, and whether a licence lends a seat for them. */
export function unitsForNow(
  enrolment: Pick<Enrolment, 'lacksSeat'> | undefined,
  { kept, offered, use }: CourseForNow,
): { units: UnitId[]; use: CourseForNow['use'] } {
  const own = enrolment?.lacksSeat ? [] : kept;
  return { units: [...new Set([...own, ...offered])], use: offered.some((unit) => !own.includes(unit)) ? use : null };
}

/** Reports that come after their unit was put aside count for so long, when the work was begun before. */
export const graceSeconds = 600;

/**
 * Was a unit open when work on it began, and until at most ten minutes ago?
 * @param begunAgo Seconds since the work began.
 */
export async function wasOpenFor(
  db: Queryable,
  working: Working,
  courseId: CourseId,
  unitId: UnitId,
  begunAgo: number,
): Promise<OpenNow | null> {
  const now = await openNow(db, working, courseId);
  if (now.units.includes(unitId)) return now;
  const begun = await openNow(db, working, courseId, begunAgo);
  if (!begun.units.includes(unitId)) return null;
  const lately = begunAgo <= graceSeconds ? begun : await openNow(db, working, courseId, graceSeconds);
  return lately.units.includes(unitId) ? lately : null;
}

/** A seat that is lent for a launch stands in the ledger. */
export async function noteUse(db: Queryable, personId: number, courseId: CourseId, { use }: Pick<OpenNow, 'use'>): Promise<void> {
  if (use)
    await db.insert(tables.splitUse).values({ splitId: use.splitId, licenceId: use.licenceId, courseId, groupId: use.groupId, personId });
}

/** Splits of a group that run, with who is in which of their parts. */
export interface RunningSplit {
  splitId: number;
  name: string;
  people: readonly number[];
}

export const runningIn = (db: Queryable, groupId: number, but: number | null): Promise<RunningSplit[]> =>
  rows<RunningSplit>(
    db,
    sql`
    select v.split_id as "splitId", v.name, coalesce((select jsonb_agg(m.person_id) from split_member m where m.split_id = v.split_id and m.until_at is null), '[]') as people
    from split_version v where v.group_id = ${groupId} and v.until_at is null and v.runs_until > now() and v.split_id <> all(${ids(but === null ? [] : [but])})`,
  );
