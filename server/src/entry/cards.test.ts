import { randomUUID } from 'node:crypto';
import { type Client, execute, type Site, startSite } from '../testing/site.ts';

/* Cards that sign in: once, or lasting for young learners; and letters that do not go to children. */

const gullhaven = 3;
const shoreCrew = 7;
const cadets = 8;
const minute = 60_000;
let site: Site;
let head: Client;
let later = 0;
beforeAll(async () => {
  site = await startSite({ now: () => new Date(Date.now() + later) });
  head = await site.as('ottoline');
});
afterAll(() => site.stop());
beforeEach(() => {
  later = 0;
});

/** People of a group who are in no other and have no power. */
const peopleOf = async (group: number, count: number): Promise<number[]> =>
  (
    await execute<{ id: number }>(
      site.databaseUrl,
      `select m.person_id::int as id from membership m where m.group_id = $1 and m.until_at is null and m.person_id not in (select person_id from leadership)
       and not exists (select 1 from membership o where o.person_id = m.person_id and o.group_id <> $1 and o.until_at is null)
       and exists (select 1 from person_state s where s.person_id = m.person_id and s.until_at is null and s.state = 'active') order by 1 limit $2`,
      [group, count],
    )
  ).map(({ id }) => id);
const cardOf = async (personId: number) => {
  const [card] = (await head.call('makeCards', { body: { personIds: [personId] } })).cards;
  if (!card) throw new Error('no card');
  return card;
};
const use = async (token: string, password: string | null): Promise<{ client: Client; status: number }> => {
  const client = await site.as(null);
  return { client, status: (await client.send('useOneTime', { body: { key: { token }, password } })).status };
};

test('cards are made for people wholly in one’s branch; of others only their number is said', async () => {
  const own = await peopleOf(shoreCrew, 2);
  const elsewhere = await peopleOf(21, 1);
  const { cards, notYours } = await head.call('makeCards', { body: { personIds: [...own, ...elsewhere, 2] } });
  expect(cards.map(({ personId }) => personId).sort()).toEqual(own.sort());
  expect(notYours).toBe(2);
  const file = await head.send('cardFile', {
    body: { cards: cards.map(({ token, word }) => ({ token, word })), paper: 'Letter', onPage: 10 },
  });
  const pdf = Buffer.from(await file.arrayBuffer());
  expect(pdf.subarray(0, 5).toString()).toBe('%PDF-');
  // Only whoever made them prints them.
  const mirela = await site.as('mirela');
  expect(
    (await mirela.send('cardFile', { body: { cards: cards.map(({ token, word }) => ({ token, word })), paper: 'A4', onPage: 8 } })).status,
  ).toBe(404);
});

test('a card works once, asks for a password, and is worthless when another is printed', async () => {
  const [personId = 0] = await peopleOf(shoreCrew, 1);
  const first = await cardOf(personId);
  expect((await head.call('cardsAhead', { body: { personIds: [personId] } })).replaced).toBe(1);
  const second = await cardOf(personId);
  expect((await use(first.token, 'seven gulls on a rail')).status).toBe(410);
  expect((await use(second.token, null)).status).toBe(400);
  expect((await use(second.token, 'seven gulls on a rail')).status).toBe(200);
  expect((await use(second.token, 'another one, and longer')).status).toBe(410);
  const again = await site.as(null);
  await again.call('signIn', { body: { signInName: second.signInName, password: 'seven gulls on a rail' } });
});

test('the word on a card does what its square does, with the sign-in name of its holder and no other, in any writing', async () => {
  const [personId = 0, other = 0] = await peopleOf(shoreCrew, 2);
  const card = await cardOf(personId);
  const { signInName } = await cardOf(other);
  expect(card.group).toBe('Shore crew');
  const client = await site.as(null);
  const useWord = async (key: { signInName: string; word: string }) =>
    (await client.send('useOneTime', { body: { key, password: 'seven gulls on a rail' } })).status;
  expect(await useWord({ signInName, word: card.word })).toBe(410);
  expect(await useWord({ signInName: card.signInName, word: 'CCCC-CCCC' })).toBe(410);
  // Printing tells nobody a word: whoever does not have it gets no card.
  expect(
    (await head.send('cardFile', { body: { cards: [{ token: card.token, word: 'CCCC-CCCC' }], paper: 'A4', onPage: 8 } })).status,
  ).toBe(404);
  expect(await useWord({ signInName: card.signInName.toUpperCase(), word: card.word.replace('-', ' ').toLowerCase() })).toBe(200);
  expect((await use(card.token, 'another one, and longer')).status).toBe(410);
});

