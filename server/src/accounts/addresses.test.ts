import type { Change } from '@gate-roster/contract';
import { randomUUID } from 'node:crypto';
import { plainCode } from '../entry/plain-code.ts';
import { type Client, demoPassword, execute, type Site, startSite } from '../testing/site.ts';

/* An address identifies nobody until it is confirmed, and only its owner, or an administrator, confirms it. */
let site: Site;
let mirela: Client;
let ottoline: Client;
beforeEach(async () => {
  site = await startSite();
  mirela = await site.as('mirela');
  ottoline = await site.as('ottoline');
});
afterEach(() => site.stop());

const gullhaven = 3;
const crew = 7;
const query = <T extends object>(text: string, values: unknown[] = []): Promise<T[]> => execute<T>(site.databaseUrl, text, values);
const bring = (rows: { cells: Record<string, string> }[], write: boolean): Change => ({
  kind: 'bring-in-roster',
  into: crew,
  fileName: 'crew.csv',
  hasGroupColumn: false,
  dateOrder: 'dayFirst',
  rows: rows.map((row, index) => ({ row: index + 2, ...row })),
  write: write ? { at: null } : null,
});
const lettersTo = (address: string): Promise<{ kind: string; body: string }[]> =>
  query(`select kind, body from letter where address = $1 order by id`, [address]);
async function linkTo(address: string, page = 'address'): Promise<string> {
  for (let tries = 0; tries < 40; tries++) {
    const found = (await lettersTo(address)).map(({ body }) => new RegExp(`/${page}#([\\w-]{32})`, 'u').exec(body)?.[1]).filter(Boolean);
    if (found.length > 0) return found.at(-1) ?? '';
    await new Promise((resolve) => setTimeout(resolve, 50));
  }
  throw new Error(`no ${page} link to ${address}`);
}
const newest = async (): Promise<{ id: number; name: string }> => {
  const [row] = await query<{ id: number; name: string }>(
    `select person_id::int as id, sign_in_name as name from personal_now order by person_id desc limit 1`,
  );
  return row ?? { id: 0, name: '' };
};
const password = 'nine calm harbour seals';
const makeAccount = async (email: string): Promise<{ id: number; name: string }> => {
  await ottoline.apply(bring([{ cells: { fullName: 'Somebody New', email, password: 'known to the leader' } }], false));
  return newest();
};
/** Somebody elsewhere with a confirmed address and a password. */
async function owner(): Promise<{ id: number; email: string; client: Client }> {
  const [row] = await query<{ id: number; email: string; name: string }>(`
    select n.person_id::int as id, n.confirmed_email as email, n.sign_in_name as name from personal_now n join membership m on m.person_id = n.person_id and m.until_at is null
    where m.group_id = 21 and n.confirmed_email is not null and (select count(*) from membership o where o.person_id = n.person_id) = 1 order by 1 limit 1`);
  return { id: row?.id ?? 0, email: row?.email ?? '', client: await site.letIn(row?.name ?? '') };
}

test('a leader’s file makes the account at once; the letter only asks, and “this is my account” puts out everybody who was in it', async () => {
  await ottoline.apply(bring([{ cells: { fullName: 'Ada Newcomer', email: 'ada@new.example' } }], true));
  expect((await lettersTo('ada@new.example')).map(({ kind }) => kind)).toEqual(['confirm address']);
  const ada = await newest();
  // The leader prints a card, and is in by it.
  const { cards } = await ottoline.call('makeCards', { body: { personIds: [ada.id] } });
  const inByCard = await site.as(null);
  await inByCard.call('useOneTime', { body: { key: { token: cards[0]?.token ?? '' }, password: 'what the leader chose' } });
  const token = await linkTo('ada@new.example');
  const client = await site.as(null);
  const about = await client.call('addressLink', { body: { token } });
  expect(about).toMatchObject({ address: 'ada@new.example', signInName: ada.name, isTaken: false, needsPassword: true, mine: null });
  // Looking changes nothing.
  expect(await query(`select confirmed_email from personal_now where person_id = ${ada.id}`)).toEqual([{ confirmed_email: null }]);
  expect((await client.send('confirmAddress', { body: { token, password: null } })).status).toBe(400);
  await client.call('confirmAddress', { body: { token, password } });
  expect(await client.call('myAccount', {})).toMatchObject({ address: 'ada@new.example', isConfirmed: true });
  expect((await inByCard.send('me')).status).toBe(401);
  const again = await site.as(null);
  expect((await again.send('signIn', { body: { signInName: ada.name, password: 'what the leader chose' } })).status).toBe(401);
  await again.call('signIn', { body: { signInName: 'ada@new.example', password } });
  expect((await client.send('confirmAddress', { body: { token, password } })).status).toBe(410);
});

