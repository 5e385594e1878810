import { type OrderState, priceOfSeats } from '@gate-roster/core';
import type { Transaction } from '@gate-roster/server';
import { randomUUID } from 'node:crypto';
import { sql } from 'drizzle-orm';
import type { Named } from './people.ts';
import type { PlacedGroup } from './world.ts';

/* Seats that partner crews ordered in the last half year: paid, refused, given up, credited, and two that wait. */

const currency = 'EUR';
const vatRate = 2000;
const seller = {
  currency,
  vat_rate: vatRate,
  seller_name: 'Brannoch Isles Rescue',
  seller_address: 'Harbour House\n2 Slip Lane\nGullhaven, North Reach',
  vat_number: 'BI 118 402',
  foot: 'A registered volunteer service of the Brannoch Isles.',
};
/** In minor units, by licence. */
const prices = [4500, 3200];

interface OrderPlan {
  licence: number;
  group: string;
  seats: number;
  daysAgo: number;
  asking: string | null;
  /** What became of it, a day after each other. */
  steps: OrderState[];
  payment: 'paid' | 'refused' | 'refunded' | null;
  word?: string;
  /** Seats that a credit note took back so many days ago. */
  credited?: { seats: number; daysAgo: number };
}

const plans: OrderPlan[] = [
  {
    licence: 1,
    group: 'Partner crews/Solan Wind Works',
    seats: 12,
    daysAgo: 150,
    asking: 'For the summer crew',
    steps: ['asked', 'approved', 'paying', 'paid'],
    payment: 'paid',
  },
  {
    licence: 2,
    group: 'Partner crews/Brannoch Ferries',
    seats: 24,
    daysAgo: 74,
    asking: null,
    steps: ['approved', 'paying', 'paid'],
    payment: 'paid',
    credited: { seats: 4, daysAgo: 20 },
  },
  {
    licence: 1,
    group: 'Partner crews/Island Harbours',
    seats: 60,
    daysAgo: 70,
    asking: 'All pilots at once',
    steps: ['asked', 'refused'],
    payment: null,
    word: 'Please order by crew',
  },
  {
    licence: 1,
    group: 'Partner crews/Island Harbours',
    seats: 6,
    daysAgo: 62,
    asking: 'Pilots of the north quay',
    steps: ['asked', 'approved', 'paying', 'paid'],
    payment: 'paid',
  },
  {
    licence: 1,
    group: 'Partner crews/Island Harbours',
    seats: 8,
    daysAgo: 52,
    asking: null,
    steps: ['approved', 'paying', 'given up'],
    payment: 'refunded',
  },
  {
    licence: 2,
    group: 'Partner crews/Brannoch Ferries',
    seats: 6,
    daysAgo: 3,
    asking: null,
    steps: ['approved', 'paying', 'approved'],
    payment: 'refused',
  },
  {
    licence: 1,
    group: 'Partner crews/Solan Wind Works',
    seats: 8,
    daysAgo: 1,
    asking: 'Eight join us in the new year',
    steps: ['asked'],
    payment: null,
  },
];

