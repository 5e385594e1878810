import { dayOfMoment, type Day, priceOfSeats, type Price } from '@gate-roster/core';
import { eq, sql, type SQL } from 'drizzle-orm';
import { randomUUID } from 'node:crypto';
import { grantsByCourse, learners } from '../access/load-rules.ts';
import { withRosterLock } from '../changes/roster-lock.ts';
import { ids, maybeRow, onlyOne, type Queryable, rows, type Transaction } from '../database/connect.ts';
import * as tables from '../database/schema.ts';
import { wholeTree } from '../groups/queries.ts';
import type { Deps } from '../http/deps.ts';
import { ProblemError } from '../http/problem.ts';
import { answerBell } from '../jobs/bell.ts';
import type { PaymentDeps } from '../seats/ask-payment-service.ts';
import { heldSeats, loadSeatBook, seatPerson } from '../seats/load-seats.ts';
import { lockLicences, settle } from '../seats/settle.ts';
import type { StandingCode } from './codes.ts';

/*
 * Coming in by a code that has a price (`product.md`, Payments): the account is made and waits; a use of the code and the seats it will
 * need are held for half an hour; whoever has paid is in. What is paid when no place is left goes back by itself.
 */

/** So long a place is held for somebody who pays. */
export const holdMinutes = 30;

export interface Entry {
  id: string;
  codeId: number;
  personId: number;
  groupIds: number[];
  isNew: boolean;
  answers: { label: string; answer: string }[];
  idNumber: string | null;
  currency: string;
  net: number;
  vat: number;
  state: 'paying' | 'paid' | 'given up';
  heldUntil: string | null;
}

export const entryOf = (db: Queryable, id: string, lock: SQL = sql``): Promise<Entry | null> =>
  maybeRow<Entry>(
    db,
    sql`
    select id, code_id as "codeId", person_id as "personId", to_jsonb(group_ids) as "groupIds", is_new as "isNew", answers, id_number as "idNumber", currency, net, vat, state,
      held_until as "heldUntil" from paid_entry where id = ${id} ${lock}`,
  );

/** What coming in by a code costs; null: nothing. */
export async function priceOfCode(
  db: Queryable,
  { price }: Pick<StandingCode, 'price'>,
): Promise<(Price & { currency: string; vatRate: number }) | null> {
  if (price === null) return null;
  const { currency, vatRate } = await onlyOne(
    db.select({ currency: tables.billing.currency, vatRate: tables.billing.vatRate }).from(tables.billing),
  );
  return { ...priceOfSeats(1, price, vatRate), currency, vatRate };
}

/** The way in that somebody has still to pay: by this code, or the latest. */
export async function openEntryOf(db: Queryable, personId: number, codeId: number | null = null): Promise<string | null> {
  const open = await maybeRow<{ id: string }>(
    db,
    sql`select id from paid_entry where person_id = ${personId} and state = 'paying' and ${codeId === null ? sql`true` : sql`code_id = ${codeId}`} order by asked_at desc limit 1`,
  );
  return open?.id ?? null;
}

/** Notes that somebody comes in by a code once they have paid, and holds a place for them. @returns Its number. */
export async function beginEntry(
  tx: Transaction,
  code: StandingCode,
  { total, ...who }: Pick<Entry, 'personId' | 'groupIds' | 'isNew' | 'answers' | 'idNumber'> & { total: number | null },
  { now, today }: { now: Date; today: Day },
): Promise<string> {
  const price = await priceOfCode(tx, code);
  if (price === null) throw new RangeError('a code without a price is not paid for');
  if (price.total !== total) throw new ProblemError('price-changed');
  const id = randomUUID();
  await tx.execute(sql`
    insert into paid_entry (id, code_id, person_id, group_ids, is_new, answers, id_number, price, vat_rate, currency, net, vat, state, asked_at, held_until)
    values (${id}, ${code.id}, ${who.personId}, ${ids(who.groupIds)}, ${who.isNew}, ${JSON.stringify(who.answers)}::jsonb, ${who.idNumber}, ${code.price},
      ${price.vatRate}, ${price.currency}, ${price.net}, ${price.vat}, 'paying', ${now.toISOString()}, ${heldFrom(now)})`);
  await holdSeats(tx, { id, ...who }, today);
  return id;
}

