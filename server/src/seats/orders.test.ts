import type { Change, SeatOrder } from '@gate-roster/contract';
import fc from 'fast-check';
import { randomUUID } from 'node:crypto';
import { addDays, addMonths, priceOfSeats } from '@gate-roster/core';
import { type SaidOfPayment, sayOfPayment } from '../testing/payment-answer.ts';
import { type Client, execute, type Site, startSite } from '../testing/site.ts';
import { renewDue } from './renew-due.ts';
import { settle } from './settle.ts';

/* Seats of the partners' licence are ordered, decided, paid at the stand-in, and credited. */

const [partners, solan, harbours, pilots, quay] = [38, 42, 43, 44, 45];
const boats = 1;
let site: Site;
let mirela: Client;
let clock = new Date();
beforeEach(async () => {
  clock = new Date();
  site = await startSite();
  mirela = await site.as('mirela');
});
afterEach(() => site.stop());

const query = <T extends object>(text: string): Promise<T[]> => execute<T>(site.databaseUrl, text);
/** The head of Solan Wind Works. */
const headOf = async (groupId: number): Promise<Client> => {
  const [head] = await query<{ name: string }>(
    `select n.sign_in_name as name from leadership l join personal_now n on n.person_id = l.person_id where l.group_id = ${groupId} and l.until_at is null limit 1`,
  );
  return site.letIn(head?.name ?? '');
};
const orderOf = (groupId: number, seats: number): Change => ({ kind: 'order-seats', licenceId: boats, groupId, seats, word: null });
const newest = async (who: Client, groupId = partners): Promise<SeatOrder> => {
  const [order] = (await who.call('orders', { params: { groupId }, query: { list: 'all' } })).orders;
  if (!order) throw new Error('there is no order');
  return order;
};
const licence = async () => {
  const found = (await mirela.call('seats', { params: { groupId: partners } })).licences.find(({ id }) => id === boats);
  if (!found) throw new Error('the licence is gone');
  const at = (groupId: number) => found.groups.find(({ id }) => id === groupId);
  return { seats: found.seats ?? 0, used: at(partners)?.used ?? 0, inLine: at(partners)?.inLine ?? 0, most: at(solan)?.most ?? null };
};

/** Goes to the service's page and pays as it is chosen there. @returns Where the browser is sent back to. */
async function payAs(who: Client, order: SeatOrder, how: string): Promise<string> {
  const { page } = await who.call('payOrder', { params: { orderId: order.id }, body: { requestId: randomUUID() } });
  const shown = await (await fetch(page)).text();
  expect(shown).toContain('<form method="post"');
  const ask = new URL(page).searchParams.get('ask') ?? '';
  const answer = await fetch(`${site.url}/payment-service/pay`, {
    method: 'POST',
    body: new URLSearchParams({ ask, how }),
    redirect: 'manual',
  });
  expect(answer.status).toBe(303);
  return answer.headers.get('location') ?? '';
}

const say = (answer: SaidOfPayment, key?: string): Promise<number> => sayOfPayment(site, answer, key);
const until = async (holds: () => Promise<boolean>): Promise<void> => {
  while (!(await holds())) await new Promise((resolve) => setTimeout(resolve, 50));
};
const begin = async (order: SeatOrder): Promise<string> => {
  const payment = randomUUID();
  await mirela.call('payOrder', { params: { orderId: order.id }, body: { requestId: payment } });
  return payment;
};

