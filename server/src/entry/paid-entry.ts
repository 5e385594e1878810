import type { PayingEntry } from '@gate-roster/contract';
import type { Day } from '@gate-roster/core';
import { and, eq, isNull, sql, type SQL } from 'drizzle-orm';
import { randomUUID } from 'node:crypto';
import { summaryOf } from '../changes/plan.ts';
import { recordChange } from '../changes/record.ts';
import { withRosterLock } from '../changes/roster-lock.ts';
import type { ChangeWriter } from '../changes/writer.ts';
import { ids, iso, maybeRow, oneRow, onlyOne, type Queryable, rows, type Transaction } from '../database/connect.ts';
import * as tables from '../database/schema.ts';
import { wholeTree } from '../groups/queries.ts';
import type { Deps } from '../http/deps.ts';
import { found, ProblemError } from '../http/problem.ts';
import { writeLetters } from '../letters/write-letters.ts';
import { announce } from '../live/announce.ts';
import { askForPage, type PaymentDeps } from '../seats/ask-payment-service.ts';
import { makeInvoice } from '../seats/invoices.ts';
import type { Payable } from '../seats/payable.ts';
import { closedBecause, maybeCodeById, type StandingCode } from './codes.ts';
import { type Entry, entryOf, heldFrom, holdSeats, release, todayOf } from './hold-place.ts';
import { beginAccount, letIn, useUp } from './let-in.ts';

/* Paying for a way in, and what the payment service says of it. */

/**
 * Begins one try at paying a way in; the same request id is the same try. Where nothing is held any more, a place is looked for first.
 * @returns The page of the service on which it is paid.
 * @throws ProblemError `not-found`, `blocked` when it is paid or given up, `code-over` when no place is left, `no-payment`.
 */
export async function beginEntryPayment(deps: PaymentDeps, entryId: string, requestId: string): Promise<string> {
  const { db, settings, now } = deps;
  const asked = await withRosterLock(db, 'shared', async (tx) => {
    const entry = found(await entryOf(tx, entryId, sql`for update`));
    if (entry.state !== 'paying') throw new ProblemError('blocked');
    if (entry.heldUntil === null) {
      const code = await maybeCodeById(tx, entry.codeId);
      if (!code || closedBecause(code, now())) throw new ProblemError('code-over');
      await holdSeats(tx, entry, await todayOf(tx, now()));
      await tx.execute(sql`update paid_entry set held_until = ${heldFrom(now())} where id = ${entryId}`);
      await useUp(tx, code);
    }
    await tx
      .insert(tables.payment)
      .values({ id: requestId, entryId, amount: entry.net + entry.vat, currency: entry.currency, state: 'begun', begunAt: sql`now()` })
      .onConflictDoNothing();
    const { mine } = await oneRow<{ mine: boolean }>(
      tx,
      sql`select coalesce(entry_id = ${entryId}, false) as mine from payment where id = ${requestId}`,
    );
    if (!mine) throw new ProblemError('request-id-reused');
    const { organisation } = await onlyOne(tx.select({ organisation: tables.organisation.name }).from(tables.organisation));
    return { amount: entry.net + entry.vat, currency: entry.currency, title: await titleOf(tx, entry), organisation };
  });
  return askForPage(deps, {
    id: requestId,
    amount: asked.amount,
    currency: asked.currency,
    title: asked.title,
    payee: asked.organisation,
    returnUrl: `${settings.publicUrl}/join/paying`,
  });
}

const groupNames = (entry: SQL): SQL =>
  sql`coalesce((select jsonb_agg(g.name order by o.place) from unnest(${entry}) with ordinality as o(id, place) join group_now g on g.id = o.id), '[]')`;

async function titleOf(tx: Transaction, { groupIds }: Pick<Entry, 'groupIds'>): Promise<string> {
  const { names } = await oneRow<{ names: string[] }>(tx, sql`select ${groupNames(ids(groupIds))} as names`);
  return `Joining ${names.join(', ')}`;
}

