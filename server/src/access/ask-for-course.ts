import type { Answer, Routes } from '@gate-roster/contract';
import { resolve } from '@gate-roster/core';
import { and, eq, isNull, sql } from 'drizzle-orm';
import type { SignedIn } from '../accounts/actor.ts';
import { onceOutside, outsideRequest } from '../changes/outside-request.ts';
import { summaryOf } from '../changes/plan.ts';
import { recordChange } from '../changes/record.ts';
import { withRosterLock } from '../changes/roster-lock.ts';
import { ids, iso, type Queryable, rows, type Transaction } from '../database/connect.ts';
import * as tables from '../database/schema.ts';
import { decidersOf } from '../entry/deciders.ts';
import { wholeTree } from '../groups/queries.ts';
import type { Deps } from '../http/deps.ts';
import { notFound, ProblemError } from '../http/problem.ts';
import { lockPeople } from '../people/membership-sets.ts';
import { grantsByCourse, learners, rulesOf } from './load-rules.ts';

/** Whoever asks for more than this many waits for the answers first. */
const mostAsked = 20;
/** An answer is shown to the learner for this long. */
const shownDays = 30;

/** Courses that the reader can ask for, and what they have asked for already. */
export async function myCourseRequests(db: Queryable, actor: SignedIn): Promise<Answer<Routes['myCourseRequests']>> {
  const asked = await rows<{
    courseId: number;
    course: string;
    askedAt: string;
    state: 'asking' | 'turned away';
    word: string | null;
    deciders: string[];
  }>(
    db,
    sql`
    select r.course_id as "courseId", c.name as course, r.asked_at as "askedAt", r.state, r.word, ${decidersOf(longestHeld(actor.personId), 'openCourses')} as deciders
    from course_request r join course_now c on c.id = r.course_id
    where r.person_id = ${actor.personId} and r.until_at is null and (r.state = 'asking' or (r.state = 'turned away' and r.from_at > now() - make_interval(days => ${shownDays}::int))) order by r.row_id`,
  );
  const waiting = new Set(asked.flatMap(({ courseId, state }) => (state === 'asking' ? [courseId] : [])));
  const askable = (await askableCourses(db, actor)).filter((id) => !waiting.has(id));
  const courses = await rows<{ id: number; name: string; description: string | null; units: number }>(
    db,
    sql`
    select c.id, c.name, c.description, (select count(*)::int from unit_now u where u.course_id = c.id) as units
    from course_now c where c.id = any(${ids(askable)}) order by c.name collate people_order, c.id`,
  );
  return { requests: asked.map((each) => ({ ...each, askedAt: iso(each.askedAt) })), courses };
}

const longestHeld = (personId: number) =>
  sql`(select m.group_id from membership m where m.person_id = ${personId} and m.until_at is null order by m.row_id limit 1)`;

/** Courses whose terms are *on request*, that are closed to this person, and that nothing blocks for them. */
async function askableCourses(db: Queryable, { personId, today, onlyIn }: SignedIn): Promise<number[]> {
  // A device that many use asks for nothing in anybody's name.
  if (onlyIn !== null) return [];
  const about = (await grantsByCourse(db, null)).filter(
    ({ course }) => course.terms === 'request' && !course.archived && course.units.length > 0,
  );
  if (about.length === 0) return [];
  const [learner] = await learners(db, [personId]);
  if (!learner?.active) return [];
  const rules = rulesOf(await wholeTree(db), about);
  return about.flatMap(({ course, grants }, index) => {
    const blocks = new Set(grants.flatMap(({ id, effect }) => (effect === 'block' ? [id] : [])));
    const access = rules[index] && resolve(rules[index], learner, today);
    const isBlocked = access?.chain.some(({ grant, verdict }) => grant !== null && verdict === 'decided' && blocks.has(grant)) ?? true;
    return isBlocked || (access?.units.length ?? 1) > 0 ? [] : [course.id];
  });
}

/**
 * The learner asks for a course, with a word or without.
 * @throws ProblemError `not-found` when it cannot be asked for; `too-many-tries` when too many wait already.
 */
export async function askForCourse(
  { db, requestKey }: Pick<Deps, 'db' | 'requestKey'>,
  actor: SignedIn,
  asked: { courseId: number; words: string | null; requestId: string },
): Promise<void> {
  await once({ db, requestKey }, actor, 'ask-for-course', asked, async (tx) => {
    if (!(await askableCourses(tx, actor)).includes(asked.courseId)) throw notFound();
    const standing = await standingOf(tx, actor.personId);
    if (standing.some(({ course_id, state }) => course_id === asked.courseId && state === 'asking')) return null;
    if (standing.filter(({ state }) => state === 'asking').length >= mostAsked) throw new ProblemError('too-many-tries');
    return { end: standing.filter(({ course_id }) => course_id === asked.courseId), asking: asked.words };
  });
}

/** The learner no longer asks. @throws ProblemError `not-found` when they do not ask for it. */
export async function takeBackCourseRequest(
  { db, requestKey }: Pick<Deps, 'db' | 'requestKey'>,
  actor: SignedIn,
  asked: { courseId: number; requestId: string },
): Promise<void> {
  await once({ db, requestKey }, actor, 'take-back-course-request', asked, async (tx) => {
    const end = (await standingOf(tx, actor.personId)).filter(({ course_id, state }) => course_id === asked.courseId && state === 'asking');
    if (end.length === 0) throw notFound();
    return { end };
  });
}

const standingOf = (tx: Transaction, personId: number) =>
  tx
    .select({ row_id: tables.courseRequest.rowId, course_id: tables.courseRequest.courseId, state: tables.courseRequest.state })
    .from(tables.courseRequest)
    .where(and(eq(tables.courseRequest.personId, personId), isNull(tables.courseRequest.untilAt)));

interface Asked {
  end: readonly { row_id: number }[];
  /** Left out: nothing is asked anew. */
  asking?: string | null;
}

/** One act of a learner on their own requests: written and logged once, whatever happens to the connection. */
async function once(
  { db, requestKey }: Pick<Deps, 'db' | 'requestKey'>,
  actor: SignedIn,
  kind: string,
  { requestId, ...sent }: { courseId: number; requestId: string },
  work: (tx: Transaction) => Promise<Asked | null>,
): Promise<void> {
  const { personId, today } = actor;
  await withRosterLock(db, 'shared', (tx) =>
    onceOutside(tx, outsideRequest(requestKey, requestId, { kind, personId, ...sent }), async () => {
      await lockPeople(tx, [personId]);
      const asked = await work(tx);
      if (asked === null) return {};
      const groups = await tx
        .select({ group_id: tables.membership.groupId })
        .from(tables.membership)
        .where(and(eq(tables.membership.personId, personId), isNull(tables.membership.untilAt)));
      const entry = {
        kind,
        requestId,
        mode: 'shared' as const,
        undoOf: [],
        summary: summaryOf({ courses: [sent.courseId], people: [personId], counts: { people: 1 } }),
        groups: groups.map(({ group_id }) => group_id),
      };
      await recordChange(tx, { personId: null, today }, entry, async (_, writer) => {
        await writer.end(
          'course request',
          asked.end.map(({ row_id }) => row_id),
        );
        if (asked.asking !== undefined)
          await writer.begin('course request', [
            { person_id: personId, course_id: sent.courseId, state: 'asking', asked_at: new Date().toISOString(), asking: asked.asking },
          ]);
        return { entry: true };
      });
      return {};
    }),
  );
}
