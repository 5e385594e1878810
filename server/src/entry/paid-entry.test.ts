import type { JoinCodeValues } from '@gate-roster/contract';
import { randomUUID } from 'node:crypto';
import { sayOfPayment } from '../testing/payment-answer.ts';
import { makeCode as newCode } from '../testing/make-code.ts';
import { type Client, execute, type Site, startSite } from '../testing/site.ts';
import { endHolds, holdMinutes } from './hold-place.ts';
import { plainCode } from './plain-code.ts';

/* Coming in by a code that has a price, paid at the stand-in. Quay staff need seats of the partners' licence, and none is free. */

const [partners, quay, shore] = [38, 45, 7];
const boats = 1;
let site: Site;
let mirela: Client;
beforeEach(async () => {
  site = await startSite();
  mirela = await site.as('mirela');
});
afterEach(() => site.stop());

const query = <T extends object>(text: string): Promise<T[]> => execute<T>(site.databaseUrl, text);
const count = async (from: string): Promise<number> => Number((await query<{ n: string }>(`select count(*) as n from ${from}`))[0]?.n);
const password = 'four quiet harbour seals';
const price = 2000;
const makeCode = (values: Partial<JoinCodeValues> = {}) => newCode(mirela, mirela, { groupIds: [shore], price, ...values });
const codeNow = async (id: number) => (await mirela.call('codes', { params: { groupId: 1 } })).codes.find((code) => code.id === id);
const given = { givenName: 'Ines', familyName: 'Payer', email: '', idNumber: '', answers: {} };
const total = 2400;
async function register(code: string, shown: number | null = total) {
  const client = await site.as(null);
  const body = { requestId: randomUUID(), code, password, given, total: shown };
  return { client, body, answer: await client.send('join', { body }) };
}
/** Registers somebody, who is sent to the service's page. */
async function payer(code: string) {
  const { client, answer, body } = await register(code);
  const said = (await answer.json()) as { outcome: string; signInName: string; page: string; me: unknown };
  expect(said).toMatchObject({ outcome: 'paying', me: null });
  return { client, body, ...said };
}
/** Pays on the service's page as it is chosen there. */
async function pay(page: string, how: string): Promise<void> {
  const ask = new URL(page).searchParams.get('ask') ?? '';
  const answer = await fetch(`${site.url}/payment-service/pay`, {
    method: 'POST',
    body: new URLSearchParams({ ask, how }),
    redirect: 'manual',
  });
  expect([answer.status, answer.headers.get('location')?.endsWith('/join/paying')]).toEqual([303, true]);
}
const refusal = async (answer: Response): Promise<string> => ((await answer.json()) as { code: string }).code;
const members = (groupId: number): Promise<number> => count(`membership where until_at is null and group_id = ${groupId}`);
const entry = async (client: Client) => (await client.call('payingEntry', {})).entry;
/** So long ago the places that are held were taken. */
const later = (minutes: number): Promise<unknown> =>
  query(`update paid_entry set held_until = held_until - interval '${minutes} minutes' where held_until is not null`);
const endHeld = (): Promise<void> => endHolds({ db: site.deps.db, now: () => new Date() });

