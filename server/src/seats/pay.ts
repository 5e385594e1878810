import { randomUUID } from 'node:crypto';
import { dayOfMoment, isOrderOver, stepPayment, stepOrder, type PaymentAnswer } from '@gate-roster/core';
import { and, eq, sql } from 'drizzle-orm';
import { z } from 'zod';
import type { SignedIn } from '../accounts/actor.ts';
import { summaryOf } from '../changes/plan.ts';
import { recordChange } from '../changes/record.ts';
import { withRosterLock } from '../changes/roster-lock.ts';
import { firstOf, maybeRow, onlyOne, rows, type Transaction } from '../database/connect.ts';
import * as tables from '../database/schema.ts';
import { wholeTree } from '../groups/queries.ts';
import type { Deps } from '../http/deps.ts';
import { found, notFound, ProblemError } from '../http/problem.ts';
import { answerBell, ringForWork } from '../jobs/bell.ts';
import { announce } from '../live/announce.ts';
import { payableEntry } from '../entry/paid-entry.ts';
import { askForPage, askService, type PaymentDeps } from './ask-payment-service.ts';
import { makeInvoice } from './invoices.ts';
import { licenceName, maybeOrder, mayWithOrder, type OrderRow, takeStep } from './orders.ts';
import type { Payable } from './payable.ts';
import { alterSeats, canTakeEffect, lengthen } from './take-effect.ts';
import { tellOrderer } from './tell-orders.ts';

/* Payments: what we ask of the service, and what it answers. No card is ever seen here. */

const refundsAtOnce = 20;

/**
 * Begins one try at paying an order. The same request id is the same try.
 * @returns The page of the service on which it is paid.
 * @throws ProblemError `not-found` for who orders no seats there, `blocked` when the order cannot be paid now, `no-payment`.
 */
export async function beginPayment(deps: PaymentDeps, actor: SignedIn, orderId: number, requestId: string): Promise<string> {
  const { db, settings } = deps;
  const asked = await db.transaction(async (tx) => {
    const order = found(await maybeOrder(tx, orderId, sql`for update`));
    const tree = await wholeTree(tx);
    const may = mayWithOrder(actor, tree.has(order.groupId) ? tree.path(order.groupId) : [], order);
    if (!may.see) throw notFound();
    const known = await maybeRow<{ mine: boolean }>(tx, sql`select order_id = ${orderId} as mine from payment where id = ${requestId}`);
    if (known && !known.mine) throw new ProblemError('request-id-reused');
    if (!may.pay && !known) throw new ProblemError('blocked');
    if (!known) {
      await beginTry(tx, order, requestId);
      await takeStep(tx, order, 'pay', { byId: actor.personId });
      await announce(tx, { topics: ['groups'], groups: [order.groupId] });
    }
    const name = await licenceName(tx, order.licenceId);
    return { amount: order.net + order.vat, currency: order.currency, title: `${name}, ${order.seats} seats`, groupId: order.groupId };
  });
  return askForPage(deps, {
    id: requestId,
    amount: asked.amount,
    currency: asked.currency,
    title: asked.title,
    payee: actor.organisation,
    returnUrl: `${settings.publicUrl}/seats/${asked.groupId}?view=orders`,
  });
}

const beginTry = async (tx: Transaction, order: OrderRow, id: string): Promise<void> => {
  await tx
    .insert(tables.payment)
    .values({ id, orderId: order.id, amount: order.net + order.vat, currency: order.currency, state: 'begun', begunAt: sql`now()` });
};

/** Asks the payer of an earlier payment for an order that nobody tried to pay yet, without a page. @throws ProblemError `no-payment`. */
export async function charge(deps: PaymentDeps, orderId: number, mandate: string): Promise<void> {
  const id = randomUUID();
  const order = await deps.db.transaction(async (tx) => {
    const standing = found(await maybeOrder(tx, orderId, sql`for update`));
    if (await firstOf(tx.select({ id: tables.payment.id }).from(tables.payment).where(eq(tables.payment.orderId, orderId)))) return null;
    await beginTry(tx, standing, id);
    await takeStep(tx, standing, 'pay', { byId: null });
    return standing;
  });
  if (!order) return;
  await askService(deps, '/charges', z.unknown(), { id, amount: order.net + order.vat, currency: order.currency, mandate });
}

export interface Answered extends PaymentAnswer {
  id: string;
  payment: string;
  mandate: string | null;
}

/**
 * Takes an answer of the service. Each counts once, however often and in whatever order they come; what is paid for begins with the
 * first that says paid. An answer about a payment that is not known here is an error of the service's.
 * @throws ProblemError `not-found`.
 */