test('a leader asks, an administrator approves, a refused card is followed by one that pays: seats, limit, line, invoice and ledger follow once', async () => {
  const head = await headOf(solan);
  const before = await licence();
  await head.apply(orderOf(solan, 3));
  const asked = await newest(head, solan);
  expect([asked.state, asked.may]).toEqual(['asked', { pay: false, decide: false, giveUp: true, credit: false }]);
  expect((await head.send('payOrder', { params: { orderId: asked.id }, body: { requestId: randomUUID() } })).status).toBe(409);
  expect(
    (await head.send('look', { body: { change: { kind: 'decide-order', orderId: asked.id, approve: true, word: null } } })).status,
  ).toBe(404);
  await mirela.apply({ kind: 'decide-order', orderId: asked.id, approve: true, word: 'Good' });

  expect(await payAs(head, asked, 'refused')).toContain(`/seats/${solan}?view=orders`);
  expect(await newest(head, solan)).toMatchObject({ state: 'approved', payment: 'refused', papers: [] });
  expect(await licence()).toEqual(before);
  for (const how of ['wrong amount', 'wrong signature', 'never']) {
    await payAs(head, asked, how);
    expect([how, await licence()]).toEqual([how, before]);
  }
  await payAs(head, asked, 'twice');
  const paid = await newest(head, solan);
  expect(paid).toMatchObject({ state: 'paid', payment: 'paid', total: priceOfSeats(3, 4500, 2000).total });
  const after = await licence();
  // Nobody of Solan waits, so the seats go to whoever is first in line in the licence's branch.
  expect(after).toEqual({ seats: before.seats + 3, used: before.used + 3, inLine: before.inLine - 3, most: (before.most ?? 0) + 3 });
  const file = await head.send('orderPaper', { params: { orderId: paid.id, number: paid.papers[0] ?? 0 } });
  expect(
    Buffer.from(await file.arrayBuffer())
      .subarray(0, 5)
      .toString(),
  ).toBe('%PDF-');
  const { inUse, lines } = await mirela.call('ledger', { params: { groupId: partners }, query: { licence: boats } });
  expect(inUse).toEqual({ byLedger: after.used, counted: after.used });
  expect(lines.filter(({ what, state }) => what === 'order' && state === 'paid').length).toBeGreaterThan(0);
  // Nobody undoes what was paid, nor the order.
  const logged = await query<{ id: number }>(
    `select id::int from change_log where kind in ('seats-paid', 'order-seats') order by id desc limit 2`,
  );
  for (const { id } of logged) expect((await mirela.send('look', { body: { change: { kind: 'undo', changeId: id } } })).status).toBe(404);
  const letters = await query<{ subject: string }>(`select subject from letter where kind = 'seat order' order by id`);
  expect(letters.map(({ subject }) => subject)).toContain('An order of seats waits for a decision');
});

test('money that comes after an order was given up, or a second time, goes back; what is credited comes from free seats only', async () => {
  await mirela.apply(orderOf(harbours, 2));
  const order = await newest(mirela);
  const [first, second] = [await begin(order), await begin(order)];
  await mirela.apply({ kind: 'give-up-order', orderId: order.id });
  const before = await licence();
  expect(await say({ payment: first, amount: order.total, outcome: 'paid' })).toBe(204);
  expect(await licence()).toEqual(before);
  expect(await newest(mirela)).toMatchObject({ state: 'given up', papers: [] });

  await mirela.apply(orderOf(harbours, 20));
  const other = await newest(mirela);
  const [third, fourth] = [await begin(other), await begin(other)];
  await Promise.all([third, fourth, third].map((payment) => say({ payment, amount: other.total, outcome: 'paid' })));
  expect((await licence()).seats).toBe(before.seats + 20);
  const back = async () =>
    query<{ payment: string; amount: number }>(
      `select payment_id as payment, amount::int from refund where made_at > now() - interval '5 minutes' order by made_at`,
    );
  expect(await back()).toHaveLength(2);
  expect(new Set((await back()).map(({ payment }) => payment)).has(first)).toBe(true);
  expect((await query(`select 1 from payment where id in ('${third}', '${fourth}') and state = 'paid'`)).length).toBe(1);
  expect((await query(`select 1 from payment where id = '${second}' and state = 'begun'`)).length).toBe(1);

  const letters = await query<{ subject: string }>(`select distinct subject from letter where kind = 'seat order' order by 1`);
  expect(letters.map(({ subject }) => subject)).toEqual([
    'An order of seats is paid',
    'An order of seats was given up: what was paid goes back',
  ]);
  const { seats, used } = await licence();
  const free = seats - used;
  const credit = (count: number): Change => ({ kind: 'credit-order', orderId: other.id, seats: count, word: 'Too many' });
  const tooMany = await mirela.call('look', { body: { change: credit(Math.min(20, free + 1)) } });
  if (free < 20) expect(tooMany.conflicts).toMatchObject([{ code: 'not free', blocks: true, count: free }]);
  await mirela.apply(credit(2));
  expect(await licence()).toMatchObject({ seats: seats - 2, used });
  const credited = await newest(mirela);
  expect([credited.credited, credited.papers.length]).toEqual([2, 2]);
  expect((await back()).at(-1)?.amount).toBe(priceOfSeats(2, 4500, 2000).total);
});

