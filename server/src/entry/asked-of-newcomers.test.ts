import type { JoinCodeValues } from '@gate-roster/contract';
import { randomUUID } from 'node:crypto';
import { makeCode } from '../testing/make-code.ts';
import { type Client, execute, type Site, startSite } from '../testing/site.ts';

/* What a code asks of those who come in: an address of one's organisation, and a number. */

const shore = 7;
let site: Site;
let admin: Client;
let head: Client;
beforeAll(async () => {
  site = await startSite();
  admin = await site.as('mirela');
  head = await site.as('ottoline');
});
afterAll(() => site.stop());

const query = <T extends object>(text: string) => execute<T>(site.databaseUrl, text);
const codeWith = async (values: Partial<JoinCodeValues>): Promise<string> =>
  (await makeCode(head, admin, { groupIds: [shore], ...values })).code;

test('a code for one organisation lets nobody in who has not confirmed an address there', async () => {
  const code = await codeWith({ emailEnding: '@tern.example' });
  const bao = await site.as('bao');
  const join = () => bao.send('joinAsMyself', { body: { requestId: randomUUID(), code, answers: {} } });
  const refusal = async () => ((await (await join()).json()) as { code?: string }).code;
  const have = (address: string, isConfirmed: boolean) =>
    query(
      `update personal set email = '${address}', confirmed_email = ${isConfirmed ? `'${address}'` : 'null'} where until_at is null and sign_in_name = 'bao'`,
    );
  await query(
    `update membership set until_at = now() where group_id = ${shore} and until_at is null and person_id = (select person_id from personal_now where sign_in_name = 'bao')`,
  );
  await have('bao@tern.example', false);
  expect(await refusal()).toBe('needs-confirming');
  await have('bao@tern.example.org', true);
  expect(await refusal()).toBe('needs-confirming');
  await have('bao@tern.example', true);
  expect((await join()).status).toBe(200);
});

test('a number that was given is theirs once they are let in, unless it has become somebody’s meanwhile', async () => {
  const code = await codeWith({ needsDecision: true, asks: { email: 'no', idNumber: 'must', questions: [] } });
  const ask = async (givenName: string, idNumber: string): Promise<void> => {
    const given = { givenName, familyName: 'Numbered', email: '', idNumber, answers: {} };
    const stranger = await site.as(null);
    await stranger.call('join', { body: { requestId: randomUUID(), code, password: 'four quiet harbour seals', given } });
  };
  await ask('First', 'N-901');
  await ask('Second', 'N-901');
  const asking = (await head.call('requests', { params: { groupId: shore } })).requests.filter(({ name }) => name.endsWith('Numbered'));
  for (const { ids } of asking)
    await head.apply({ kind: 'decide-requests', requestIds: ids, decision: 'let in', word: null, asPerson: null });
  const numbers = await query<{ name: string; number: string | null }>(
    `select given_name as name, id_number as number from personal_now where family_name = 'Numbered' order by 1`,
  );
  expect(numbers.map(({ number }) => number).toSorted()).toEqual(['N-901', null]);
});
