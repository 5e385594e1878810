import { randomUUID } from 'node:crypto';
import { addDays } from '@gate-roster/core';
import { createTransport } from 'nodemailer';
import { startMailStandIn } from '../letters/mail-stand-in.ts';
import { plainMessage, toGroup } from '../testing/outside-changes.ts';
import { type Client, execute, type Site, startSite } from '../testing/site.ts';
import { tellAll } from './tell.ts';

/* What a message has beside its words, letters that come back, and what members are told of their group. */
const gullhaven = 3;
const inshore = 4;
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

async function write(values: object, groupId = inshore, who = ottoline): Promise<number> {
  const change = {
    kind: 'send-message' as const,
    groupId,
    audience: toGroup(groupId),
    values: { ...plainMessage, title: 'Parts', ...values },
  };
  await who.apply(change);
  const [made] = await query<{ id: number }>(`select max(message_id)::int as id from message_version`);
  return made?.id ?? 0;
}
const sheetOf = (messageId: number) => ottoline.call('message', { params: { messageId } });
const mineOf = async (messageId: number, who = bao) => (await who.call('myMessages', {})).messages.find(({ id }) => id === messageId);
const until = async (isSo: () => Promise<boolean>): Promise<void> => {
  while (!(await isSo())) await new Promise((resolve) => setTimeout(resolve, 50));
};

test('a task is done by handing in the work it asks for, before or after it was written, and not by a tick', async () => {
  const [activity] = await query<{ id: number; course: number }>(
    `select id::int, course_id::int as course from activity_now where course_id = 5 and finished_by = 'marker'`,
  );
  const activityId = activity?.id ?? 0;
  const messageId = await write({ kind: 'task', dueDay: addDays(today, 3), activityId });
  expect((await mineOf(messageId))?.activity?.courseId).toBe(activity?.course);
  expect((await bao.send('readMessage', { params: { messageId }, body: { done: true } })).status).toBe(400);
  const before = (await sheetOf(messageId)).reached.done;
  await bao.call('saveWork', { params: { activityId }, body: { words: 'Bow line first.', link: null, skillIds: [], handIn: true } });
  expect((await sheetOf(messageId)).reached.done).toBe(before + 1);
  expect((await mineOf(messageId))?.isDone).toBe(true);
  expect((await mineOf(await write({ kind: 'task', activityId })))?.isDone).toBe(true);
  const refused = await ottoline.send('look', {
    body: {
      change: {
        kind: 'send-message',
        groupId: inshore,
        audience: toGroup(inshore),
        values: { ...plainMessage, kind: 'task', activityId: 1 },
      },
    },
  });
  expect(refused.status).toBe(404);
});

test('a question takes own words, hides who chose, shows its tally to whom it says, and closes with its day', async () => {
  const messageId = await write({
    kind: 'question',
    choices: ['Tuesday', 'Wednesday'],
    ownWords: true,
    isNamed: false,
    tally: 'who chose',
    dueDay: today,
    closes: true,
  });
  expect(await mineOf(messageId)).toMatchObject({ tally: null, ownWords: '', isOver: false });
  await bao.call('readMessage', { params: { messageId }, body: { choices: [1], ownWords: ' After eight ' } });
  expect(await mineOf(messageId)).toMatchObject({ tally: [0, 1], ownWords: 'After eight', chosen: [1] });
  expect(await sheetOf(messageId)).toMatchObject({ ownWords: [{ words: 'After eight', by: null }], isNamed: false });
  expect((await ottoline.send('messageReaders', { params: { messageId }, query: { list: 'chose', choice: 1 } })).status).toBe(404);
  await query(`update message_version set due_day = current_date - 2 where message_id = ${messageId}`);
  expect(await mineOf(messageId)).toMatchObject({ isOver: true });
  expect((await bao.send('readMessage', { params: { messageId }, body: { choices: [0] } })).status).toBe(400);
  // A tally for everybody comes once the day is past.
  const later = await write({ kind: 'question', choices: ['Yes', 'No'], tally: 'after due', dueDay: today });
  await bao.call('readMessage', { params: { messageId: later }, body: { choices: [0] } });
  expect((await mineOf(later))?.tally).toBeNull();
  await query(`update message_version set due_day = current_date - 2 where message_id = ${later}`);
  expect((await mineOf(later))?.tally).toEqual([1, 0]);
});