test('what is not an answer of the service counts for nothing', async () => {
  await mirela.apply(orderOf(harbours, 1));
  const order = await newest(mirela);
  const payment = await begin(order);
  const before = await licence();
  expect(await say({ payment, amount: order.total, outcome: 'paid' }, 'guessed')).toBe(401);
  const [player] = await query<{ secret: string }>(`select secret from source where key = 'player'`);
  expect(await say({ payment, amount: order.total, outcome: 'paid' }, player?.secret)).toBe(401);
  expect(await say({ payment: randomUUID(), amount: order.total, outcome: 'paid' })).toBe(404);
  expect(await say({ payment, amount: 1, outcome: 'paid' })).toBe(204);
  expect(await licence()).toEqual(before);
  expect((await newest(mirela)).state).toBe('paying');
});

test('a group that goes takes its licence along: money that still arrives goes back, and the books keep its orders', async () => {
  const ferries = 39;
  const buy = (seats: number): Change => ({ kind: 'order-seats', licenceId: 2, groupId: ferries, seats, word: null });
  await mirela.apply(buy(4));
  const order = await newest(mirela, ferries);
  const payment = await begin(order);
  const { orders: before } = await mirela.call('orders', { params: { groupId: 1 }, query: { list: 'all' } });
  const sum = (await mirela.call('ledger', { params: { groupId: 1 } })).inUse;
  await mirela.apply({ kind: 'delete-groups', groupIds: [ferries], subgroups: 'go too' });
  expect(await say({ payment, amount: order.total, outcome: 'paid' })).toBe(204);
  const { orders: after } = await mirela.call('orders', { params: { groupId: 1 }, query: { list: 'all' } });
  expect(after.map(({ id }) => id)).toEqual(before.map(({ id }) => id));
  expect(after.find(({ id }) => id === order.id)).toMatchObject({
    state: 'given up',
    payment: 'refunded',
    papers: [],
    group: { name: 'Brannoch Ferries' },
  });
  expect(await query(`select 1 from refund where payment_id = '${payment}' and amount = ${order.total}`)).toHaveLength(1);
  const { inUse } = await mirela.call('ledger', { params: { groupId: 1 } });
  expect(inUse.byLedger).toBe(inUse.counted);
  expect(inUse.counted).toBeLessThan(sum.counted);
});

test('orders it cannot give: of nothing, of too many, of a licence without a price or that is over, and for a group outside its home', async () => {
  for (const seats of [0, 1e9]) expect((await mirela.send('look', { body: { change: orderOf(harbours, seats) } })).status).toBe(400);
  expect((await mirela.send('look', { body: { change: orderOf(3, 1) } })).status).toBe(404);
  await mirela.apply({ kind: 'edit-licence', licenceId: boats, values: { price: null } });
  expect((await mirela.call('look', { body: { change: orderOf(harbours, 1) } })).conflicts).toMatchObject([
    { code: 'no price', blocks: true },
  ]);
  await mirela.apply({ kind: 'edit-licence', licenceId: boats, values: { price: 100, lastDay: '2026-01-05', firstDay: null } });
  expect((await mirela.call('look', { body: { change: orderOf(harbours, 1) } })).conflicts).toMatchObject([
    { code: 'licence over', blocks: true },
  ]);
});