/** After seats and before the log. Licences had fewer seats before each order that was paid. */
export async function loadOrders(
  tx: Transaction,
  groups: readonly PlacedGroup[],
  { administrator, leaders }: Named,
  now: Date,
): Promise<void> {
  const at = (daysAgo: number, hours = 0): string => new Date(now.getTime() - daysAgo * 86_400_000 + hours * 3_600_000).toISOString();
  const groupAt = (path: string): number => groups.find((group) => group.path === path)?.id ?? 0;
  await tx.execute(sql`
    update billing set currency = ${currency}, vat_rate = ${vatRate}, seller_name = ${seller.seller_name}, seller_address = ${seller.seller_address},
      vat_number = ${seller.vat_number}, foot = ${seller.foot}`);
  for (const [index, price] of prices.entries())
    await tx.execute(sql`
      update licence_version set price = ${price}, needs_approval = ${index === 0}, renew_months = ${index === 0 ? null : 12}, idle_days = ${index === 0 ? null : 120}, id_number = ${`BR-${26 + index}`} where licence_id = ${index + 1}`);
  let paper = 0;
  for (const plan of plans) {
    const groupId = groupAt(plan.group);
    const orderer = leaders.find((leader) => leader.groupId === groupId)?.person.id ?? administrator.id;
    const price = prices[plan.licence - 1] ?? 0;
    const { net, vat } = priceOfSeats(plan.seats, price, vatRate);
    const [made] = (
      await tx.execute(sql`
      insert into seat_order (licence_id, group_id, what, seats, months, ordered_by, asking, price, vat_rate, currency, net, vat, state, asked_at)
      values (${plan.licence}, ${groupId}, 'seats', ${plan.seats}, 0, ${orderer}, ${plan.asking}, ${price}, ${vatRate}, ${currency}, ${net}, ${vat}, ${plan.steps.at(-1)}, ${at(plan.daysAgo)}) returning id`)
    ).rows as { id: string }[];
    const id = Number(made?.id ?? 0);
    for (const [step, state] of plan.steps.entries()) {
      const by =
        state === 'paid' || (state === 'approved' && step > 1)
          ? null
          : state === 'approved' || state === 'refused'
            ? administrator.id
            : orderer;
      await tx.execute(sql`
        insert into order_step (order_id, state, at, by_id, word) values (${id}, ${state}, ${at(plan.daysAgo, step * 4)}, ${by}::bigint, ${state === 'refused' ? (plan.word ?? null) : null})`);
    }
    if (plan.payment === null) continue;
    const payment = randomUUID();
    const paidAt = at(plan.daysAgo, (plan.steps.length - 1) * 4);
    await tx.execute(
      sql`insert into payment (id, order_id, amount, currency, state, begun_at) values (${payment}, ${id}, ${net + vat}, ${currency}, ${plan.payment}, ${at(plan.daysAgo, 4)})`,
    );
    const outcome = plan.payment === 'refused' ? 'refused' : 'paid';
    const did = { paid: 'paid', refused: 'refuse', refunded: 'refund' }[plan.payment];
    await tx.execute(sql`
      insert into payment_answer (id, payment_id, outcome, amount, currency, received_at, did) values (${randomUUID()}, ${payment}, ${outcome}, ${net + vat}, ${currency}, ${paidAt}, ${did})`);
    const goesBack = (amount: number, when: string): Promise<unknown> =>
      tx.execute(
        sql`insert into refund (id, payment_id, amount, made_at, taken_at) values (${randomUUID()}, ${payment}, ${amount}, ${when}, ${when})`,
      );
    if (plan.payment === 'refunded') await goesBack(net + vat, paidAt);
    if (plan.payment !== 'paid') continue;
    const invoice = (when: string, seats: number, credits: number | null): Promise<unknown> => {
      const amounts = priceOfSeats(seats, price, vatRate);
      paper++;
      return tx.execute(sql`
        insert into invoice (number, order_id, credits, made_at, seats, net, vat, seller) values (${paper}, ${id}, ${credits}::int, ${when}, ${seats}, ${amounts.net}, ${amounts.vat}, ${JSON.stringify(seller)}::jsonb)`);
    };
    await invoice(paidAt, plan.seats, null);
    await began(tx, plan.licence, plan.seats, paidAt);
    if (plan.credited) {
      const when = at(plan.credited.daysAgo);
      await invoice(when, plan.credited.seats, paper);
      await goesBack(priceOfSeats(plan.credited.seats, price, vatRate).total, when);
      await began(tx, plan.licence, -plan.credited.seats, when);
    }
  }
  paper = await loadPaidEntries(tx, paper, at);
  // Invoices are numbered in the order in which they were made.
  await tx.execute(sql`
    with sorted as (select number, row_number() over (order by made_at, number) as place from invoice), moved as (update invoice i set number = -s.place from sorted s where s.number = i.number returning i.number)
    select count(*) from moved`);
  await tx.execute(sql`update invoice set number = -number`);
  await tx.execute(sql`
    update invoice i set credits = (select min(o.number) from invoice o where o.order_id = i.order_id and o.credits is null) where i.credits is not null`);
}

/** Who came in by a code with a price has paid for it. @returns The last number of a paper. */
async function loadPaidEntries(tx: Transaction, paper: number, at: (daysAgo: number) => string): Promise<number> {
  const came = await tx.execute(sql`
    select u.code_id, u.person_id, to_jsonb(v.group_ids) as groups, v.price from join_code_use u
    join join_code_version v on v.code_id = u.code_id and v.until_at is null and v.price is not null order by u.code_id, u.person_id`);
  for (const [index, use] of (came.rows as { code_id: string; person_id: string; groups: number[]; price: number }[]).entries()) {
    const { net, vat } = priceOfSeats(1, use.price, vatRate);
    const [entry, payment, when] = [randomUUID(), randomUUID(), at(18 - index)];
    await tx.execute(sql`
      insert into paid_entry (id, code_id, person_id, group_ids, is_new, answers, price, vat_rate, currency, net, vat, state, asked_at)
      values (${entry}, ${use.code_id}, ${use.person_id}, ${`{${use.groups.join()}}`}::bigint[], true, '[]', ${use.price}, ${vatRate}, ${currency}, ${net}, ${vat}, 'paid', ${when})`);
    await tx.execute(
      sql`insert into payment (id, entry_id, amount, currency, state, begun_at) values (${payment}, ${entry}, ${net + vat}, ${currency}, 'paid', ${when})`,
    );
    await tx.execute(sql`
      insert into payment_answer (id, payment_id, outcome, amount, currency, received_at, did) values (${randomUUID()}, ${payment}, 'paid', ${net + vat}, ${currency}, ${when}, 'paid')`);
    paper++;
    await tx.execute(sql`
      insert into invoice (number, entry_id, made_at, seats, net, vat, seller) values (${paper}, ${entry}, ${when}, 1, ${net}, ${vat}, ${JSON.stringify(seller)}::jsonb)`);
  }
  return paper;
}

/** From this moment on the licence has as many seats as it has now; before, so many fewer. Orders come oldest first. */
async function began(tx: Transaction, licenceId: number, seats: number, at: string): Promise<void> {
  await tx.execute(sql`update licence_version set seats = seats - ${seats} where licence_id = ${licenceId} and until_at is not null`);
  const [standing] = (
    await tx.execute(sql`select row_id, seats, from_at from licence_version where licence_id = ${licenceId} and until_at is null`)
  ).rows as {
    row_id: string;
    seats: number;
  }[];
  const columns = sql`licence_id, group_id, name, first_day, last_day, course_id, course_set_id, on_leaving, by_hand, price, needs_approval, renew_months, id_number, idle_days`;
  await tx.execute(sql`
    insert into licence_version (${columns}, seats, from_at, until_at) select ${columns}, seats - ${seats}, from_at, ${at} from licence_version where row_id = ${Number(standing?.row_id ?? 0)}`);
  await tx.execute(sql`update licence_version set from_at = ${at} where row_id = ${Number(standing?.row_id ?? 0)}`);
}
