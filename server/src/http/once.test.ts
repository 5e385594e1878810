import { randomUUID } from 'node:crypto';
import { type Client, execute, type Site, startSite } from '../testing/site.ts';

/* What is sent again under the same key takes place once. */
let site: Site;
let ottoline: Client;
beforeAll(async () => {
  site = await startSite();
  ottoline = await site.as('ottoline');
});
afterAll(() => site.stop());

const upload = (fileName: string, key: string, who = ottoline, base64 = 'QQ==') =>
  who.send('upload', { body: { fileName, base64 }, headers: { 'Idempotency-Key': key } });
const uploads = async (name: string): Promise<number> =>
  (await execute(site.databaseUrl, `select 1 from upload where file_name = '${name}'`)).length;

test('at once, one after the other, by others, and with other content', async () => {
  const key = randomUUID();
  const answers = await Promise.all([upload('twice.txt', key), upload('twice.txt', key), upload('twice.txt', key)]);
  expect(answers.map(({ status }) => status)).toEqual([200, 200, 200]);
  const bodies = await Promise.all([...answers, await upload('twice.txt', key)].map((answer) => answer.json()));
  expect(new Set(bodies.map((body) => JSON.stringify(body))).size).toBe(1);
  expect(await uploads('twice.txt')).toBe(1);
  expect((await upload('another.txt', key)).status).toBe(409);
  expect((await upload('twice.txt', key, await site.as('mirela'))).status).toBe(409);
  expect((await upload('third.txt', 'no-uuid')).status).toBe(400);
  expect([await uploads('another.txt'), await uploads('third.txt')]).toEqual([0, 0]);
});

test('what failed can be sent again; what a process left when it died is taken up after a while', async () => {
  const empty = randomUUID();
  const failed = async () => (await upload('empty.txt', empty, ottoline, '')).status;
  const first = await failed();
  expect(first).toBeGreaterThanOrEqual(400);
  expect(await failed()).toBe(first);
  const key = randomUUID();
  expect((await upload('left.txt', key)).status).toBe(200);
  await execute(
    site.databaseUrl,
    `update outside_request set outcome = '{"since": "begun"}', made_at = now() - interval '2 minutes' where request_id = '${key}'`,
  );
  expect((await upload('left.txt', key)).status).toBe(200);
  expect(await uploads('left.txt')).toBe(2);
});