test('an unconfirmed address signs nobody in, and “not mine” takes it off; the leader reads that it does not work', async () => {
  const { email } = await owner();
  const made = await makeAccount(email);
  const client = await site.as(null);
  const wrong = await client.send('signIn', { body: { signInName: email, password: 'known to the leader' } });
  expect(wrong.status).toBe(401);
  await ottoline.apply({ kind: 'edit-person', personId: made.id, values: { givenName: 'Other' } });
  await client.send('forgot', { body: { signInName: email } });
  // The owner's account gets the reset, not the one that only carries the address.
  await linkTo(email, 'enter');
  await query(`insert into address_link (hash, person_id, address, ends_at) select 'x', ${made.id}, '${email}', now()`);
  await ottoline.call('sendSignIn', { params: { personId: made.id } });
  const token = await linkTo(email);
  expect(await client.call('addressLink', { body: { token } })).toMatchObject({ isTaken: true });
  expect((await client.send('confirmAddress', { body: { token, password } })).status).toBe(409);
  await client.call('refuseAddress', { body: { token } });
  expect(await ottoline.call('person', { params: { personId: made.id } })).toMatchObject({ email: null, addressState: 'does not work' });
});

test('“join with my account” moves groups and work, no powers and no way in; only its holder or an administrator takes it back', async () => {
  const { id, email, client } = await owner();
  const made = await makeAccount(email);
  await mirela.apply({
    kind: 'set-leaders',
    groupId: 12,
    begin: [{ who: { personId: made.id }, powers: ['seeProgress'], firstDay: null, lastDay: null }],
    end: [],
  });
  await mirela.call('sendSignIn', { params: { personId: made.id } });
  const token = await linkTo(email);
  expect(await client.call('addressLink', { body: { token } })).toMatchObject({ mine: expect.any(String) as string });
  const { changeId } = await client.call('joinAddress', { body: { token, requestId: randomUUID() } });
  const held = async (): Promise<number[]> =>
    (await query<{ id: number }>(`select group_id::int as id from membership where person_id = ${id} and until_at is null order by 1`)).map(
      (row) => row.id,
    );
  expect(await held()).toEqual([crew, 21]);
  expect(await query(`select 1 from leadership where person_id in (${id}, ${made.id}) and until_at is null`)).toEqual([]);
  expect((await (await site.as(null)).send('signIn', { body: { signInName: made.name, password: 'known to the leader' } })).status).toBe(
    401,
  );
  // The leader sees the same person in the group, and no other membership.
  const seen = await ottoline.call('person', { params: { personId: id } });
  expect(seen.groups.map((group) => group.id)).toEqual([crew]);
  expect((await ottoline.send('look', { body: { change: { kind: 'undo', changeId } } })).status).toBe(404);
  expect((await ottoline.send('personFile', { params: { personId: id } })).status).toBe(404);
  expect((await client.call('myAccount', {})).joined).toEqual([{ changeId, on: expect.any(String) as string }]);
  await client.call('undoJoin', { params: { changeId } });
  expect(await held()).toEqual([21]);
  expect(await query(`select 1 from leadership where person_id = ${made.id} and until_at is null`)).toHaveLength(1);
});

test('an invitation is met only by a confirmed address, and powers never begin on another', async () => {
  const [invited = ''] = ['captain@harbour.example'];
  await mirela.apply({
    kind: 'make-code',
    values: { ...plainCode, groupIds: [crew], asks: { email: 'may', idNumber: 'no', questions: [] } },
  });
  const { codes } = await mirela.call('codes', { params: { groupId: crew } });
  await ottoline.apply({
    kind: 'set-leaders',
    groupId: crew,
    begin: [{ who: { givenName: 'Cap', familyName: 'Tain', email: invited }, powers: ['seeProgress'], firstDay: null, lastDay: null }],
    end: [],
  });
  const squatter = await site.as(null);
  await squatter.call('join', {
    body: {
      requestId: randomUUID(),
      code: codes[0]?.code ?? '',
      password,
      given: { givenName: 'Squat', familyName: 'Ter', email: invited, idNumber: '', answers: {} },
    },
  });
  expect((await squatter.call('myInvitations', {})).invitations).toEqual([]);
  const [row] = await query<{ id: number }>(`select row_id::int as id from invitation where email = '${invited}' and until_at is null`);
  expect((await squatter.send('acceptMine', { params: { invitationId: row?.id ?? 0 }, body: { requestId: randomUUID() } })).status).toBe(
    410,
  );
  // Appointing the address does not put the squatter in charge either.
  await mirela.apply({
    kind: 'set-leaders',
    groupId: 12,
    begin: [{ who: { givenName: 'Cap', familyName: 'Tain', email: invited }, powers: ['seeProgress'], firstDay: null, lastDay: null }],
    end: [],
  });
  expect((await squatter.call('me', {})).leaderships).toEqual([]);
});

