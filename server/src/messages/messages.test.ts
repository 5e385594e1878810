import { addDays } from '@gate-roster/core';
import { randomUUID } from 'node:crypto';
import { plainMessage, toGroup } from '../testing/outside-changes.ts';
import { type Client, execute, type Site, startSite } from '../testing/site.ts';
import { tellAll } from './tell.ts';

/* Writing to groups and people: who sees what, who hears of it by letter and how often, and where a leader's word ends. */
const gullhaven = 3;
const inshore = 4;
const ternholm = 20;
let site: Site;
let mirela: Client;
let ottoline: Client;
let bao: Client;
const query = <T extends object>(text: string): Promise<T[]> => execute<T>(site.databaseUrl, text);
const today = new Date().toISOString().slice(0, 10);

beforeEach(async () => {
  site = await startSite();
  [mirela, ottoline, bao] = [await site.as('mirela'), await site.as('ottoline'), await site.as('bao')];
});
afterEach(() => site.stop());

const write = (who: Client, groupId: number, values: object = {}, audience: object = toGroup(groupId)) =>
  who.apply({ kind: 'send-message', groupId, audience, values: { ...plainMessage, title: 'Boat check', ...values } } as Parameters<
    Client['apply']
  >[0]);
const mine = async (who: Client = bao) => (await who.call('myMessages', {})).messages.find(({ title }) => title === 'Boat check');
const sheet = async (who: Client = ottoline) => {
  const { messages } = await who.call('messages', { params: { groupId: gullhaven } });
  const id = messages.find(({ title }) => title === 'Boat check')?.id ?? 0;
  return who.call('message', { params: { messageId: id } });
};
/** As if so many days had gone by; the site itself tells as well, of today. */
const tell = (days: number) =>
  tellAll({ db: site.deps.db, publicUrl: 'http://site.example', now: () => new Date(Date.now() + days * 86_400_000) });
const letters = (address: string) =>
  query<{ subject: string; body: string }>(
    `select subject, body from letter where address = '${address}' and kind = 'messages' and made_at > now() - interval '1 hour' order by id`,
  );
/** Somebody of the Inshore crew with a confirmed address, and no young learner. */
const addressed = async (): Promise<{ id: number; email: string }> => {
  const [found] = await query<{ id: number; email: string }>(`
    select n.person_id::int as id, n.confirmed_email as email from personal_now n join person p on p.id = n.person_id and p.counted join membership m on m.person_id = p.id and m.until_at is null
    where m.group_id = ${inshore} and n.confirmed_email is not null and not exists (
      select 1 from membership o join group_branch b on b.group_id = o.group_id join group_now g on g.id = b.ancestor_id where o.person_id = p.id and o.until_at is null and g.young_learners) order by 1 limit 1`);
  return found ?? { id: 0, email: '' };
};

test('everybody of the branch sees it, who comes later too, and answers go round; withdrawn, it is nowhere', async () => {
  const { changeId } = await write(ottoline, gullhaven);
  expect(await mine()).toMatchObject({ isSeen: false, isCommon: true });
  const { id } = await sheet();
  await bao.call('readMessage', { params: { messageId: id }, body: {} });
  await bao.call('answerMessage', { params: { messageId: id }, body: { words: 'At home?', requestId: randomUUID() } });
  const { reached, thread } = await sheet();
  expect(reached.seen).toBe(1);
  expect(reached.people).toBe((await ottoline.call('progress', { params: { groupId: gullhaven } })).ofAll);
  expect(thread.map(({ words, by }) => [words, by])).toEqual([['At home?', 'Bao Petrossian']]);

  await ottoline.call('hideAnswer', { params: { messageId: id, answerId: thread[0]?.id ?? 0 }, body: { hidden: true } });
  expect((await mine())?.thread).toEqual([]);

  await ottoline.apply({ kind: 'undo', changeId });
  expect(await mine()).toBeUndefined();
  expect((await ottoline.send('message', { params: { messageId: id } })).status).toBe(404);
});

test('a task is ticked, a question is answered once or several times as it says', async () => {
  await write(ottoline, inshore, { kind: 'task', dueDay: addDays(today, 5) });
  const { id } = await sheet();
  await bao.call('readMessage', { params: { messageId: id }, body: { done: true } });
  expect((await sheet()).reached.done).toBe(1);
  await bao.call('readMessage', { params: { messageId: id }, body: { done: false } });
  expect((await sheet()).reached.done).toBe(0);
  expect((await bao.send('readMessage', { params: { messageId: id }, body: { choices: [0] } })).status).toBe(400);

  await write(ottoline, inshore, { title: 'Which evening?', kind: 'question', choices: ['Tuesday', 'Wednesday'] });
  const { messages } = await bao.call('myMessages', {});
  const question = messages.find(({ title }) => title === 'Which evening?');
  const params = { messageId: question?.id ?? 0 };
  expect((await bao.send('readMessage', { params, body: { choices: [0, 1] } })).status).toBe(400);
  expect((await bao.send('readMessage', { params, body: { choices: [2] } })).status).toBe(400);
  await bao.call('readMessage', { params, body: { choices: [1] } });
  expect((await ottoline.call('message', { params })).choices.map(({ people }) => people)).toEqual([0, 1]);
  const { people } = await ottoline.call('messageReaders', { params, query: { list: 'chose', choice: 1 } });
  expect(people.map(({ name }) => name)).toEqual(['Petrossian, Bao']);
});

