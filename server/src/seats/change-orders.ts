import { randomUUID } from 'node:crypto';
import { may, noEffects, priceOfSeats } from '@gate-roster/core';
import { and, eq, sql } from 'drizzle-orm';
import { type Plan, type PlanContext, type Planner, summaryOf } from '../changes/plan.ts';
import { firstOf, oneRow, type Queryable } from '../database/connect.ts';
import * as tables from '../database/schema.ts';
import { found, notFound } from '../http/problem.ts';
import { ringForWork } from '../jobs/bell.ts';
import { seatsWith, standingLicence } from './change-licences.ts';
import { makeInvoice } from './invoices.ts';
import type { Otherwise } from './load-seats.ts';
import {
  beginOrder,
  creditedSeats,
  licenceName,
  limitsOnPath,
  maybeOrder,
  mayWithOrder,
  type OrderRow,
  pricedLicence,
  takeStep,
} from './orders.ts';
import { tellOrderer, tellWhoDecides } from './tell-orders.ts';
import { alterSeats } from './take-effect.ts';

/** Orders more seats of a licence for a group. Nothing begins before they are paid. */
export const planOrderSeats: Planner<'order-seats'> = async (context, { licenceId, groupId, seats, word }) => {
  const { db, tree } = context;
  const licence = await standingLicence(db, licenceId);
  if (!licence || !tree.has(groupId) || !tree.path(groupId).includes(licence.group_id)) throw notFound();
  return planOrder(context, { licenceId, groupId, what: 'seats', seats, months: 0, word, name: licence.name });
};

/** Orders the months by which a licence is renewed, for all the seats that it has. */
export const planOrderRenewal: Planner<'order-renewal'> = async (context, { licenceId, word }) => {
  const licence = found(await standingLicence(context.db, licenceId));
  const months = (await pricedLicence(context.db, licenceId))?.renewMonths ?? 0;
  const { group_id: groupId, seats, name } = licence;
  return planOrder(context, { licenceId, groupId, what: 'months', seats, months, word, name });
};

async function planOrder(
  context: PlanContext,
  { name, ...order }: Pick<OrderRow, 'licenceId' | 'groupId' | 'what' | 'seats' | 'months'> & { word: string | null; name: string },
): Promise<Plan> {
  const { db, actor, tree, today } = context;
  if (!tree.has(order.groupId) || !may(actor, 'orderSeats', { path: tree.path(order.groupId) })) throw notFound();
  const priced = found(await pricedLicence(db, order.licenceId));
  const { price, vatRate, currency } = priced;
  const effects = noEffects();
  const isOver = order.what === 'seats' && priced.lastDay !== null && priced.lastDay < today;
  const lacksMonths = order.what === 'months' && (order.months === 0 || priced.lastDay === null);
  if (price === null || lacksMonths) effects.conflicts.push({ code: 'no price', blocks: true, count: 1 });
  if (isOver) effects.conflicts.push({ code: 'licence over', blocks: true, count: 1 });
  const state = priced.needsApproval && actor.role !== 'administrator' ? ('asked' as const) : ('approved' as const);
  return {
    effects,
    groups: [order.groupId],
    summary: orderSummary(order.groupId, name, order.seats),
    async write(tx) {
      const values = { ...order, orderedBy: actor.personId, state, price: price ?? 0, vatRate, currency };
      const orderId = await beginOrder(tx, values);
      if (state === 'asked') await tellWhoDecides(tx, orderId, context.publicUrl);
      return {};
    },
  };
}

/** An administrator says yes or no to an order that was asked for. */
export const planDecideOrder: Planner<'decide-order'> = async (context, { orderId, approve, word }) => {
  const { order, name, may: mayNow } = await orderOf(context, orderId);
  const effects = noEffects();
  if (!mayNow.decide) {
    if (context.actor.role !== 'administrator') throw notFound();
    effects.conflicts.push({ code: 'decided since', blocks: true, count: 1 });
  }
  return {
    effects,
    groups: [order.groupId],
    summary: { ...orderSummary(order.groupId, name, order.seats), fields: [approve ? 'approved' : 'refused'] },
    async write(tx) {
      await takeStep(tx, order, approve ? 'approve' : 'decline', { byId: context.actor.personId, word });
      await tellOrderer(tx, orderId, context.publicUrl);
      return {};
    },
  };
};

