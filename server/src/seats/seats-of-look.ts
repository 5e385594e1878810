import {
  type CourseGrants,
  type Grant,
  type LearnerClass,
  lookAtSeats,
  type MovingLearner,
  noSeats,
  type SeatEffects,
  type SeatPerson,
  type Tree,
} from '@gate-roster/core';
import { sql } from 'drizzle-orm';
import { grantsByCourse, learners } from '../access/load-rules.ts';
import type { PlanContext } from '../changes/plan.ts';
import { ids, rows } from '../database/connect.ts';
import { type HeldSeats, heldSeats, loadSeatBook, type Otherwise, type SeatBook, seatPerson } from './load-seats.ts';

/** How the world would be, for those whom a change concerns. */
export interface Afterwards {
  tree: Tree;
  courses: readonly CourseGrants[];
  moving: readonly MovingLearner[];
  /** Rows of the file that bring new people, by class of newcomers; and people who are known. */
  rowsOfNew?: readonly (readonly number[])[];
  rowOf?: ReadonlyMap<number, number>;
  otherwise?: Otherwise | undefined;
  /** Whose seats join another's. */
  merged?: { keptId: number; goneId: number } | undefined;
}

/** What a change would do to seats. Without licences that is one small question. */
export async function seatsOfLook(
  { db, today, seen }: Pick<PlanContext, 'db' | 'today' | 'seen'>,
  { tree, courses, moving, rowsOfNew = [], rowOf, otherwise, merged }: Afterwards,
): Promise<SeatEffects> {
  const book = await loadSeatBook(db, tree, courses, today, otherwise);
  if (!book) return noSeats();
  const known = moving.flatMap(({ who, after }) => ('persons' in who && after ? who.persons.map((id) => ({ id, after })) : []));
  const ofSets = await peopleOfSets({ db, today }, book, moving);
  const held = await heldSeats(db, [
    ...known.map(({ id }) => id),
    ...ofSets.map(({ personId }) => personId),
    ...(merged ? [merged.goneId] : []),
  ]);
  const doubled = merged ? joinHeld(held(merged.keptId), held(merged.goneId)) : 0;
  // Of what is charged outside their branch a leader learns nothing: it stays as it is.
  const outside = (seats: HeldSeats['seats']): number[] => (seen ? seats.flatMap(({ groupId }) => (seen(groupId) ? [] : [groupId])) : []);
  const people: SeatPerson[] = [
    ...known.map(({ id, after }) => seatPerson(book, { ...after, personId: id }, today, held(id), rowOf?.get(id))),
    ...ofSets.map((learner) => seatPerson(book, learner, today, held(learner.personId))),
  ].map((person) => ({ ...person, groups: [...person.groups, ...outside([...person.seats])] }));
  let key = 0;
  for (const { who, after } of moving) {
    if (!('newcomers' in who) || !after) continue;
    for (const fileRow of rowsOfNew[who.newcomers] ?? [])
      people.push(seatPerson(book, { ...after, personId: --key }, today, { seats: [], places: new Map(), begun: new Set() }, fileRow));
  }
  const effects = lookAtSeats(book.room, people, seen);
  return { ...effects, ended: [...effects.ended, ...Array.from({ length: doubled }, () => merged?.goneId ?? 0)] };
}

/** One takes over what the other has. @returns How many seats both have, of which one comes back. */
function joinHeld(kept: HeldSeats, gone: HeldSeats): number {
  const has = new Set(kept.seats.map(({ licenceId }) => licenceId));
  const joining = gone.seats.filter(({ licenceId }) => !has.has(licenceId));
  for (const seat of joining) kept.seats.push(seat);
  for (const courseId of gone.begun) kept.begun.add(courseId);
  for (const [courseId, place] of gone.places) if (!kept.places.has(courseId)) kept.places.set(courseId, place);
  return gone.seats.length - joining.length;
}

/** The same when nobody moves, and grants end and others begin. */
export async function seatsOfGrants(
  context: PlanContext,
  classes: readonly LearnerClass[],
  { end, begin }: { end: readonly number[]; begin: readonly { courseIds: readonly number[]; grant: Grant }[] },
): Promise<SeatEffects> {
  const courses = (await grantsByCourse(context.db, null)).map(({ course, grants }) => ({
    course,
    grants: [
      ...grants.filter(({ id }) => !end.includes(id)),
      ...begin.flatMap(({ courseIds, grant }) => (courseIds.includes(course.id) ? [grant] : [])),
    ],
  }));
  const moving = classes.map(({ who, learner, people }): MovingLearner => ({
    who: 'person' in who ? { persons: [who.person] } : who,
    people,
    before: learner,
    after: learner,
  }));
  return seatsOfLook(context, { tree: context.tree, courses, moving });
}

/**
 * People of the sets for whom seats are a matter: who would need one, or has one. They stand in the groups of their set, in the
 * order in which they came.
 */
async function peopleOfSets(
  { db, today }: Pick<PlanContext, 'db' | 'today'>,
  book: SeatBook,
  moving: readonly MovingLearner[],
): Promise<Awaited<ReturnType<typeof learners>>> {
  const after = new Map(moving.flatMap(({ who, after: later }) => ('set' in who && later ? [[who.set, later] as const] : [])));
  const needing = [...after].flatMap(([set, learner]) => (book.needsOf(learner).length > 0 ? [set] : []));
  const found = await rows<{ id: number; set_id: number }>(
    db,
    sql`
    select p.id, p.set_id from person p where p.counted and not p.own_windows
      and (p.set_id = any(${ids(needing)}) or (p.set_id = any(${ids(after.keys())}) and exists (select 1 from seat s where s.person_id = p.id and s.until_at is null)))`,
  );
  const setOf = new Map(found.map(({ id, set_id }) => [id, set_id]));
  return (await learners(db, [...setOf.keys()])).map((learner) => {
    const stays = new Set(after.get(setOf.get(learner.personId) ?? 0)?.memberships.map(({ groupId }) => groupId));
    return {
      ...learner,
      memberships: learner.memberships.filter(({ groupId, lastDay }) => stays.has(groupId) && (lastDay === null || lastDay >= today)),
    };
  });
}