test('a lasting card of young learners signs in until replaced, into its group’s courses alone, and out when nobody is there', async () => {
  const [personId = 0] = await peopleOf(cadets, 1);
  // Somebody who is elsewhere too, with a course of their own there.
  await (await site.as('mirela')).apply({ kind: 'add-members', groupId: 21, personIds: [personId], firstDay: null, lastDay: null });
  const admin = await site.as('mirela');
  const all = (await admin.call('person', { params: { personId } })).courses.filter(({ open }) => open).map(({ name }) => name);
  const mine = await admin.call('makeCards', { body: { personIds: [personId] } });
  const card = mine.cards[0];
  expect(card).toMatchObject({ isLasting: true, until: null });
  const { client } = await use(card?.token ?? '', 'not taken from a card');
  const me = await client.call('me', {});
  expect(me.card).toEqual({ groupId: cadets, idleMinutes: 10 });
  const { courses, groups } = await client.call('myCourses', {});
  const open = courses.filter((course) => course.open).map(({ name }) => name);
  expect(open.length).toBeGreaterThan(0);
  expect(open.length).toBeLessThan(all.length);
  expect(groups.map(({ name }) => name)).toEqual(['Cadets']);
  for (const name of ['changePassword', 'joinAsMyself', 'tree'] as const) {
    const body =
      name === 'tree'
        ? undefined
        : name === 'joinAsMyself'
          ? { code: 'AAAAAAAAAA', answers: {}, requestId: randomUUID() }
          : { current: 'x', next: 'long enough it is' };
    expect((await client.send(name, body ? { body } : {})).status).toBe(404);
  }
  // No password came of it, and the card signs in again.
  expect((await admin.call('person', { params: { personId } })).hasPassword).toBe(false);
  expect((await use(card?.token ?? '', null)).status).toBe(200);
  later = 6 * minute;
  expect((await client.send('myCourses')).status).toBe(200);
  later = 12 * minute;
  expect((await client.send('myCourses')).status).toBe(200);
  later = 29 * minute;
  expect((await client.send('myCourses')).status).toBe(401);
  later = 0;
  const other = await use(card?.token ?? '', null);
  await admin.call('makeCards', { body: { personIds: [personId] } });
  expect((await other.client.send('myCourses')).status).toBe(401);
  expect((await use(card?.token ?? '', null)).status).toBe(410);
});

test('no letter goes to a young learner; it goes to the guardian, or nowhere', async () => {
  const [withGuardian = 0, without = 0] = (await peopleOf(cadets, 3)).slice(-2);
  await execute(site.databaseUrl, `update personal set email = 'child' || person_id || '@ternmail.example' where person_id in ($1, $2)`, [
    withGuardian,
    without,
  ]);
  await execute(site.databaseUrl, `update personal set guardian_email = 'guardian@ternmail.example' where person_id = $1`, [withGuardian]);
  for (const personId of [withGuardian, without]) await head.call('sendSignIn', { params: { personId } });
  const letters = await execute<{ address: string }>(
    site.databaseUrl,
    `select address from letter where person_id in ($1, $2) and subject like 'Sign in%'`,
    [withGuardian, without],
  );
  expect(letters.map(({ address }) => address)).toEqual(['guardian@ternmail.example']);
});

test('a number read out opens only to whoever may know the account; a sign-in for somebody beside one is over after ten minutes', async () => {
  const stranger = await site.as(null);
  const fail = async (signInName: string): Promise<string> =>
    ((await (await stranger.send('signIn', { body: { signInName, password: 'wrong' } })).json()) as { number: string }).number;
  const known = await fail('bao');
  const unknown = await fail('nobody.of.that.name');
  expect(known).toMatch(/^\d{6}$/u);
  const other = await site.letIn(
    (
      await execute<{ name: string }>(
        site.databaseUrl,
        `select n.sign_in_name as name from leadership l join personal_now n on n.person_id = l.person_id join group_now g on g.id = l.group_id where g.name = 'Middle Sound' limit 1`,
      )
    )[0]?.name ?? '',
  );
  const asked = async (client: Client, q: string) => (await client.call('helpFind', { query: { q } })).number;
  expect((await asked(head, known))?.personId).toBeGreaterThan(0);
  expect(await asked(other, known)).toEqual(await asked(other, unknown));
  const [personId = 0] = await peopleOf(shoreCrew, 1);
  const sheet = await head.call('helpPerson', { params: { personId } });
  expect(sheet).toMatchObject({ mayMend: true, person: { id: personId } });
  const { link, until } = await head.call('letInNow', { params: { personId } });
  expect(Date.parse(until) - Date.now()).toBeLessThanOrEqual(10 * minute);
  const token = link.split('#')[1] ?? '';
  await execute(
    site.databaseUrl,
    `update one_time_link set ends_at = ends_at - interval '11 minutes' where kind = 'link' and person_id = $1`,
    [personId],
  );
  expect((await use(token, null)).status).toBe(410);
  expect((await head.call('log', { query: { groupId: gullhaven } })).entries.map(({ kind }) => kind)).toEqual(
    expect.arrayContaining(['let-in-now', 'print-cards']),
  );
});