/** Nothing more is paid for an order; money that still arrives goes back. */
export const planGiveUpOrder: Planner<'give-up-order'> = async (context, { orderId }) => {
  const { order, name, may: mayNow } = await orderOf(context, orderId);
  const effects = noEffects();
  if (!mayNow.giveUp) effects.conflicts.push({ code: 'decided since', blocks: true, count: 1 });
  return {
    effects,
    groups: [order.groupId],
    summary: orderSummary(order.groupId, name, order.seats),
    async write(tx) {
      await takeStep(tx, order, 'give up', { byId: context.actor.personId });
      return {};
    },
  };
};

/** Takes seats of a paid order back that nobody uses, with a credit note; the money goes back. */
export const planCreditOrder: Planner<'credit-order'> = async (context, { orderId, seats, word }) => {
  const { db, tree } = context;
  const { order, name, may: mayNow } = await orderOf(context, orderId);
  if (!mayNow.credit || order.what !== 'seats') throw notFound();
  const before = await creditedSeats(db, orderId);
  const path = tree.has(order.groupId) ? tree.path(order.groupId) : [];
  const free = await freeSeats(db, order.licenceId, path);
  const effects = noEffects();
  const most = Math.max(0, Math.min(free, order.seats - before));
  if (seats > most) effects.conflicts.push({ code: 'not free', blocks: true, count: most });
  else effects.seats = await seatsWith(context, withMore(order.licenceId, path, -seats), {});
  return {
    effects,
    groups: [order.groupId],
    summary: orderSummary(order.groupId, name, seats),
    async write(tx, writer) {
      // Each credit is the difference of two rounded sums, so that all of them together are the whole order.
      const sum = (count: number) => priceOfSeats(count, order.price, order.vatRate);
      const [now, then] = [sum(before + seats), sum(before)];
      const amounts = { net: now.net - then.net, vat: now.vat - then.vat };
      await makeInvoice(tx, { orderId: order.id }, { seats, ...amounts, word, isCredit: true });
      const paid = await firstOf(
        tx
          .select({ id: tables.payment.id })
          .from(tables.payment)
          .where(and(eq(tables.payment.orderId, order.id), eq(tables.payment.state, 'paid'))),
      );
      if (paid && amounts.net + amounts.vat > 0) {
        await tx
          .insert(tables.refund)
          .values({ id: randomUUID(), paymentId: paid.id, amount: amounts.net + amounts.vat, madeAt: sql`now()` });
        await ringForWork(tx);
      }
      return alterSeats(tx, writer, order, path, -seats);
    },
  };
};

/** Licences and limits with more seats of one, bought for the group at the end of a path: limits on the way down rise with them. */
export const withMore = (licenceId: number, path: readonly number[], more: number): Otherwise => ({
  licences: (all) => all.map((licence) => (licence.id === licenceId ? { ...licence, seats: licence.seats + more } : licence)),
  limits: (all) =>
    all.map((limit) => (limit.licenceId === licenceId && path.includes(limit.groupId) ? { ...limit, most: limit.most + more } : limit)),
});

const orderSummary = (groupId: number, name: string, seats: number) =>
  summaryOf({ groups: [groupId], names: { before: '', after: name }, counts: { seats } });

/** An order with what the actor may do with it. @throws ProblemError `not-found` for who orders no seats there. */
async function orderOf({ db, actor, tree }: PlanContext, orderId: number) {
  const order = found(await maybeOrder(db, orderId));
  const may = mayWithOrder(actor, tree.has(order.groupId) ? tree.path(order.groupId) : [], order);
  if (!may.see) throw notFound();
  const name = await licenceName(db, order.licenceId);
  return { order, name, may };
}

/** The smallest remainder on the way from a licence's home down to a group. */
async function freeSeats(db: Queryable, licenceId: number, path: readonly number[]): Promise<number> {
  const licence = await standingLicence(db, licenceId);
  if (!licence) return 0;
  const used = async (groupId: number): Promise<number> =>
    (
      await oneRow<{ used: number }>(
        db,
        sql`
        select count(*)::int as used from (select licence_id, group_id from seat where until_at is null union all select licence_id, group_id from held_seat) s
        join group_branch b on b.group_id = s.group_id and b.ancestor_id = ${groupId} where s.licence_id = ${licenceId}`,
      )
    ).used;
  const remainders = [licence.seats - (await used(licence.group_id))];
  for (const { groupId, most } of await limitsOnPath(db, licenceId, path)) remainders.push(most - (await used(groupId)));
  return Math.min(...remainders);
}
