import {
  type CourseGrants,
  type CourseId,
  type Day,
  contains,
  hasPayers,
  type GroupId,
  type Licence,
  type LicenceId,
  type OnLeaving,
  type Seat,
  type SeatLimit,
  seatNeed,
  type SeatNeed,
  type SeatPerson,
  SeatRoom,
  type SeatWord,
  type SeatWay,
  type Tree,
  type Learner,
} from '@gate-roster/core';
import { and, ne, sql, type SQL } from 'drizzle-orm';
import { type PersonLearner, rulesOf } from '../access/load-rules.ts';
import { ids, isAmong, oneRow, type Queryable, rows } from '../database/connect.ts';
import * as tables from '../database/schema.ts';

/** Licences in force, how their seats are used, and the courses that they may have to pay for. */
export interface SeatBook {
  licences: readonly Licence[];
  room: SeatRoom;
  /** What somebody would need; courses that nothing has to pay for are no matter. */
  needsOf: (learner: Learner) => readonly SeatNeed[];
}

/** Licences and limits as they would be. */
export interface Otherwise {
  licences?: (all: readonly Licence[]) => readonly Licence[];
  limits?: (all: readonly SeatLimit[]) => readonly SeatLimit[];
  /** Rows that would end, and ended ones that would begin again. */
  rows?: Record<'licence' | 'limit', Turning>;
  /** Seats that would be of another licence. */
  moves?: readonly SeatMove[];
  /** What would be decided by hand about people; null: nothing any more. */
  words?: readonly { personId: number; licenceId: number; word: SeatWord | null }[];
}

/** A seat of somebody that would pay, and be charged, otherwise. */
export interface SeatMove {
  seatId: number;
  personId: number;
  from: SeatWay;
  to: SeatWay;
}

/** Whose seats would be moved to another licence. */
export const movedBy = (otherwise?: Otherwise): number[] => otherwise?.moves?.map(({ personId }) => personId) ?? [];

/** null: there is no licence, nothing of one left, and nothing that has to be paid for. */
export async function loadSeatBook(
  db: Queryable,
  tree: Tree,
  courses: readonly CourseGrants[],
  today: Day,
  otherwise?: Otherwise,
): Promise<SeatBook | null> {
  const paid = courses.filter(({ grants }) => hasPayers(grants));
  const found = await rows<{
    id: number;
    seats: number;
    home_id: GroupId;
    first_day: Day | null;
    last_day: Day | null;
    on_leaving: OnLeaving;
    by_hand: boolean;
    covers: CourseId[];
  }>(
    db,
    sql`
    select l.licence_id as id, l.seats, l.group_id as home_id, l.first_day, l.last_day, l.on_leaving, l.by_hand,
      array(select l.course_id where l.course_id is not null union select c.course_id from course_in_set c where c.course_set_id = l.course_set_id) as covers
    from licence_version l where ${standing(otherwise?.rows?.licence)} order by 1`,
  );
  if (found.length === 0 && paid.length === 0 && !otherwise?.licences && !(await isAnyLeft(db))) return null;
  const all = found.map((row): Licence => ({
    id: row.id,
    seats: row.seats,
    covers: new Set(row.covers),
    homeId: row.home_id,
    onLeaving: row.on_leaving,
    byHand: row.by_hand,
    firstDay: row.first_day,
    lastDay: row.last_day,
  }));
  const licences = (otherwise?.licences?.(all) ?? all).filter((licence) => contains(licence, today) && tree.has(licence.homeId));
  const limits = await seatLimits(db, otherwise?.rows?.limit);
  const rules = rulesOf(tree, paid);
  // Thousands of learners stand in the same groups.
  const known = new Map<string, readonly SeatNeed[]>();
  const room = new SeatRoom(tree, licences, otherwise?.limits?.(limits) ?? limits, [...(await seatsInUse(db)), ...(await seatsHeld(db))]);
  for (const { from, to } of otherwise?.moves ?? []) {
    room.release(from);
    room.charge(to);
  }
  return {
    licences,
    room,
    needsOf(learner) {
      const hasOwn = rules.some(({ onPerson }) => learner.personId !== null && onPerson.has(learner.personId));
      const key = JSON.stringify({ ...learner, personId: hasOwn ? learner.personId : null });
      const needs = known.get(key) ?? rules.flatMap((course) => seatNeed(course, learner, today, licences) ?? []);
      known.set(key, needs);
      return needs;
    },
  };
}

type Turning = { end: readonly number[]; begin: readonly number[] };