test('a licence renews itself by its last payer, says so when that fails, and another only tells that it ends; once each', async () => {
  const lastDayOf = async (id: number): Promise<string> =>
    (await query<{ day: string }>(`select last_day::text as day from licence_now where licence_id = ${id}`))[0]?.day ?? '';
  const letters = async (): Promise<string[]> =>
    (
      await query<{ subject: string }>(`select subject from letter where kind = 'seat order' and subject not like '%is paid' order by id`)
    ).map(({ subject }) => subject);
  await mirela.apply({ kind: 'edit-licence', licenceId: boats, values: { renewMonths: 6 } });
  await mirela.apply(orderOf(harbours, 1));
  await payAs(mirela, await newest(mirela), 'paid');
  const lastDay = await lastDayOf(boats);
  clock = new Date(Date.parse(`${addDays(lastDay, -20)}T12:00:00Z`));
  await renewDue({ ...site.deps, now: () => clock });
  expect(await lastDayOf(boats)).toBe(lastDay);
  clock = new Date(Date.parse(`${addDays(lastDay, -10)}T12:00:00Z`));
  await Promise.all([1, 2, 3].map(() => renewDue({ ...site.deps, now: () => clock })));
  await until(async () => (await lastDayOf(boats)) === addMonths(lastDay, 6));
  expect(await newest(mirela)).toMatchObject({ what: 'months', state: 'paid', seats: (await licence()).seats, orderedBy: null });
  expect(await letters()).toEqual([]);

  await mirela.apply(orderOf(harbours, 1));
  await payAs(mirela, await newest(mirela), 'renewal fails');
  const next = await lastDayOf(boats);
  clock = new Date(Date.parse(`${addDays(next, -3)}T12:00:00Z`));
  await renewDue({ ...site.deps, now: () => clock });
  await until(async () => (await letters()).includes('The payment was refused'));
  expect(await lastDayOf(boats)).toBe(next);
  // The other licence, whose payer never agreed to be asked again, ended meanwhile: nobody is told of what is over.
  const ferries = await lastDayOf(2);
  clock = new Date(Date.parse(`${addDays(ferries, -1)}T12:00:00Z`));
  const told: number[] = [];
  for (let times = 0; times < 2; times++) {
    await renewDue({ ...site.deps, now: () => clock });
    told.push((await letters()).filter((subject) => subject === 'A licence ends soon').length);
  }
  expect(told[0]).toBeGreaterThan(0);
  expect(told[1]).toBe(told[0]);
});

/*
 * People come and go, limits move, orders are made, paid, refused, said twice, given up and credited, several at once and in any order.
 * At the end the books are what a count by hand gives.
 */