export async function takeAnswer(deps: PaymentDeps, answer: Answered): Promise<void> {
  const { db, log } = deps;
  await withRosterLock(db, 'alone', async (tx) => {
    const payment = found(
      await firstOf(
        tx
          .select({
            id: tables.payment.id,
            orderId: tables.payment.orderId,
            entryId: tables.payment.entryId,
            amount: tables.payment.amount,
            currency: tables.payment.currency,
            state: tables.payment.state,
          })
          .from(tables.payment)
          .where(eq(tables.payment.id, answer.payment))
          .for('update'),
      ),
    );
    const payable = await (payment.entryId === null
      ? payableOrder(tx, deps, payment.orderId ?? 0)
      : payableEntry(tx, deps, payment.entryId));
    const said = stepPayment(payment, payable.state, answer);
    // What was bought may be gone by now: then the money goes back.
    const does = said === 'paid' && !(await payable.canTakeEffect()) ? 'refund' : said;
    const taken = await tx.execute(sql`
      insert into payment_answer (id, payment_id, outcome, amount, currency, received_at, did)
      values (${answer.id}, ${payment.id}, ${answer.outcome}, ${answer.amount}, ${answer.currency}, now(), ${does}) on conflict do nothing`);
    if (taken.rowCount !== 1 || does === 'ignore') return;
    if (does === 'wrong') {
      log.warn({ payment: payment.id }, 'the payment service named another amount or currency');
      return;
    }
    const state = ({ paid: 'paid', refuse: 'refused', refund: 'refunded' } as const)[does];
    await tx.update(tables.payment).set({ state, mandate: answer.mandate }).where(eq(tables.payment.id, payment.id));
    if (does === 'paid') await payable.paid();
    if (does === 'refuse') await payable.refused();
    if (does === 'refund') {
      await payable.refunded();
      await tx.insert(tables.refund).values({ id: randomUUID(), paymentId: payment.id, amount: payment.amount, madeAt: sql`now()` });
      await ringForWork(tx);
    }
  });
}

async function payableOrder(tx: Transaction, { now, settings }: PaymentDeps, orderId: number): Promise<Payable> {
  const order = found(await maybeOrder(tx, orderId, sql`for update`));
  const tell = async (): Promise<void> => {
    await tellOrderer(tx, order.id, settings.publicUrl);
    await announce(tx, { topics: ['groups'], groups: [order.groupId] });
  };
  return {
    state: order.state,
    canTakeEffect: () => canTakeEffect(tx, order),
    async paid() {
      await takeEffect(tx, order, dayOfMoment(now(), await timeZone(tx)));
      await tell();
    },
    async refused() {
      const another = await firstOf(
        tx
          .select({ id: tables.payment.id })
          .from(tables.payment)
          .where(and(eq(tables.payment.orderId, order.id), eq(tables.payment.state, 'begun'))),
      );
      if (!another && stepOrder(order.state, 'answer refused')) await takeStep(tx, order, 'answer refused', { byId: null });
      // Of an order that is over, a refusal tells nobody anything.
      if (!isOrderOver(order.state)) await tell();
    },
    async refunded() {
      if (!isOrderOver(order.state)) await takeStep(tx, order, 'give up', { byId: null });
      await tell();
    },
  };
}

/** What was paid for begins: seats, or months; and there is an invoice. A change that nobody undoes. */
async function takeEffect(tx: Transaction, order: OrderRow, today: string): Promise<void> {
  await takeStep(tx, { id: order.id, state: 'paying' }, 'answer paid', { byId: null });
  await makeInvoice(tx, { orderId: order.id }, { seats: order.seats, net: order.net, vat: order.vat, word: null, isCredit: false });
  const tree = await wholeTree(tx);
  const name = await licenceName(tx, order.licenceId);
  const groups = tree.has(order.groupId) ? [order.groupId] : [];
  const counts = order.what === 'seats' ? { seats: order.seats } : { seats: order.seats, months: order.months };
  await recordChange(
    tx,
    { personId: order.orderedBy, today },
    {
      requestId: randomUUID(),
      mode: 'alone',
      kind: 'seats-paid',
      undoOf: [],
      summary: summaryOf({ groups: [order.groupId], names: { before: '', after: name }, counts }),
      groups,
    },
    (_, writer) =>
      order.what === 'seats'
        ? alterSeats(tx, writer, order, groups.length > 0 ? tree.path(order.groupId) : [], order.seats)
        : lengthen(tx, writer, order, today),
  );
}

const timeZone = async (tx: Transaction): Promise<string> =>
  (await onlyOne(tx.select({ zone: tables.organisation.timeZone }).from(tables.organisation))).zone;

/** Sends money back until the service has taken it. @returns How to stop. */
export function startRefunding(deps: PaymentDeps & Pick<Deps, 'settings'>): () => Promise<void> {
  return answerBell(deps.settings.databaseUrl, deps.log, () => sendRefunds(deps));
}

export async function sendRefunds(deps: PaymentDeps): Promise<void> {
  if (deps.settings.paymentUrl === null) return;
  const waiting = await rows<{ id: string; amount: number; currency: string; payment: string }>(
    deps.db,
    sql`
    select r.id, r.amount, p.currency, r.payment_id as payment from refund r join payment p on p.id = r.payment_id
    where r.taken_at is null order by r.made_at limit ${refundsAtOnce}`,
  );
  // The service knows a refund by its number: one that is sent twice is one.
  for (const { id, amount, currency, payment } of waiting) {
    await askService(deps, '/refunds', z.unknown(), { id, payment, amount, currency });
    await deps.db
      .update(tables.refund)
      .set({ takenAt: sql`now()` })
      .where(eq(tables.refund.id, id));
  }
}
