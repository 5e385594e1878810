import type { Change } from '@gate-roster/contract';
import { addDays } from '@gate-roster/core';
import { turnDay } from '../day-turn.ts';
import { type Client, execute, type Site, startSite } from '../testing/site.ts';
import { tellSeats } from './tell-seats.ts';

/* Partner crews buy seats: 92 for boat handling, all in use, and five people in line. */

const partners = 38;
const boats = 1;
let site: Site;
let mirela: Client;
beforeEach(async () => {
  site = await startSite();
  mirela = await site.as('mirela');
});
afterEach(() => site.stop());

const query = <T extends object>(text: string): Promise<T[]> => execute<T>(site.databaseUrl, text);
const count = async (text: string): Promise<number> => Number((await query<{ n: string }>(`select count(*) as n from ${text}`))[0]?.n);
const listed = async (list: 'in use' | 'in line' | 'gave up', licence = boats): Promise<number[]> =>
  (await mirela.call('seatPeople', { params: { groupId: 1 }, query: { list, licence } })).people.map(({ id }) => id);
const look = (change: Change) => mirela.call('look', { body: { change } });
const seatsTo = (seats: number): Change => ({ kind: 'edit-licence', licenceId: boats, values: { seats } });
const adds = async (): Promise<void> => {
  const { inUse } = await mirela.call('ledger', { params: { groupId: 1 }, query: {} });
  expect(inUse.byLedger).toBe(inUse.counted);
};

test('who gives up a place waits no longer, also when seats come free, until they are put back at the end', async () => {
  const before = await listed('in line');
  const [first = 0, second = 0] = before;
  const change: Change = { kind: 'give-up-places', licenceId: boats, groupId: partners, personIds: [first, second] };
  expect((await look(change)).seats).toMatchObject({ leftLine: 2, fromLine: 0, ended: 0, inLine: 0 });
  const { changeId } = await mirela.apply(change);
  expect([await listed('in line'), (await listed('gave up')).toSorted()]).toEqual([before.slice(2), [first, second].toSorted()]);
  await mirela.apply(seatsTo(93));
  expect((await listed('in line')).length).toBe(2);
  const back: Change = { kind: 'give-seats', licenceId: boats, groupId: partners, personIds: [first] };
  expect((await look(back)).seats).toMatchObject({ inLine: 1, leftLine: 0 });
  await mirela.apply(back);
  expect((await listed('in line')).at(-1)).toBe(first);
  await mirela.apply({ kind: 'undo', changeId });
  expect([await listed('gave up'), (await listed('in line')).includes(second)]).toEqual([[], true]);
});

test('a seat moves to a licence that pays for the same, as far as that has room; its place goes to the line; undone only where there is room', async () => {
  await query(
    `update access_grant set other_licences = true where licences is not null; update entitlement set other_payers = true where payers is not null`,
  );
  const about = (await query<{ id: number }>(`select course_id::int as id from licence_now where licence_id = ${boats}`))[0]?.id ?? 0;
  await mirela.apply({
    kind: 'make-licence',
    values: {
      name: 'Reserve',
      seats: 0,
      about: { course: about },
      homeId: partners,
      firstDay: null,
      lastDay: null,
      onLeaving: 'comes back',
      byHand: true,
    },
  });
  const [reserve = 0] = (await query<{ id: number }>(`select max(licence_id)::int as id from licence_now`)).map(({ id }) => id);
  const [a = 0, b = 0, c = 0] = await listed('in use');
  const change: Change = { kind: 'move-seats', licenceId: boats, toLicenceId: reserve, groupId: partners, personIds: [a, b, c] };
  expect((await look(change)).conflicts).toMatchObject([{ code: 'licence full', blocks: true, count: 3 }]);
  await mirela.apply({ kind: 'edit-licence', licenceId: reserve, values: { seats: 2 } });
  const [waits = 0] = await listed('in line');
  const seen = await look(change);
  expect([seen.conflicts.map(({ code, blocks, count: n }) => [code, blocks, n]), seen.seats]).toMatchObject([
    [['licence full', false, 1]],
    { moved: 2, fromLine: 2, ended: 0 },
  ]);
  const { changeId } = await mirela.apply(change);
  expect([(await listed('in use', reserve)).toSorted(), (await listed('in use')).includes(waits)]).toEqual([[a, b].toSorted(), true]);
  await adds();
  const due = await count(`seat where until_at is null and person_id = ${a} and got_at = from_at`);
  expect(due).toBe(0);
  // Their old places are taken: nothing can go back, until there is room.
  expect((await look({ kind: 'undo', changeId })).conflicts).toMatchObject([{ code: 'changed since', blocks: true }]);
  await mirela.apply(seatsTo(200));
  expect((await look({ kind: 'undo', changeId })).seats).toMatchObject({ moved: 2, ended: 0 });
  await mirela.apply({ kind: 'undo', changeId });
  expect([await listed('in use', reserve), (await listed('in use')).filter((id) => id === a || id === b).length]).toEqual([[], 2]);
  await adds();
});

