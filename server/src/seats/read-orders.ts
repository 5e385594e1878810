import type { SeatOrder } from '@gate-roster/contract';
import { isOrderOver, orderStates, type PaymentState } from '@gate-roster/core';
import { sql } from 'drizzle-orm';
import type { SignedIn } from '../accounts/actor.ts';
import { iso, type Queryable, rows, texts } from '../database/connect.ts';
import { wholeTree } from '../groups/queries.ts';
import type { Table } from '../http/table.ts';
import { seenPerson } from '../people/scope.ts';
import { groupsInBooks, mayWithOrder, type OrderRow } from './orders.ts';

const ordersAtOnce = 50;

type Found = Omit<OrderRow, 'price' | 'vatRate'> & {
  licence: string;
  group: string;
  orderer: string | null;
  asking: string | null;
  askedAt: string;
  payment: PaymentState | null;
  credited: number;
  papers: number[];
};

/** Orders for groups of a branch, newest first. `limit` null: all. */
export async function ordersIn(
  db: Queryable,
  actor: SignedIn,
  groupId: number,
  { list, after = null, limit = ordersAtOnce }: { list: 'open' | 'all'; after?: number | null; limit?: number | null },
): Promise<{ orders: SeatOrder[]; next: number | null }> {
  const tree = await wholeTree(db);
  const over = orderStates.filter(isOrderOver);
  const found = await rows<Found>(
    db,
    sql`
    select o.id, o.licence_id as "licenceId", o.group_id as "groupId", o.what, o.seats, o.months, o.ordered_by as "orderedBy", o.currency, o.net, o.vat, o.state, o.asking,
      o.asked_at as "askedAt", (select name from licence_version v where v.licence_id = o.licence_id order by row_id desc limit 1) as licence, (select name from group_version v where v.group_id = o.group_id order by row_id desc limit 1) as "group",
      (select nullif(trim(n.given_name || ' ' || n.family_name), '') from personal_now n where n.person_id = o.ordered_by and ${seenPerson(actor, sql`n.person_id`)}) as orderer,
      (select y.state from payment y where y.order_id = o.id order by y.begun_at desc limit 1) as payment,
      (select coalesce(sum(i.seats), 0)::int from invoice i where i.order_id = o.id and i.credits is not null) as credited,
      array(select i.number from invoice i where i.order_id = o.id order by 1) as papers
    from seat_order o
    where o.group_id in (${groupsInBooks(actor, groupId)}) and (${list === 'all'} or o.state <> all(${texts(over)})) and ${after === null ? sql`true` : sql`o.id < ${after}`}
    order by o.id desc ${limit === null ? sql`` : sql`limit ${limit + 1}`}`,
  );
  const page = limit === null ? found : found.slice(0, limit);
  return {
    orders: page.map(({ licenceId, groupId: forId, orderedBy, licence, group, orderer, askedAt, ...order }): SeatOrder => {
      const { see: _see, ...may } = mayWithOrder(actor, tree.has(forId) ? tree.path(forId) : [], { state: order.state, orderedBy });
      return {
        ...order,
        licence: { id: licenceId, name: licence },
        group: { id: forId, name: group },
        orderedBy: orderer,
        askedAt: iso(askedAt),
        total: order.net + order.vat,
        may: { ...may, credit: may.credit && order.what === 'seats' && order.credited < order.seats },
      };
    }),
    next: page.length < found.length ? (page.at(-1)?.id ?? null) : null,
  };
}

/** Orders as a table; amounts in the currency's minor unit, so that they stay exact. */
export const ordersTable = (orders: readonly SeatOrder[]): Table => ({
  name: 'Orders',
  head: [
    'Order',
    'Asked on',
    'Licence',
    'Group',
    'What',
    'Seats',
    'Months',
    'Ordered by',
    'State',
    'Net (minor units)',
    'VAT (minor units)',
    'Total (minor units)',
    'Currency',
    'Seats credited',
    'Invoices',
  ],
  lines: orders.map((order) => [
    order.id,
    order.askedAt.slice(0, 10),
    order.licence.name,
    order.group.name,
    order.what,
    order.seats,
    order.months,
    order.orderedBy,
    order.state,
    order.net,
    order.vat,
    order.total,
    order.currency,
    order.credited,
    order.papers.join(' '),
  ]),
});
