import { type Day, type SeatOutcome, type SeatPerson, settleSeats } from '@gate-roster/core';
import { and, isNull, sql } from 'drizzle-orm';
import { grantsByCourse, learners } from '../access/load-rules.ts';
import { ids, isAmong, oneRow, planFor, type Queryable, rows, type Transaction } from '../database/connect.ts';
import * as tables from '../database/schema.ts';
import type { LockMode } from '../changes/roster-lock.ts';
import { wholeTree } from '../groups/queries.ts';
import { type Concerned, concernedPeople, lineWithRoom } from './concerned.ts';
import { noteNews } from './tell-seats.ts';
import { heldSeats, loadSeatBook, seatPerson } from './load-seats.ts';

/** After what seats and the line have to be looked at again. */
export interface Unsettled extends Concerned {
  people: readonly number[];
  courses: readonly number[] | 'all';
  /** Is there more or less room, or another order of the line? */
  room: boolean;
  /** The change at work; null: the day's turn. */
  changeId: number | null;
  /** How the roster lock is held: shared, only those who came in are a matter, and seats are counted with the licences locked. */
  mode: LockMode;
  /** The changes that it undoes. */
  undoOf: readonly number[];
  /** For people whom a file brings, the row that does; below zero for those who were chosen to come first. */
  fileRows?: ReadonlyMap<number, number> | undefined;
}

/**
 * Brings seats and the line up to date with memberships, opens and licences, in the transaction that altered them. The caller
 * holds the lock on changes, so that no two admissions count the same seat. Without licences that is one small question. Of those
 * whom the change does not concern, only people in line are looked at for whom there may be room now.
 */
export async function settle(tx: Transaction, today: Day, unsettled: Unsettled): Promise<SeatOutcome | null> {
  const isAlone = unsettled.mode === 'alone';
  if (!(isAlone ? await isAnythingPaid(tx) : await isSeatAMatter(tx, unsettled.people))) return null;
  if (!isAlone) await lockLicences(tx);
  const book = await loadSeatBook(tx, await wholeTree(tx), await grantsByCourse(tx, null), today);
  if (!book) return null;
  const concerned = new Set(isAlone ? await concernedPeople(tx, unsettled) : unsettled.people);
  const of = async (people: Iterable<number>): Promise<SeatPerson[]> => {
    const list = [...people];
    const held = await heldSeats(tx, list);
    return (await learners(tx, list)).map((learner) =>
      seatPerson(book, learner, today, held(learner.personId), unsettled.fileRows?.get(learner.personId)),
    );
  };
  const people = await of(concerned);
  const theirs = people.flatMap(({ seats }) => seats);
  // Room there was before is nobody's in line: only where seats come back, or there is more room, may somebody of it be served.
  if (isAlone && (unsettled.room || theirs.length > 0)) {
    const waiting = (await lineWithRoom(tx, book, theirs)).filter((id) => !concerned.has(id));
    for (const each of await of(waiting)) people.push(each);
  }
  const undone = await seatsOfChanges(tx, unsettled.undoOf);
  const first = unsettled.undoOf.length === 0 ? [] : unsettled.people;
  const outcome = settleSeats(book.room, people, new Set(undone), new Set(first));
  await write(tx, outcome, unsettled);
  await noteNews(tx, people, outcome, unsettled.room);
  return outcome;
}

/** Is there anything to settle at all: a licence, a seat, a line, or an open that has to be paid for? */
async function isAnythingPaid(tx: Transaction): Promise<boolean> {
  const { paid } = await oneRow<{ paid: boolean }>(
    tx,
    sql`
    select exists (select 1 from licence_now) or exists (select 1 from seat where until_at is null) or exists (select 1 from seat_line where until_at is null)
      or exists (select 1 from access_grant where until_at is null and licences is not null) as paid`,
  );
  return paid;
}

/** Does one of these people need a seat, have one, or wait for one? */
async function isSeatAMatter(tx: Transaction, people: readonly number[]): Promise<boolean> {
  const { matters } = await oneRow<{ matters: boolean }>(
    tx,
    sql`
    select exists (select 1 from person p join entitlement x on (not p.own_windows and x.set_id = p.set_id) or (p.own_windows and x.person_id = p.id)
        where p.id = any(${ids(people)}) and x.needs_seat)
      or exists (select 1 from seat where person_id = any(${ids(people)}) and until_at is null) or exists (select 1 from seat_line where person_id = any(${ids(people)}) and until_at is null) as matters`,
    planFor(people.length),
  );
  return matters;
}

/** Until the transaction ends nobody else hands out seats. @returns Whether there is a licence at all. */
export async function lockLicences(tx: Transaction): Promise<boolean> {
  return (await rows(tx, sql`select id from licence order by id for no key update`)).length > 0;
}

/** Seats in use that changes gave. */
export async function seatsOfChanges(tx: Queryable, changeIds: readonly number[]): Promise<number[]> {
  if (changeIds.length === 0) return [];
  return (
    await tx
      .select({ id: tables.seat.rowId })
      .from(tables.seat)
      .where(and(isAmong(tables.seat.changeId, changeIds), isNull(tables.seat.untilAt)))
  ).map(({ id }) => id);
}

async function write(tx: Transaction, { begin, move, end, queue, unqueue }: SeatOutcome, unsettled: Unsettled): Promise<void> {
  const lines = (list: readonly { key: number; courseId: number }[]): string =>
    JSON.stringify(
      list.map(({ key, courseId }, index) => {
        const row = unsettled.fileRows?.get(key) ?? 0;
        return { key, course: courseId, nth: index + 1, row: row > 0 ? row : null };
      }),
    );
  if (end.length + move.length > 0)
    await tx.execute(
      sql`update seat set until_at = greatest(now(), from_at) where row_id = any(${ids([...end, ...move].map(({ seatId }) => seatId))})`,
    );
  if (move.length > 0)
    await tx.execute(sql`
      insert into seat (licence_id, person_id, group_id, got_at, change_id)
      select s.licence_id, s.person_id, m."group", s.got_at, s.change_id
      from jsonb_to_recordset(${JSON.stringify(move.map(({ seatId, way }) => ({ seat: seatId, group: way.groupId })))}::jsonb) as m(seat bigint, "group" bigint) join seat s on s.row_id = m.seat`);
  if (begin.length > 0)
    await tx.execute(sql`
      insert into seat (licence_id, person_id, group_id, got_at, change_id)
      select licence, key, "group", now(), ${unsettled.changeId}::bigint
      from jsonb_to_recordset(${JSON.stringify(begin.map(({ key, licenceId, groupId }) => ({ key, licence: licenceId, group: groupId })))}::jsonb) as b(key bigint, licence bigint, "group" bigint)`);
  if (unqueue.length > 0)
    await tx.execute(sql`
      update seat_line l set until_at = now() from jsonb_to_recordset(${lines(unqueue)}::jsonb) as q(key bigint, course bigint)
      where l.person_id = q.key and l.course_id = q.course and l.until_at is null`);
  if (queue.length > 0)
    await tx.execute(sql`
      insert into seat_line (person_id, course_id, since, file_row, place)
      select q.key, q.course, now(), q."row", nextval('seat_line_order')
      from jsonb_to_recordset(${lines(queue)}::jsonb) as q(key bigint, course bigint, nth int, "row" int) order by q.nth`);
  // Whoever stands in line is never overdue.
  const otherwise = new Set([...begin, ...move, ...end, ...queue, ...unqueue].map(({ key }) => key));
  if (otherwise.size > 0)
    await tx.execute(sql`insert into standing_mark select distinct set_id from person where id = any(${ids(otherwise)})`);
}