/** How far a way in is, for whoever pays it. */
export async function payingEntry(
  db: Queryable,
  id: string,
): Promise<(Omit<PayingEntry, 'me'> & { personId: number; isNew: boolean }) | null> {
  const entry = await maybeRow<Omit<PayingEntry, 'me'> & { personId: number; isNew: boolean }>(
    db,
    sql`
    select e.person_id as "personId", e.is_new as "isNew", e.state, ${groupNames(sql`e.group_ids`)} as groups, e.net + e.vat as total, e.currency, e.held_until as "heldUntil",
      (select p.state from payment p where p.entry_id = e.id order by p.begun_at desc limit 1) as payment, n.sign_in_name as "signInName",
      (select max(i.number) from invoice i where i.entry_id = e.id) as receipt
    from paid_entry e join personal_now n on n.person_id = e.person_id where e.id = ${id}`,
  );
  return entry && { ...entry, heldUntil: entry.heldUntil === null ? null : iso(entry.heldUntil) };
}

/** What somebody has paid to come in, with the numbers of its receipts. */
export const paidEntries = (
  db: Queryable,
  personId: number,
): Promise<{ number: number; groups: string[]; total: number; currency: string }[]> =>
  rows(
    db,
    sql`
    select i.number, ${groupNames(sql`e.group_ids`)} as groups, e.net + e.vat as total, e.currency from paid_entry e join invoice i on i.entry_id = e.id
    where e.person_id = ${personId} order by i.number desc`,
  );

/** Somebody does not come in after all: the place is free again, and an account that was made for it ends. */
export async function giveUpEntry(deps: Pick<Deps, 'db' | 'now'>, entryId: string): Promise<void> {
  await withRosterLock(deps.db, 'alone', async (tx) => {
    const entry = found(await entryOf(tx, entryId, sql`for update`));
    if (entry.state === 'paying') await endEntry(tx, entry, await todayOf(tx, deps.now()));
  });
}

async function endEntry(tx: Transaction, entry: Entry, today: Day): Promise<void> {
  await tx.update(tables.paidEntry).set({ state: 'given up' }).where(eq(tables.paidEntry.id, entry.id));
  await recordChange(tx, { personId: null, today }, { ...changeOf(entry, 'join-given-up'), mode: 'alone' }, async (_, writer) => {
    const freed = await release(tx, entry);
    const states = entry.isNew ? await stateRows(tx, entry.personId) : [];
    await writer.replace(
      'person state',
      states.map((rowId) => ({ rowId, values: { state: 'ended' } })),
    );
    return { entry: true, seats: freed, people: states.length > 0 ? [entry.personId] : [] };
  });
}

const changeOf = ({ personId, groupIds }: Entry, kind: 'join-paid' | 'join-given-up') => ({
  requestId: randomUUID(),
  kind,
  undoOf: [] as const,
  summary: summaryOf({ groups: groupIds.slice(0, 3), people: [personId], counts: { people: 1 } }),
  groups: groupIds,
});

/** The row in which it stands that somebody's account waits. */
const stateRows = async (tx: Transaction, personId: number): Promise<number[]> =>
  (
    await tx
      .select({ row_id: tables.personState.rowId })
      .from(tables.personState)
      .where(and(eq(tables.personState.personId, personId), isNull(tables.personState.untilAt), eq(tables.personState.state, 'asking')))
  ).map(({ row_id }) => row_id);

