import {
  type CourseGrants,
  type Grant,
  later,
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
import * as tables from '../database/schema.ts';
import { lineWithRoom } from './concerned.ts';
import { type HeldSeats, heldSeats, loadSeatBook, movedBy, nothingHeld, type Otherwise, type SeatBook, seatPerson } from './load-seats.ts';

/** What an undo takes back with the change. */
export interface Undone {
  /** Seats that came by the change: they come back whatever their licence says. */
  seats: readonly number[];
  /** Who only gets back what they had, and so comes before the line. */
  first: readonly number[];
  /** Courses that somebody has begun, and with the undo has not; and the other way round. */
  begun: readonly { personId: number; courseId: number; has: boolean }[];
}

/** How the world would be, for those whom a change concerns. */
export interface Afterwards {
  tree: Tree;
  courses: readonly CourseGrants[];
  moving: readonly MovingLearner[];
  /** Rows of the file that bring new people, by class of newcomers; and people who are known. */
  rowsOfNew?: readonly (readonly number[])[];
  rowOf?: ReadonlyMap<number, number>;
  otherwise?: Otherwise | undefined;
  undone?: Undone | undefined;
  /** Whose seats join another's. */
  merged?: { keptId: number; goneId: number } | undefined;
}

/** What a change would do to seats. Without licences that is one small question. */
export async function seatsOfLook(
  { db, today, seen, tree: treeNow }: Pick<PlanContext, 'db' | 'today' | 'seen'> & { tree?: Tree },
  { tree, courses, moving, rowsOfNew = [], rowOf, otherwise, merged, undone }: Afterwards,
): Promise<SeatEffects> {
  const book = await loadSeatBook(db, tree, courses, today, otherwise);
  if (!book) return noSeats();
  const known = moving.flatMap(({ who, after }) => ('persons' in who && after ? who.persons.map((id) => ({ id, after })) : []));
  const ofSets = await peopleOfSets({ db, today }, book, moving);
  const held = await heldSeats(
    db,
    [...known.map(({ id }) => id), ...ofSets.map(({ personId }) => personId), ...(merged ? [merged.goneId] : [])],
    otherwise,
  );
  for (const { personId, courseId, has } of undone?.begun ?? [])
    if (has) held(personId).begun.add(courseId);
    else held(personId).begun.delete(courseId);
  const doubled = merged ? joinHeld(held(merged.keptId), held(merged.goneId)) : 0;
  // Of what is charged outside their branch a leader learns nothing: it stays as it is.
  const outside = (seats: HeldSeats['seats']): number[] => (seen ? seats.flatMap(({ groupId }) => (seen(groupId) ? [] : [groupId])) : []);
  const people: SeatPerson[] = [
    ...known.map(({ id, after }) => seatPerson(book, { ...after, personId: id }, today, held(id), rowOf?.get(id))),
    ...ofSets.map((learner) => seatPerson(book, learner, today, held(learner.personId), rowOf?.get(learner.personId))),
  ].map((person) => ({ ...person, groups: [...person.groups, ...outside([...person.seats])] }));
  // Where a seat may come back, or there is other room, it may go to somebody in line.
  const mayFree = otherwise !== undefined || (treeNow !== undefined && tree !== treeNow) || people.some(({ seats }) => seats.length > 0);
  const unseen = mayFree ? await addOthers({ db, today }, book, tree, people, seen, otherwise) : new Set<number>();
  let key = 0;
  for (const { who, after } of moving) {
    if (!('newcomers' in who) || !after) continue;
    for (const fileRow of rowsOfNew[who.newcomers] ?? [])
      people.push(seatPerson(book, { ...after, personId: --key }, today, nothingHeld(), fileRow));
  }
  const all = lookAtSeats(book.room, people, seen, undone);
  const effects = {
    ...all,
    fromLine: all.fromLine.filter((id) => !unseen.has(id)),
    ended: all.ended.filter((id) => !unseen.has(id)),
    moved: [...all.moved, ...movedBy(otherwise)].filter((id) => !unseen.has(id)),
    leftLine: all.leftLine.filter((id) => !unseen.has(id)),
    line: all.line.filter((each) => !unseen.has(each.key)),
  };
  return { ...effects, ended: [...effects.ended, ...Array.from({ length: doubled }, () => merged?.goneId ?? 0)] };
}

/**
 * Adds those in line, and those with a seat of a licence that goes with its group, as far as they are not looked at yet.
 * @returns Whom of them the reader may not know of.
 */
async function addOthers(
  { db, today }: Pick<PlanContext, 'db' | 'today'>,
  book: SeatBook,
  tree: Tree,
  people: SeatPerson[],
  seen: PlanContext['seen'],
  otherwise?: Otherwise,
): Promise<Set<number>> {
  const known = people.map(({ key }) => key);
  const homes = await db.select({ id: tables.licenceNow.licenceId, home_id: tables.licenceNow.groupId }).from(tables.licenceNow);
  // Some licences leave a seat with somebody who has left every group of the branch.
  const gone = homes.flatMap(({ id, home_id }) => (tree.has(home_id) ? [] : [id]));
  const found = await rows<{ id: number }>(
    db,
    sql`
    select person_id as id from seat_line where until_at is null and ${otherwise !== undefined}
    union select person_id from seat where until_at is null and licence_id = any(${ids(gone)})`,
  );
  const served = otherwise
    ? []
    : await lineWithRoom(
        db,
        book,
        people.flatMap(({ seats }) => seats),
      );
  const isKnown = new Set(known);
  const list = [...new Set([...found.map(({ id }) => id), ...served])].filter((id) => !isKnown.has(id));
  const held = await heldSeats(db, list, otherwise);
  const unseen = new Set<number>();
  for (const learner of await learners(db, list)) {
    const memberships = learner.memberships.filter(({ groupId }) => tree.has(groupId));
    people.push(seatPerson(book, { ...learner, memberships }, today, held(learner.personId)));
    if (seen && !memberships.some(({ groupId }) => seen(groupId))) unseen.add(learner.personId);
  }
  return unseen;
}

/** One takes over what the other has. @returns How many seats both have, of which one comes back. */
function joinHeld(kept: HeldSeats, gone: HeldSeats): number {
  const has = new Set(kept.seats.map(({ licenceId }) => licenceId));
  const joining = gone.seats.filter(({ licenceId }) => !has.has(licenceId));
  for (const seat of joining) kept.seats.push(seat);
  for (const courseId of gone.begun) kept.begun.add(courseId);
  for (const [licenceId, word] of gone.words) if (!kept.words.has(licenceId)) kept.words.set(licenceId, word);
  for (const [courseId, place] of gone.places) if (!kept.places.has(courseId)) kept.places.set(courseId, place);
  return gone.seats.length - joining.length;
}

/** The same when nobody moves, and grants end and others begin. */
export async function seatsOfGrants(
  context: PlanContext,
  classes: readonly LearnerClass[],
  { end, begin }: { end: readonly number[]; begin: readonly { courseIds: readonly number[]; grant: Grant }[] },
  seatsFirst: ReadonlyMap<number, number> = new Map(),
): Promise<SeatEffects> {
  // Where paid opens begin later, seats are counted for the day on which they do.
  const paid = begin.filter(({ grant }) => grant.payers);
  const first = paid.map(({ grant }) => later(grant.firstDay ?? context.today, context.today)).sort()[0] ?? context.today;
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
  const seats = await seatsOfLook({ ...context, today: first }, { tree: context.tree, courses, moving, rowOf: seatsFirst });
  return { ...seats, day: first === context.today ? null : first };
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