test('who joins is shown the price, waits until it is paid, is refused, pays, and is in and signed in; once, with a receipt', async () => {
  const { id, code } = await makeCode({ useLimit: 2 });
  const offer = await (await site.as(null)).call('joinLook', { body: { code } });
  expect(offer.price).toMatchObject({ net: price, vat: 400, total, currency: 'EUR' });
  const before = await members(shore);
  for (const shown of [null, 1]) expect(await refusal((await register(code, shown)).answer)).toBe('price-changed');
  const { client, page, body, signInName } = await payer(code);
  expect([await members(shore), (await codeNow(id))?.uses, (await codeNow(id))?.paying]).toEqual([before, 1, 1]);
  expect((await client.send('me', {})).status).toBe(401);
  // Sent again it is the same account and the same page; from another browser without the password, nothing.
  expect(await (await client.send('join', { body })).json()).toMatchObject({ outcome: 'paying', signInName });
  const guess = await site.as(null);
  expect(await (await guess.send('join', { body: { ...body, password: 'not the right one at all' } })).json()).toMatchObject({
    page: null,
  });
  expect(await entry(guess)).toBeNull();
  await pay(page, 'refused');
  expect(await entry(client)).toMatchObject({ state: 'paying', payment: 'refused', total, signInName });
  const again = await client.call('payEntry', { body: { requestId: randomUUID() } });
  await pay(again.page, 'twice');
  const paid = await entry(client);
  expect(paid).toMatchObject({ state: 'paid', groups: ['Shore crew'], me: { givenName: 'Ines' } });
  expect([await members(shore), (await codeNow(id))?.uses, (await codeNow(id))?.paying]).toEqual([before + 1, 1, 0]);
  const { paid: receipts } = await client.call('myRequests', {});
  expect(receipts).toMatchObject([{ groups: ['Shore crew'], total, currency: 'EUR' }]);
  const receipt = await client.send('receipt', { params: { number: receipts[0]?.number ?? 0 } });
  expect((await receipt.text()).startsWith('%PDF')).toBe(true);
  expect((await mirela.send('receipt', { params: { number: receipts[0]?.number ?? 0 } })).status).toBe(404);
  expect(await count(`invoice where entry_id is not null and number = ${receipts[0]?.number ?? 0}`)).toBe(1);
  // Nobody undoes what was paid, and the papers are numbered without a gap.
  const [change] = (await mirela.call('log', { query: {} })).entries.filter(({ kind }) => kind === 'join-paid');
  expect((await mirela.send('look', { body: { change: { kind: 'undo', changeId: change?.id ?? 0 } } })).status).toBe(404);
  expect(await count(`(select number from invoice where number > (select count(*) from invoice)) t`)).toBe(0);
});

test('a place is held for half an hour, then free again; who comes back by name and password finds it, and pays late for a new one', async () => {
  const { id, code } = await makeCode({ useLimit: 1 });
  const { page, signInName } = await payer(code);
  expect(await refusal((await register(code)).answer)).toBe('code-over');
  await later(holdMinutes - 1);
  await endHeld();
  expect((await codeNow(id))?.uses).toBe(1);
  await later(2);
  await endHeld();
  expect([(await codeNow(id))?.uses, (await codeNow(id))?.paying]).toEqual([0, 0]);
  const back = await site.as(null);
  expect(await refusal(await back.send('signIn', { body: { signInName, password } }))).toBe('still-paying');
  expect(await entry(back)).toMatchObject({ state: 'paying', heldUntil: null });
  await pay(page, 'paid');
  expect([(await entry(back))?.state, (await codeNow(id))?.uses]).toEqual(['paid', 1]);
});

test('what is paid when no place is left, or after it was given up, goes back by itself, and the account ends', async () => {
  const { code } = await makeCode({ useLimit: 1 });
  const first = await payer(code);
  await later(holdMinutes + 1);
  await endHeld();
  const second = await payer(code);
  await pay(second.page, 'paid');
  await pay(first.page, 'paid');
  expect([(await entry(first.client))?.state, (await entry(second.client))?.state]).toEqual(['given up', 'paid']);
  expect(await count(`refund r join payment p on p.id = r.payment_id and p.entry_id is not null and r.amount = ${total}`)).toBe(1);
  expect((await first.client.send('signIn', { body: { signInName: first.signInName, password } })).status).toBe(401);

  const { code: other, id } = await makeCode({ useLimit: 1 });
  const third = await payer(other);
  await third.client.call('giveUpEntry', {});
  expect((await codeNow(id))?.uses).toBe(0);
  await pay(third.page, 'paid');
  expect(await count(`refund r join payment p on p.id = r.payment_id and p.entry_id is not null`)).toBe(2);
  expect(await members(shore)).toBe(await count(`membership where until_at is null and group_id = ${shore}`));
});