export const heldFrom = (now: Date): string => new Date(now.getTime() + holdMinutes * 60_000).toISOString();

/** Holds the seats that somebody will need in the groups they come into, as far as some are free. */
export async function holdSeats(
  tx: Transaction,
  { id, personId, groupIds }: Pick<Entry, 'id' | 'personId' | 'groupIds'>,
  today: Day,
): Promise<void> {
  if (!(await lockLicences(tx))) return;
  const book = await loadSeatBook(tx, await wholeTree(tx), await grantsByCourse(tx, null), today);
  const [learner] = await learners(tx, [personId]);
  if (!book || !learner) return;
  const has = new Set(learner.memberships.map(({ groupId }) => groupId));
  const memberships = [
    ...learner.memberships,
    ...groupIds.filter((groupId) => !has.has(groupId)).map((groupId) => ({ groupId, firstDay: null, lastDay: null })),
  ];
  const held = await heldSeats(tx, [personId]);
  const person = seatPerson(book, { ...learner, active: true, ended: false, memberships }, today, held(personId));
  const licences = new Set(person.seats.map(({ licenceId }) => licenceId));
  for (const { ways } of person.needs) {
    if (ways.some(({ licenceId }) => licences.has(licenceId))) continue;
    const way = ways.find((each) => book.room.licence(each.licenceId)?.byHand !== true && book.room.hasRoom(each));
    if (!way) continue;
    book.room.charge(way);
    licences.add(way.licenceId);
    await tx.insert(tables.heldSeat).values({ entryId: id, licenceId: way.licenceId, groupId: way.groupId }).onConflictDoNothing();
  }
}

/** What is held for somebody is free again. @returns Whether seats were among it, so that the line goes on. */
export async function release(tx: Transaction, { id, codeId, heldUntil }: Pick<Entry, 'id' | 'codeId' | 'heldUntil'>): Promise<boolean> {
  if (heldUntil === null) return false;
  await tx.update(tables.paidEntry).set({ heldUntil: null }).where(eq(tables.paidEntry.id, id));
  await tx.execute(sql`update join_code set uses = greatest(0, uses - 1) where id = ${codeId}`);
  const seats = await tx.execute(sql`delete from held_seat where entry_id = ${id}`);
  return (seats.rowCount ?? 0) > 0;
}

export const todayOf = async (tx: Queryable, now: Date): Promise<Day> =>
  dayOfMoment(now, (await onlyOne(tx.select({ zone: tables.organisation.timeZone }).from(tables.organisation))).zone);

const serveLine = (tx: Transaction, today: Day): Promise<unknown> =>
  settle(tx, today, { people: [], courses: [], room: true, changeId: null, undoOf: [], mode: 'alone' });

/** Lets go of the places of those who did not pay in time, now and then. @returns How to stop. */
export const startEndingHolds = (deps: PaymentDeps): (() => Promise<void>) =>
  answerBell(deps.settings.databaseUrl, deps.log, () => endHolds(deps));

export async function endHolds({ db, now }: Pick<Deps, 'db' | 'now'>): Promise<void> {
  const isOver = sql`held_until <= ${now().toISOString()}`;
  if (!(await maybeRow(db, sql`select 1 from paid_entry where ${isOver} limit 1`))) return;
  await withRosterLock(db, 'alone', async (tx) => {
    const over = await rows<Pick<Entry, 'id' | 'codeId' | 'heldUntil'>>(
      tx,
      sql`select id, code_id as "codeId", held_until as "heldUntil" from paid_entry where ${isOver} for update`,
    );
    let freed = false;
    for (const entry of over) freed = (await release(tx, entry)) || freed;
    if (freed) await serveLine(tx, await todayOf(tx, now()));
  });
}
