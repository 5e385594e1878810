import { completion, addDays, type Day } from '@gate-roster/core';
import { sendReportLetters } from './report-letters.ts';
import { type Client, execute, type Site, startSite } from '../testing/site.ts';

/* A kept view by letter: to each leader the figures of their own branch, as long as somebody opens it. */

const gullhaven = 3;
let site: Site;
let mirela: Client;
let ottoline: Client;
let today: Day;
let viewId: number;
const query = <T extends object>(text: string): Promise<T[]> => execute<T>(site.databaseUrl, text);
const shown = { view: 'groups' as const, subgroups: 'yes' as const, filter: [], courseId: null, groups: [], sort: 'name' as const };
const params = () => ({ params: { viewId } });
beforeAll(async () => {
  site = await startSite();
  mirela = await site.as('mirela');
  ottoline = await site.as('ottoline');
  today = (await mirela.call('me', {})).today;
  await query(
    `insert into leadership (person_id, group_id, powers) select m.person_id, 7, '{seeProgress}' from membership m join personal_now n on n.person_id = m.person_id and n.sign_in_name is not null where m.group_id = 7 and m.until_at is null and m.person_id not in (select person_id from leadership) order by 1 limit 1`,
  );
  const people = `select person_id from leadership where until_at is null union select id from person where role = 'administrator'`;
  await query(
    `update personal set email = 'leader' || person_id || '@boats.example', confirmed_email = 'leader' || person_id || '@boats.example' where until_at is null and person_id in (${people})`,
  );
  // The demo world has one that goes out, too.
  await query('delete from report_letter');
  viewId = (await ottoline.call('keepView', { params: { groupId: gullhaven }, body: { name: 'All of it', forLeaders: false, shown } })).id;
});
afterAll(() => site.stop());

const idOf = async (name: string): Promise<number> =>
  (await query<{ id: number }>(`select person_id::int as id from personal_now where sign_in_name = '${name}'`))[0]?.id ?? 0;
const send = (day: Day): Promise<void> => sendReportLetters(site.deps, new Date(`${day}T12:00:00Z`));
const written = () =>
  query<{ person: number; subject: string; body: string; address: string }>(
    `select person_id::int as person, subject, body, address from letter where kind = 'report' order by id`,
  );

test('it goes to leaders of whom its owner knows, once a week, each with the figures of their own branch', async () => {
  const { leaders, letter } = await ottoline.call('viewLetter', params());
  expect(letter).toBeNull();
  const branch = (await query<{ id: number }>(`select group_id::int as id from group_branch where ancestor_id = ${gullhaven}`)).map(
    ({ id }) => id,
  );
  const inBranch = new Set(
    (
      await query<{ id: number }>(`select person_id::int as id from leadership where until_at is null and group_id in (${branch.join()})`)
    ).map(({ id }) => id),
  );
  expect(leaders.filter(({ id }) => !inBranch.has(id))).toEqual([]);
  const [crewLeader] = await query<{ id: number; groupId: number; name: string }>(`
    select l.person_id::int as id, l.group_id::int as "groupId", n.sign_in_name as name from leadership l join personal_now n on n.person_id = l.person_id and n.sign_in_name is not null
    where l.until_at is null and l.group_id in (${branch.filter((id) => id !== gullhaven).join()}) and 'seeProgress' = any(l.powers) order by l.person_id limit 1`);
  if (!crewLeader) throw new Error('nobody leads a crew');
  const readers = [await idOf('ottoline'), crewLeader.id];
  const outside =
    (await query<{ id: number }>(`select person_id::int as id from leadership where until_at is null and group_id = 20 limit 1`))[0]?.id ??
    0;
  expect((await ottoline.send('sendViewByLetter', { ...params(), body: { every: 'week', readers: [outside] } })).status).toBe(400);
  expect((await mirela.send('sendViewByLetter', { ...params(), body: { every: 'week', readers } })).status).toBe(404);
  await ottoline.call('sendViewByLetter', { ...params(), body: { every: 'week', readers } });
  await send(today);
  expect(await written()).toEqual([]);
  await Promise.all([send(addDays(today, 1)), send(addDays(today, 1))]);
  const letters = await written();
  expect(letters.map(({ person }) => person).sort()).toEqual([...readers].sort());
  const crew = await site.letIn(crewLeader.name);
  for (const [who, person, groupId] of [
    [ottoline, readers[0], gullhaven],
    [crew, crewLeader.id, crewLeader.groupId],
  ] as const) {
    const report = await who.call('progress', { params: { groupId }, query: {} });
    const body = letters.find((each) => each.person === person)?.body ?? '';
    expect(body).toContain(`${report.learners} of ${report.ofAll} learners`);
    expect(body).toContain(
      `${Math.round((completion(report.total) ?? 0) * 100)}% done: ${report.total.done} of ${report.total.all - report.total.exempt} courses`,
    );
  }
  const link = /\/report\/(\d+)/u.exec(letters[0]?.body ?? '')?.[1];
  const opened = await crew.call('openReportLetter', { params: { letterId: Number(link) } });
  expect([opened.name, opened.group.id]).toEqual(['All of it', crewLeader.groupId]);
  expect((await mirela.send('openReportLetter', { params: { letterId: Number(link) } })).status).toBe(404);
  await send(addDays(today, 7));
  expect(await written()).toHaveLength(letters.length);
  await send(addDays(today, 8));
  expect(await written()).toHaveLength(2 * letters.length);
});

test('readers who may not see it any more, want no letters, or have no confirmed address get none', async () => {
  const before = (await written()).length;
  await query(
    `update leadership set powers = '{manageCodes}' where until_at is null and group_id <> ${gullhaven} and person_id in (select person_id from report_letter_reader)`,
  );
  await query(`update person set letters = 'never' where id = ${await idOf('ottoline')}`);
  await send(addDays(today, 15));
  expect(await written()).toHaveLength(before);
  await query(`update person set letters = 'once a day'`);
});

test('when nobody opens it for three months it stops and says so, and can be started again', async () => {
  await query(`update report_letter set opened_at = null, asked_at = asked_at - interval '95 days'`);
  await send(addDays(today, 30));
  const told = (await written()).at(-1);
  expect([told?.person, told?.subject]).toEqual([await idOf('ottoline'), '“All of it” is not sent any more']);
  expect((await ottoline.call('viewLetter', params())).letter).toMatchObject({ isStopped: true });
  const count = (await written()).length;
  await send(addDays(today, 60));
  expect(await written()).toHaveLength(count);
  await ottoline.call('sendViewByLetter', { ...params(), body: { every: 'month', readers: [await idOf('ottoline')] } });
  expect((await ottoline.call('viewLetter', params())).letter).toMatchObject({ isStopped: false, every: 'month' });
  await ottoline.call('endViewLetter', params());
  expect((await ottoline.call('viewLetter', params())).letter).toBeNull();
});

test('an administrator who leads nobody can have it sent to themselves, if there is an address', async () => {
  const body = { name: 'Everybody', forLeaders: false, shown };
  const own = await mirela.call('keepView', { params: { groupId: gullhaven }, body });
  const me = await idOf('mirela');
  const first = async () => (await mirela.call('viewLetter', { params: { viewId: own.id } })).leaders[0];
  expect(await first()).toMatchObject({ id: me, group: '', hasAddress: true });
  await query(`update personal set confirmed_email = null where until_at is null and person_id = ${me}`);
  expect(await first()).toMatchObject({ id: me, hasAddress: false });
});