test('at most one letter a day, however many groups and messages; urgent ones go at once; stopped by the key in it', async () => {
  const { id, email } = await addressed();
  // Today's letter has gone already.
  await query(`update person set digest_day = '${today}' where id = ${id}`);
  await write(ottoline, gullhaven);
  await write(ottoline, inshore, { title: 'Second' });
  // The site itself puts down whom they are for; what it has in hand, others pass over.
  while (
    (await query(`select 1 from message m join message_version v on v.message_id = m.id where m.told_at is null and v.sent_at <= now()`))
      .length > 0
  )
    await new Promise((resolve) => setTimeout(resolve, 50));
  await tell(1);
  await write(ottoline, inshore, { title: 'Third' });
  await tell(1);
  expect((await letters(email)).map(({ subject }) => subject)).toEqual(['2 messages from Brannoch Isles Rescue']);
  await write(ottoline, inshore, { title: 'Storm', urgent: true });
  // The site itself may have it in hand.
  while ((await letters(email)).length < 2) await new Promise((resolve) => setTimeout(resolve, 50));
  expect((await letters(email)).map(({ subject }) => subject)).toEqual(['2 messages from Brannoch Isles Rescue', 'Storm']);
  await tell(2);
  const all = await letters(email);
  expect(all.map(({ subject }) => subject).slice(2)).toEqual(['Third']);

  const key = /stop-letters#([0-9a-f-]+)/u.exec(all[0]?.body ?? '')?.[1] ?? '';
  const stranger = await site.as(null);
  await stranger.call('stopLetters', { body: { key } });
  await write(ottoline, inshore, { title: 'Fourth' });
  await tell(3);
  expect(await letters(email)).toHaveLength(3);
});

test('what was taken back before its letter leaves is in none; what is for later is on no page before', async () => {
  const { id, email } = await addressed();
  // Today's letter has gone already.
  await query(`update person set digest_day = '${today}' where id = ${id}`);
  const { changeId } = await write(ottoline, gullhaven);
  await ottoline.apply({ kind: 'undo', changeId });
  await write(ottoline, gullhaven, { sendAt: new Date(Date.now() + 1.5 * 86_400_000).toISOString() });
  await tell(1);
  expect(await letters(email)).toEqual([]);
  expect(await mine()).toBeUndefined();
  expect(await sheet()).toMatchObject({ isWaiting: true });
  await tell(2);
  expect(await letters(email)).toHaveLength(1);
});

test('a leader writes to their own, by name or filter, and to nobody else; another branch learns nothing of it', async () => {
  const { id: person } = await addressed();
  const [outside] = await query<{ id: number }>(
    `select person_id::int as id from membership where group_id = ${ternholm} and until_at is null order by 1 limit 1`,
  );
  const look = (audience: object, groupId = gullhaven) =>
    ottoline.send('look', { body: { change: { kind: 'send-message', groupId, audience, values: plainMessage } } });
  const statuses = await Promise.all([
    look({ to: 'people', personIds: [person] }),
    look({ to: 'people', personIds: [person, outside?.id ?? 0] }),
    look({ to: 'groups', groupIds: [gullhaven, ternholm], withSubgroups: true }),
    look(toGroup(ternholm), ternholm),
    look({ to: 'filter', withSubgroups: true, filter: [] }),
  ]);
  expect(statuses.map(({ status }) => status)).toEqual([200, 404, 404, 404, 200]);

  await write(ottoline, gullhaven, {}, { to: 'people', personIds: [person] });
  expect(await mine()).toBeUndefined();
  const { id, reached, isCommon } = await sheet();
  expect({ people: reached.people, isCommon }).toEqual({ people: 1, isCommon: false });
  // Who was not written to can neither look at it nor answer, by its number either.
  const guessed = { params: { messageId: id } };
  expect((await bao.send('readMessage', { ...guessed, body: {} })).status).toBe(404);
  expect((await bao.send('answerMessage', { ...guessed, body: { words: 'Hello', requestId: randomUUID() } })).status).toBe(404);
  expect(
    (await ottoline.send('writeAnswer', { ...guessed, body: { words: 'Hi', toPersonId: outside?.id ?? 0, requestId: randomUUID() } }))
      .status,
  ).toBe(404);

  await write(mirela, ternholm, { title: 'Of Ternholm' });
  const list = await ottoline.call('messages', { params: { groupId: gullhaven } });
  expect(list.messages.map(({ title }) => title)).not.toContain('Of Ternholm');
});

test('a look says whom it reaches and how; nobody, a day that is past and a question without choices stand in the way', async () => {
  const look = async (values: object, audience: object = toGroup(gullhaven)) =>
    ottoline.call('look', {
      body: { change: { kind: 'send-message', groupId: gullhaven, audience, values: { ...plainMessage, ...values } } as never },
    });
  const plain = await look({});
  expect(plain.reached).toBe((await ottoline.call('progress', { params: { groupId: gullhaven } })).ofAll);
  expect(plain.letters + plain.confirming).toBeLessThanOrEqual(plain.reached);
  expect(plain.letters).toBeGreaterThan(0);
  const codes = async (values: object, audience?: object) =>
    (await look(values, audience)).conflicts.filter(({ blocks }) => blocks).map(({ code }) => code);
  expect(await codes({ kind: 'task', dueDay: addDays(today, -1) })).toEqual(['day is past']);
  expect(await codes({ kind: 'question', choices: ['Yes'] })).toEqual(['too few choices']);
  const nobody = { to: 'filter', withSubgroups: true, filter: [{ part: 'words', text: 'zzzzzz' }] };
  expect(await codes({}, nobody)).toEqual(['reaches nobody']);
});