test('a file goes to those whom the message reaches and who lead there; nobody sends what another uploaded', async () => {
  const upload = (who: Client) =>
    who.call('upload', { body: { fileName: 'tides.txt', base64: Buffer.from('High water 14:10').toString('base64') } });
  const [own, foreign] = [await upload(ottoline), await upload(mirela)];
  const messageId = await write({ fileIds: [own.id], tags: ['Tides', ' Tides '] });
  expect(await sheetOf(messageId)).toMatchObject({ files: [{ id: own.id, name: 'tides.txt' }], tags: ['Tides'] });
  const at = (who: Client, fileId = own.id) => who.send('messageFile', { params: { messageId, fileId } });
  expect(await (await at(bao)).text()).toBe('High water 14:10');
  expect((await at(ottoline)).headers.get('content-disposition')).toContain('attachment');
  expect((await at(bao, foreign.id)).status).toBe(404);
  const stolen = { ...plainMessage, fileIds: [foreign.id] };
  const look = { body: { change: { kind: 'send-message', groupId: inshore, audience: toGroup(inshore), values: stolen } } };
  expect((await ottoline.send('look', look)).status).toBe(404);
  const { messages, tags } = await ottoline.call('messages', { params: { groupId: gullhaven }, query: { tag: 'Tides' } });
  expect(messages.map(({ id }) => id)).toEqual([messageId]);
  expect(tags).toContain('Tides');
});

test('who comes later sees what was written to the group, unless it was for those who were in it then', async () => {
  const [outside] = await query<{ id: number; name: string }>(
    `select p.id::int, n.sign_in_name as name from person p join personal_now n on n.person_id = p.id where p.counted and n.sign_in_name is not null and p.role = 'none'
       and not exists (select 1 from membership m where m.person_id = p.id and m.until_at is null and m.group_id in (select group_id from group_branch where ancestor_id = ${gullhaven})) order by 1 limit 1`,
  );
  const live = await write({});
  await ottoline.apply({
    kind: 'send-message',
    groupId: inshore,
    audience: { ...toGroup(inshore), onlyNow: true },
    values: { ...plainMessage, title: 'For now' },
  });
  expect((await sheetOf(live + 1)).reached.people).toBe((await sheetOf(live)).reached.people);
  await mirela.apply({ kind: 'add-members', groupId: inshore, personIds: [outside?.id ?? 0], firstDay: null, lastDay: null });
  const late = await site.letIn(outside?.name ?? '');
  const titles = (await late.call('myMessages', {})).messages.map(({ title }) => title);
  expect(titles).toContain('Parts');
  expect(titles).not.toContain('For now');
});

test('a thread that is closed takes no answer until it is opened again', async () => {
  const messageId = await write({});
  const answer = () => bao.send('answerMessage', { params: { messageId }, body: { words: 'Here.', requestId: randomUUID() } });
  await ottoline.call('closeThread', { params: { messageId }, body: { closed: true } });
  expect((await answer()).status).toBe(404);
  expect((await mineOf(messageId))?.answers).toBe(false);
  await ottoline.call('closeThread', { params: { messageId }, body: { closed: false } });
  expect((await answer()).status).toBe(200);
});