test('the seat that a joiner will need is held too: the line does not get it, and its end gives it to the line', async () => {
  const inLine = async (): Promise<number> =>
    (await mirela.call('seatPeople', { params: { groupId: partners }, query: { list: 'in line' } })).total;
  await mirela.apply({ kind: 'edit-licence', licenceId: boats, values: { seats: 100 } });
  expect(await inLine()).toBe(0);
  const used = await count(`seat where until_at is null and licence_id = ${boats}`);
  await mirela.apply({ kind: 'edit-licence', licenceId: boats, values: { seats: used + 1 } });
  const { code } = await makeCode({ groupIds: [quay] });
  const [one, two] = [await payer(code), await payer(code)];
  const sheet = (await mirela.call('seats', { params: { groupId: partners } })).licences.find(({ id }) => id === boats)?.groups[0];
  expect([sheet?.used, sheet?.held, sheet?.free]).toEqual([used, 1, 0]);
  // Somebody who needs one now is in line behind what is held.
  await mirela.apply({
    kind: 'bring-in-roster',
    into: quay,
    fileName: 'quay.csv',
    hasGroupColumn: false,
    dateOrder: 'yearFirst',
    rows: [{ row: 2, cells: { fullName: 'Quin Waits' } }],
  });
  expect(await inLine()).toBe(1);
  await pay(one.page, 'paid');
  expect([await count(`seat where until_at is null and licence_id = ${boats}`), await count('held_seat'), await inLine()]).toEqual([
    used + 1,
    0,
    1,
  ]);
  await mirela.apply({ kind: 'edit-licence', licenceId: boats, values: { seats: used + 2 } });
  expect(await inLine()).toBe(0);
  await pay(two.page, 'paid');
  expect([(await entry(two.client))?.state, await inLine()]).toEqual(['paid', 1]);

  await mirela.apply({ kind: 'edit-licence', licenceId: boats, values: { seats: used + 4 } });
  await payer(code);
  expect(await count('held_seat')).toBe(1);
  await mirela.apply({ kind: 'edit-licence', licenceId: boats, values: { seats: used + 4 } }).catch(() => undefined);
  await later(holdMinutes + 1);
  await endHeld();
  expect(await count('held_seat')).toBe(0);
});

test('one who has an account pays too; a price goes with no decision and no powers; ten at once for three places are three', async () => {
  const { id, code } = await makeCode({ useLimit: 3 });
  const bao = await site.as('bao');
  const offer = await bao.call('joinLook', { body: { code } });
  const sent = { code, answers: {}, total: offer.price?.total ?? 0 };
  const first = await bao.call('joinAsMyself', { body: { ...sent, requestId: randomUUID() } });
  const second = await bao.call('joinAsMyself', { body: { ...sent, requestId: randomUUID() } });
  expect([first.outcome, second.outcome, (await bao.call('joinLook', { body: { code } })).mine]).toEqual(['paying', 'paying', 'paying']);
  await pay(second.page ?? '', 'paid');
  expect((await bao.call('joinLook', { body: { code } })).mine).toBe('in');
  const answers = await Promise.all(Array.from({ length: 10 }, () => register(code)));
  expect(answers.filter(({ answer }) => answer.status === 200)).toHaveLength(2);
  expect((await codeNow(id))?.uses).toBe(3);
  for (const wrong of [{ needsDecision: true }, { powers: ['seeProgress' as const] }]) {
    const { conflicts } = await mirela.call('look', {
      body: { change: { kind: 'make-code', values: { ...plainCode, groupIds: [shore], price, ...wrong } } },
    });
    expect(conflicts).toContainEqual(expect.objectContaining({ code: 'price and decision', blocks: true }));
  }
  expect(await sayOfPayment(site, { payment: randomUUID(), amount: total, outcome: 'paid' })).toBe(404);
});