test('vouching for an address that another account has confirmed is refused, with that account named to the administrator only', async () => {
  const { email, id } = await owner();
  const [other] = await query<{ id: number }>(
    `select person_id::int as id from membership where group_id = ${crew} and until_at is null order by 1 limit 1`,
  );
  const change: Change = { kind: 'edit-person', personId: other?.id ?? 0, values: { email } };
  const look = await mirela.call('look', { body: { change } });
  const { givenName, familyName } = await mirela.call('person', { params: { personId: id } });
  expect(look.conflicts).toEqual([{ code: 'address taken', blocks: true, count: 1, about: [`${givenName} ${familyName}`] }]);
  // A leader's is taken without a word, and identifies nobody.
  const wholly = await makeAccount('own@crew.example');
  expect((await ottoline.call('look', { body: { change: { ...change, personId: wholly.id } } })).conflicts).toEqual([]);
  await ottoline.apply({ ...change, personId: wholly.id });
  expect(await query(`select email, confirmed_email from personal_now where person_id = ${wholly.id}`)).toEqual([
    { email, confirmed_email: null },
  ]);
});

test('to an unconfirmed address goes one line at most once a week and three in all, and at most three a day from everybody', async () => {
  const made = await makeAccount('far@home.example');
  for (let n = 0; n < 5; n++) await ottoline.call('sendSignIn', { params: { personId: made.id } });
  expect(await lettersTo('far@home.example')).toHaveLength(3);
  // What would be told by letter becomes one line, and the decision about somebody who asks is such.
  await mirela.apply({
    kind: 'make-code',
    values: { ...plainCode, groupIds: [crew], needsDecision: true, asks: { email: 'may', idNumber: 'no', questions: [] } },
  });
  const [code] = (await mirela.call('codes', { params: { groupId: crew } })).codes;
  await (
    await site.as(null)
  ).call('join', {
    body: {
      requestId: randomUUID(),
      code: code?.code ?? '',
      password,
      given: { givenName: 'Asks', familyName: 'Once', email: 'asks@home.example', idNumber: '', answers: {} },
    },
  });
  const [request] = (await mirela.call('requests', { params: { groupId: crew } })).requests.filter(({ name }) => name === 'Asks Once');
  await mirela.apply({ kind: 'decide-requests', requestIds: request?.ids ?? [], decision: 'let in', asPerson: null, word: 'Welcome' });
  expect((await lettersTo('asks@home.example')).map(({ kind }) => kind)).toEqual(['confirm address', 'waiting']);
});

test('a new own address counts once it is confirmed; the earlier one is told', async () => {
  const { id, email, client } = await owner();
  expect((await client.send('changeAddress', { body: { address: 'mine@new.example', current: 'wrong' } })).status).toBe(422);
  await client.call('changeAddress', { body: { address: 'mine@new.example', current: demoPassword } });
  expect(await client.call('myAccount', {})).toMatchObject({ address: email, isConfirmed: true, pending: 'mine@new.example' });
  await client.call('confirmAddress', { body: { token: await linkTo('mine@new.example'), password } });
  expect(await query(`select email, confirmed_email from personal_now where person_id = ${id}`)).toEqual([
    { email: 'mine@new.example', confirmed_email: 'mine@new.example' },
  ]);
  expect((await lettersTo(email)).at(-1)?.kind).toBe('address changed');
});

test('a file of an administrator takes confirmed addresses for known everywhere, and never one that fits several or a name unlike', async () => {
  const { email } = await owner();
  const reasons = async (who: Client, cells: Record<string, string>, into = crew) => {
    const look = await who.call('look', { body: { change: { ...bring([{ cells }], false), into } as Change } });
    return look.rows.map(({ reason }) => reason?.code);
  };
  expect(await reasons(mirela, { fullName: 'Quite Unlike', email })).toEqual(['known by another name']);
  expect(await reasons(ottoline, { fullName: 'Quite Unlike', email })).toEqual([]);
  await ottoline.apply(bring([{ cells: { fullName: 'First Twin', email: 'shared@home.example' } }], false));
  await query(
    `update personal set email = 'shared@home.example' where person_id = (select min(person_id) from membership where group_id = ${crew} and until_at is null) and until_at is null and confirmed_email is null`,
  );
  const [second] = await query<{ id: number }>(`
    select n.person_id::int as id from personal_now n join membership m on m.person_id = n.person_id and m.until_at is null and m.group_id = ${crew} where n.email is distinct from 'shared@home.example' order by 1 desc limit 1`);
  await query(
    `update personal set email = 'shared@home.example', confirmed_email = null where person_id = ${second?.id ?? 0} and until_at is null`,
  );
  expect(await reasons(ottoline, { fullName: 'First Twin', email: 'shared@home.example' })).toEqual(['email of several']);
  expect((await mirela.call('group', { params: { groupId: gullhaven } })).id).toBe(gullhaven);
});
