import { isOrderOver, may, type OrderEvent, type OrderState, type Price, priceOfSeats, stepOrder } from '@gate-roster/core';
import { desc, eq, sql, type SQL } from 'drizzle-orm';
import type { SignedIn } from '../accounts/actor.ts';
import { maybeRow, oneRow, onlyOne, type Queryable, rows, type Transaction } from '../database/connect.ts';
import * as tables from '../database/schema.ts';

/** An order as it stands. Money is in minor units of its currency. */
export interface OrderRow {
  id: number;
  licenceId: number;
  groupId: number;
  what: 'seats' | 'months';
  seats: number;
  months: number;
  orderedBy: number | null;
  price: number;
  vatRate: number;
  currency: string;
  net: number;
  vat: number;
  state: OrderState;
}

const columns = sql`o.id, o.licence_id as "licenceId", o.group_id as "groupId", o.what, o.seats, o.months, o.ordered_by as "orderedBy", o.price,
  o.vat_rate as "vatRate", o.currency, o.net, o.vat, o.state`;

/** The last name of a licence, also when it has ended. */
export async function licenceName(db: Queryable, licenceId: number): Promise<string> {
  const { licenceVersion } = tables;
  const named = db.select({ name: licenceVersion.name }).from(licenceVersion).where(eq(licenceVersion.licenceId, licenceId));
  return (await onlyOne(named.orderBy(desc(licenceVersion.rowId)).limit(1))).name;
}

export const maybeOrder = (db: Queryable, orderId: number, lock: SQL = sql``): Promise<OrderRow | null> =>
  maybeRow<OrderRow>(db, sql`select ${columns} from seat_order o where o.id = ${orderId} ${lock}`);

/** What is needed of the licence and the site to name a price. */
export interface Priced {
  price: number | null;
  needsApproval: boolean;
  renewMonths: number | null;
  lastDay: string | null;
  vatRate: number;
  currency: string;
}

export const pricedLicence = (db: Queryable, licenceId: number): Promise<Priced | null> =>
  maybeRow<Priced>(
    db,
    sql`
    select l.price, l.needs_approval as "needsApproval", l.renew_months as "renewMonths", l.last_day::text as "lastDay", b.vat_rate as "vatRate", b.currency
    from licence_now l cross join billing b where l.licence_id = ${licenceId}`,
  );

/** What an act on an order is asked of: orders are for a group, and follow it. */
export function mayWithOrder(actor: SignedIn, path: readonly number[], order: Pick<OrderRow, 'state' | 'orderedBy'>) {
  const orders = actor.role === 'administrator' || (path.length > 0 && may(actor, 'orderSeats', { path }));
  return {
    see: orders,
    pay: orders && stepOrder(order.state, 'pay') !== null,
    decide: actor.role === 'administrator' && order.state === 'asked',
    giveUp: orders && !isOrderOver(order.state),
    credit: actor.role === 'administrator' && order.state === 'paid',
  };
}

/** @returns The order's number. */
export async function beginOrder(
  tx: Transaction,
  order: {
    licenceId: number;
    groupId: number;
    what: OrderRow['what'];
    seats: number;
    months: number;
    orderedBy: number | null;
    word: string | null;
    state: OrderState;
  } & Pick<Priced, 'vatRate' | 'currency'> & { price: number },
): Promise<number> {
  const { net, vat } = priceOfOrder(order);
  const { id } = await onlyOne(
    tx
      .insert(tables.seatOrder)
      .values({
        licenceId: order.licenceId,
        groupId: order.groupId,
        what: order.what,
        seats: order.seats,
        months: order.months,
        orderedBy: order.orderedBy,
        asking: order.word,
        price: order.price,
        vatRate: order.vatRate,
        currency: order.currency,
        net,
        vat,
        state: order.state,
        askedAt: sql`now()`,
      })
      .returning({ id: tables.seatOrder.id }),
  );
  await tx.execute(
    sql`insert into order_step (order_id, state, at, by_id) values (${id}, ${order.state}, clock_timestamp(), ${order.orderedBy}::bigint)`,
  );
  return id;
}

export const priceOfOrder = ({ seats, price, vatRate }: Pick<OrderRow, 'seats' | 'price' | 'vatRate'>): Price =>
  priceOfSeats(seats, price, vatRate);

/** Puts an order into its next state. The caller has its row locked. @returns That state; null: this cannot happen to it any more. */
export async function takeStep(
  tx: Transaction,
  order: Pick<OrderRow, 'id' | 'state'>,
  event: OrderEvent,
  by: { byId: number | null; word?: string | null },
): Promise<OrderState | null> {
  const next = stepOrder(order.state, event);
  if (next === null) return null;
  if (next === order.state) return next;
  await tx.update(tables.seatOrder).set({ state: next }).where(eq(tables.seatOrder.id, order.id));
  await tx.execute(
    sql`insert into order_step (order_id, state, at, by_id, word) values (${order.id}, ${next}, clock_timestamp(), ${by.byId}::bigint, ${by.word ?? null})`,
  );
  return next;
}

/** Limits that stand on the way from a licence's home down to a group, both included. */
export const limitsOnPath = (
  db: Queryable,
  licenceId: number,
  path: readonly number[],
): Promise<{ rowId: number; groupId: number; most: number }[]> =>
  rows(
    db,
    sql`
    select row_id as "rowId", group_id as "groupId", most from seat_limit
    where licence_id = ${licenceId} and until_at is null and group_id in (select value::bigint from jsonb_array_elements_text(${JSON.stringify(path)}::jsonb)) order by row_id`,
  );

/** Seats of an order that were given back since. */
export async function creditedSeats(db: Queryable, orderId: number): Promise<number> {
  const { seats } = await oneRow<{ seats: number }>(
    db,
    sql`select coalesce(sum(seats), 0)::int as seats from invoice where order_id = ${orderId} and credits is not null`,
  );
  return seats;
}

/** Groups whose orders and seats are in the books of a branch; to an administrator at the top also those that are gone. */
export const groupsInBooks = ({ role }: SignedIn, groupId: number): SQL => sql`
  select group_id from group_branch where ancestor_id = ${groupId}
  union select g.id from groups g where ${role === 'administrator'}::boolean and not exists (select 1 from group_now n where n.id = g.id)
    and exists (select 1 from group_now t where t.id = ${groupId} and t.parent_id is null)`;