test('a licence takes back by itself what lies idle: at once when it is said, then by the turn of the day, once, and undone', async () => {
  const idle = await query<{ id: number }>(
    `select s.person_id::int as id from seat s where s.licence_id = ${boats} and s.until_at is null and s.got_at < now() - interval '100 days'
       and not exists (select 1 from enrolment e join licence_course k on k.course_id = e.course_id and k.licence_id = ${boats} where e.person_id = s.person_id and e.status <> 'not begun') order by 1`,
  );
  expect(idle.length).toBeGreaterThan(0);
  const edit: Change = { kind: 'edit-licence', licenceId: boats, values: { idleDays: 100 } };
  expect((await look(edit)).seats.ended).toBe(idle.length);
  await mirela.apply(edit);
  const held = new Set(await listed('in use'));
  expect(idle.every(({ id }) => !held.has(id))).toBe(true);
  // Another seat becomes idle: the next morning takes it.
  const [later = 0] = (
    await query<{ id: number }>(
      `update seat s set got_at = now() - interval '101 days' where s.row_id = (select t.row_id from seat t where t.licence_id = ${boats} and t.until_at is null
         and not exists (select 1 from enrolment e join licence_course k on k.course_id = e.course_id and k.licence_id = ${boats} where e.person_id = t.person_id and e.status <> 'not begun') order by 1 limit 1) returning person_id::int as id`,
    )
  ).map(({ id }) => id);
  const coming = await mirela.call('comingUp', { params: { groupId: 1 }, query: { kind: 'seats come back' } });
  expect(coming.lines.find(({ day }) => day === coming.lines[0]?.day)?.people).toBe(1);
  const tomorrow = addDays(new Date().toISOString().slice(0, 10), 1);
  await turnDay(site.deps.db, new Date(`${tomorrow}T12:00:00Z`));
  expect((await listed('in use')).includes(later)).toBe(false);
  const { entries } = await mirela.call('log', { query: {} });
  const [taken] = entries.filter(({ kind }) => kind === 'take-back-seats');
  expect([taken?.fields, taken?.counts['people']]).toEqual([['idle'], 1]);
  await mirela.apply({ kind: 'undo', changeId: taken?.id ?? 0 });
  expect((await listed('in line')).includes(later) || (await listed('in use')).includes(later)).toBe(true);
  await adds();
});

test('who gets a seat after waiting, loses one, or comes to the head of the line has one letter; who just joined has none', async () => {
  const tell = async (): Promise<void> => {
    while (await tellSeats({ db: site.deps.db, publicUrl: 'http://site.example' }));
  };
  await query(`update personal set confirmed_email = email where email is not null and until_at is null`);
  await query(`update person set letters = 'at once'`);
  await tell();
  const waiting = await listed('in line');
  const written = async (): Promise<string[]> =>
    (
      await query<{ title: string }>(
        `select l.person_id || ' ' || case when subject like 'You have%' then 'got' when subject like 'Your seat in%' then 'lost' else 'near' end as title from letter l where kind = 'seat' order by 1`,
      )
    ).map(({ title }) => title);
  await query(`delete from letter where kind = 'seat'`);
  const [loser = 0] = await listed('in use');
  await query(`update personal set email = 'p' || person_id || '@crew.example', confirmed_email = 'p' || person_id || '@crew.example'
    where until_at is null and person_id = any(array[${[...waiting, loser].join()}])`);
  await mirela.apply({ kind: 'take-back-seats', licenceId: boats, groupId: partners, personIds: [loser], idleDays: null });
  // The server's own work may have them in hand at this moment.
  while ((await count('seat_news')) > 0) await tell();
  const [first, , , fourth] = waiting;
  expect(await written()).toEqual([`${first ?? 0} got`, `${loser} lost`, `${fourth ?? 0} near`].toSorted());
  await tell();
  expect((await written()).length).toBe(3);
  expect(await count('seat_news')).toBe(0);
});