/** A way in, as an answer of the payment service finds it. The caller holds the roster lock alone. */
export async function payableEntry(tx: Transaction, { now, settings }: PaymentDeps, entryId: string): Promise<Payable> {
  const entry = found(await entryOf(tx, entryId, sql`for update`));
  const today = await todayOf(tx, now());
  const code = await maybeCodeById(tx, entry.codeId);
  const tell = (kind: 'let in' | 'turned away', words: string): Promise<unknown> => tellJoiner(tx, settings.publicUrl, entry, kind, words);
  return {
    state: entry.state,
    async canTakeEffect() {
      if (!code) return false;
      const state = await maybeRow<{ state: string }>(
        tx,
        sql`select state from person_state where person_id = ${entry.personId} and until_at is null and state in ('asking', 'active')`,
      );
      return state !== null && (entry.heldUntil !== null || closedBecause(code, now()) === null);
    },
    async paid() {
      if (!code) return;
      if (entry.heldUntil === null) await useUp(tx, code);
      await tx.update(tables.paidEntry).set({ state: 'paid', heldUntil: null }).where(eq(tables.paidEntry.id, entry.id));
      await makeInvoice(tx, { entryId: entry.id }, { seats: 1, net: entry.net, vat: entry.vat, word: null, isCredit: false });
      await recordChange(tx, { personId: null, today }, { ...changeOf(entry, 'join-paid'), mode: 'alone' }, (_, writer) =>
        comeIn(tx, writer, entry, code, { now: now(), today }),
      );
      await tell('let in', '');
    },
    refused: () => announce(tx, { topics: ['session'], groups: [], personId: entry.personId }),
    async refunded() {
      if (entry.state === 'paying') await endEntry(tx, entry, today);
      await tell('turned away', 'Your payment came when no place was left. The money goes back to you.');
    },
  };
}

/** Somebody who has paid is in: with the seats that were held for them, where the code leads. */
async function comeIn(
  tx: Transaction,
  writer: ChangeWriter,
  entry: Entry,
  code: StandingCode,
  { now, today }: { now: Date; today: Day },
): ReturnType<typeof letIn> {
  const tree = await wholeTree(tx);
  const groups = entry.groupIds.filter((id) => code.group_ids.includes(id) && tree.has(id));
  const has = new Set(
    (
      await tx
        .select({ id: tables.membership.groupId })
        .from(tables.membership)
        .where(and(eq(tables.membership.personId, entry.personId), isNull(tables.membership.untilAt)))
    ).map(({ id }) => id),
  );
  if (entry.isNew) {
    await beginAccount(tx, writer, { tree }, { person_id: entry.personId, group_id: groups[0] ?? 0, id_number: entry.idNumber });
    await tx
      .update(tables.person)
      .set({ signedInAt: sql`now()`, activeAt: sql`now()` })
      .where(eq(tables.person.id, entry.personId));
  }
  await tx.execute(sql`
    with held as (delete from held_seat where entry_id = ${entry.id} returning licence_id, group_id)
    insert into seat (licence_id, person_id, group_id, got_at, change_id) select licence_id, ${entry.personId}, group_id, now(), ${writer.changeId}::bigint from held
    on conflict (licence_id, person_id) where until_at is null do nothing`);
  await tx.execute(
    sql`insert into join_code_use (code_id, person_id, at, answers) values (${code.id}, ${entry.personId}, ${now.toISOString()}, ${JSON.stringify(entry.answers)}::jsonb)
        on conflict (code_id, person_id) do update set at = excluded.at, answers = excluded.answers`,
  );
  return letIn(
    tx,
    writer,
    code,
    groups.filter((id) => !has.has(id)),
    entry.personId,
    today,
  );
}

async function tellJoiner(
  tx: Transaction,
  publicUrl: string,
  { personId, groupIds }: Entry,
  kind: 'let in' | 'turned away',
  words: string,
): Promise<void> {
  const person = await maybeRow<{ name: string; email: string }>(
    tx,
    sql`select given_name as name, email::text as email from personal_now where person_id = ${personId} and email is not null`,
  );
  if (!person) return;
  await writeLetters(tx, publicUrl, kind, [
    {
      personId,
      address: person.email,
      groupId: groupIds[0] ?? null,
      values: { name: person.name, words, link: `${publicUrl}/sign-in` },
    },
  ]);
}