const standing = ({ end, begin }: Turning = { end: [], begin: [] }): SQL =>
  sql`((until_at is null and row_id <> all(${ids(end)})) or row_id = any(${ids(begin)}))`;

/** All limits that stand, or would. */
export const seatLimits = (db: Queryable, turning?: Turning): Promise<SeatLimit[]> =>
  rows<SeatLimit>(db, sql`select licence_id as "licenceId", group_id as "groupId", most from seat_limit where ${standing(turning)}`);

/** How many seats are held in each group while somebody pays to come in, by licence. */
export const seatsHeld = (db: Queryable): Promise<(SeatWay & { seats: number })[]> =>
  rows<SeatWay & { seats: number }>(
    db,
    sql`select licence_id as "licenceId", group_id as "groupId", count(*)::int as seats from held_seat group by 1, 2`,
  );

/** How many seats are charged to each group, by licence. */
export const seatsInUse = (db: Queryable): Promise<(SeatWay & { seats: number })[]> =>
  rows<SeatWay & { seats: number }>(
    db,
    sql`select licence_id as "licenceId", group_id as "groupId", count(*)::int as seats from seat where until_at is null group by 1, 2`,
  );

/** Licences may be over while their seats still stand. */
async function isAnyLeft(db: Queryable): Promise<boolean> {
  const { left } = await oneRow<{ left: boolean }>(
    db,
    sql`select exists (select 1 from seat where until_at is null) or exists (select 1 from seat_line where until_at is null) as left`,
  );
  return left;
}

export interface HeldSeats {
  seats: Seat[];
  places: Map<CourseId, number>;
  begun: Set<CourseId>;
  words: Map<LicenceId, SeatWord>;
}

export const nothingHeld = (): HeldSeats => ({ seats: [], places: new Map(), begun: new Set(), words: new Map() });

/** Seats and places in line of people, and what they have begun. */
export async function heldSeats(
  db: Queryable,
  personIds: Iterable<number>,
  { words = [], moves = [] }: Pick<Otherwise, 'words' | 'moves'> = {},
): Promise<(personId: number) => HeldSeats> {
  const list = ids(personIds);
  const held = new Map<number, HeldSeats>();
  const of = (id: number): HeldSeats => {
    const known = held.get(id) ?? nothingHeld();
    held.set(id, known);
    return known;
  };
  for (const { person_id, ...seat } of await rows<Seat & { person_id: number }>(
    db,
    sql`select person_id, row_id as id, licence_id as "licenceId", group_id as "groupId" from seat where until_at is null and person_id = any(${list}) order by row_id`,
  ))
    of(person_id).seats.push(seat);
  for (const { person_id, course_id, place } of await rows<{ person_id: number; course_id: number; place: number }>(
    db,
    sql`select person_id, course_id, place from seat_line where until_at is null and person_id = any(${list})`,
  ))
    of(person_id).places.set(course_id, place);
  for (const { person_id, licence_id, word } of await rows<{ person_id: number; licence_id: number; word: SeatWord }>(
    db,
    sql`select person_id, licence_id, word from seat_word where until_at is null and person_id = any(${list})`,
  ))
    of(person_id).words.set(licence_id, word);
  for (const { personId, licenceId, word } of words)
    if (word === null) of(personId).words.delete(licenceId);
    else of(personId).words.set(licenceId, word);
  for (const { seatId, personId, to } of moves)
    if (held.has(personId))
      Object.assign(of(personId), { seats: of(personId).seats.map((seat) => (seat.id === seatId ? { ...seat, ...to } : seat)) });
  // What somebody has begun matters only where a seat may come back.
  const holders = [...held].flatMap(([id, { seats }]) => (seats.length > 0 ? [id] : []));
  for (const { person_id, course_id } of await db
    .select({ person_id: tables.enrolment.personId, course_id: tables.enrolment.courseId })
    .from(tables.enrolment)
    .where(and(ne(tables.enrolment.status, 'not begun'), isAmong(tables.enrolment.personId, holders))))
    of(person_id).begun.add(course_id);
  return of;
}

/** Somebody as they are, or would be, as far as seats go. */
export function seatPerson(
  book: SeatBook,
  learner: PersonLearner,
  today: Day,
  { seats, places, begun, words }: HeldSeats,
  fileRow = 0,
): SeatPerson {
  const standing = learner.memberships.filter(({ lastDay }) => lastDay === null || lastDay >= today);
  return {
    key: learner.personId,
    groups: learner.ended ? [] : standing.map(({ groupId }) => groupId),
    seats,
    begun,
    places,
    words,
    fileRow,
    needs: book.needsOf(learner),
  };
}