test('whatever is ordered, paid and moved at once: seats, money, invoices and ledger agree, and nothing is left to settle', async () => {
  const people = (
    await query<{ id: number }>(
      `select distinct person_id::int as id from membership where until_at is null and group_id = 7 order by 1 limit 30`,
    )
  ).map(({ id }) => id);
  await fc.assert(
    fc.asyncProperty(fc.infiniteStream(fc.nat(1_000_000)), async (numbers) => {
      const draw = (): number => Number(numbers.next().value);
      const start = await licence();
      const [{ last = 0 } = {}] = await query<{ last: number }>(`select max(id)::int as last from seat_order`);
      const own = `order_id > ${last}`;
      const tries: { payment: string; amount: number }[] = [];
      const quietly = async (act: Promise<unknown>): Promise<unknown> => act.catch(() => null);
      const ours = async (): Promise<SeatOrder[]> =>
        (await mirela.call('orders', { params: { groupId: partners }, query: { list: 'all' } })).orders.filter(({ id }) => id > last);
      const acts: ((n: number) => Promise<unknown>)[] = [
        (n) =>
          mirela.apply({
            kind: 'add-members',
            groupId: n % 2 ? pilots : quay,
            personIds: people.slice(n % 20, (n % 20) + 5),
            firstDay: null,
            lastDay: null,
          }),
        (n) => mirela.apply({ kind: 'remove-members', groupId: n % 2 ? pilots : quay, personIds: people.slice(n % 20, (n % 20) + 3) }),
        (n) => mirela.apply({ kind: 'limit-seats', licenceId: boats, limits: [{ groupId: n % 2 ? quay : harbours, most: 20 + (n % 60) }] }),
        (n) => mirela.apply(orderOf([harbours, solan, partners][n % 3] ?? partners, 1 + (n % 7))),
        async (n) => {
          const [order] = (await ours()).filter(({ may }) => may.pay).slice(n % 2);
          if (order) tries.push({ payment: await begin(order), amount: order.total });
        },
        async (n) => {
          const one = tries[n % Math.max(1, tries.length)];
          const id = randomUUID();
          const outcome = n % 4 === 0 ? ('refused' as const) : ('paid' as const);
          if (one) await Promise.all([say({ ...one, id, outcome }), say({ ...one, id, outcome }), say({ ...one, outcome })]);
        },
        async (n) => {
          const [order] = (await ours()).filter(({ may }) => may.giveUp).slice(n % 3);
          if (order) await mirela.apply({ kind: 'give-up-order', orderId: order.id });
        },
        async (n) => {
          const [order] = (await ours()).filter(({ may }) => may.credit).slice(n % 2);
          if (order) await mirela.apply({ kind: 'credit-order', orderId: order.id, seats: 1 + (n % 2), word: null });
        },
      ];
      // So that there is something to pay from the beginning.
      for (const which of [3, 4, 3, 4]) await acts[which]?.(0);
      for (let round = 0; round < 16; round++)
        await Promise.all([0, 1, 2].map(() => quietly((acts[draw() % acts.length] ?? (() => Promise.resolve()))(draw()))));

      const end = await licence();
      const [sums] = await query<{ bought: number; credited: number; kept: number; sold: number; paid: number; invoices: number }>(`
        select (select coalesce(sum(seats), 0)::int from seat_order where id > ${last} and state = 'paid') as bought,
          (select coalesce(sum(seats), 0)::int from invoice where ${own} and credits is not null) as credited,
          (select coalesce(sum(p.amount), 0)::int from payment p where ${own} and exists (select 1 from payment_answer a where a.payment_id = p.id and a.did in ('paid', 'refund')))
            - (select coalesce(sum(r.amount), 0)::int from refund r join payment p on p.id = r.payment_id where p.${own}) as kept,
          (select coalesce(sum(case when credits is null then net + vat else - net - vat end), 0)::int from invoice where ${own}) as sold,
          (select count(*)::int from seat_order where id > ${last} and state = 'paid') as paid,
          (select count(*)::int from invoice where ${own} and credits is null) as invoices`);
      expect(end.seats).toBe(start.seats + (sums?.bought ?? 0) - (sums?.credited ?? 0));
      expect([sums?.kept, sums?.invoices]).toEqual([sums?.sold, sums?.paid]);
      expect(await query(`select 1 from invoice where number > (select count(*) from invoice)`)).toEqual([]);
      const { inUse } = await mirela.call('ledger', { params: { groupId: partners } });
      expect(inUse.byLedger).toBe(inUse.counted);
      const { today } = await mirela.call('me', {});
      const left = await site.deps.db.transaction((tx) =>
        settle(tx, today, { people: [], courses: 'all', room: true, changeId: null, undoOf: [], mode: 'alone' }),
      );
      expect(left).toEqual({ begin: [], move: [], end: [], queue: [], unqueue: [] });
      expect(sums?.paid).toBeGreaterThan(0);
    }),
    { numRuns: 2, endOnFailure: true },
  );
}, 600_000);