test('after three letters in a row that came back none about messages goes there, and the leaders are told; one click stops them too', async () => {
  const [person] = await query<{ id: number; key: string }>(
    `select p.id::int, p.stop_key as key from person p join personal_now n on n.person_id = p.id join membership m on m.person_id = p.id and m.until_at is null
     where m.group_id = ${inshore} and n.confirmed_email is not null and p.counted order by 1 limit 1`,
  );
  const id = person?.id ?? 0;
  await query(
    `update personal set email = 'old@gone.example', confirmed_email = 'old@gone.example' where person_id = ${id} and until_at is null`,
  );
  for (let time = 1; time <= 3; time++) {
    await query(
      `insert into letter (kind, person_id, address, subject, body) values ('messages', ${id}, 'old@gone.example', 'A', 'B'); notify gate_roster_work`,
    );
    await until(
      async () => (await query(`select 1 from address_bounce where address = 'old@gone.example' and in_a_row >= ${time}`)).length > 0,
    );
  }
  await until(async () => (await query(`select 1 from letter where kind = 'address fails'`)).length > 0);
  await write({ title: 'Fourth' });
  await tellAll({ db: site.deps.db, publicUrl: site.url, now: () => new Date() });
  expect(await query(`select 1 from letter where person_id = ${id} and subject = 'Fourth'`)).toEqual([]);
  const { letters, counts } = await ottoline.call('goingOut', { params: { groupId: inshore }, query: { state: 'bounced' } });
  expect(letters.filter((each) => each.person.id === id).map(({ hasStopped }) => hasStopped)).toContain(true);
  expect(counts.stopped).toBeGreaterThan(0);

  const oneClick = await fetch(`${site.url}/api/v1/letters/stop/${person?.key}`, {
    method: 'POST',
    headers: { 'content-type': 'application/x-www-form-urlencoded' },
    body: 'List-Unsubscribe=One-Click',
  });
  expect(oneClick.status).toBe(204);
  expect(await query(`select letters from person where id = ${id}`)).toEqual([{ letters: 'never' }]);
  await mirela.apply({ kind: 'erase-person', personId: id });
  expect(await query(`select 1 from address_bounce where address = 'old@gone.example'`)).toEqual([]);
});

test('who answers a letter by letter hears from their mail server where to answer', async () => {
  const standIn = await startMailStandIn(site.deps.db, {
    sender: 'Gate Roster <no-reply@roster.example>',
    publicUrl: 'https://roster.example',
  });
  const mail = createTransport(standIn.url);
  await expect(
    mail.sendMail({ from: 'bao@homes.example', to: 'no-reply@roster.example', subject: 'Re: Drill', text: 'Yes' }),
  ).rejects.toThrow('Answer at https://roster.example/my-messages');
  mail.close();
  await standIn.stop();
});

test('members are told what their leaders show, young learners have no name there, and nobody else is told', async () => {
  await ottoline.apply({ kind: 'show-members', groupId: gullhaven, kinds: ['came in', 'finished', 'scored'] });
  const [young] = await query<{ id: number }>(
    `select m.group_id::int as id from membership m join personal_now n on n.person_id = m.person_id join group_branch b on b.group_id = m.group_id join group_now y on y.id = b.ancestor_id and y.young_learners
     where n.sign_in_name = 'bao' and m.until_at is null limit 1`,
  );
  const groupId = young?.id ?? 0;
  const own = await bao.call('myHappenings', { params: { groupId }, query: {} });
  expect(own.isShown).toBe(true);
  expect(own.events.length).toBeGreaterThan(0);
  const names = new Set(own.events.map(({ person }) => person?.name ?? null));
  expect([...names].filter((name) => name !== null && name !== 'Bao Petrossian')).toEqual([]);
  expect(own.events.every(({ person }) => person === null || person.id === null)).toBe(true);
  const lead = await ottoline.call('happened', { params: { groupId }, query: { subgroups: 'no' } });
  expect(lead.events.some(({ person }) => person?.name)).toBe(true);
  await ottoline.apply({ kind: 'show-members', groupId: gullhaven, kinds: [] });
  expect(await bao.call('myHappenings', { params: { groupId }, query: {} })).toEqual({ isShown: false, events: [], next: null });
  expect((await bao.send('myHappenings', { params: { groupId: 20 }, query: {} })).status).toBe(404);
});
