import { type Change, type NewLeader, writeFilter } from '@gate-roster/contract';
import { randomUUID } from 'node:crypto';
import { type FilterPart, presets } from '@gate-roster/core';
import { everybodyIn } from '../testing/everybody-in.ts';
import { type Client, execute, type Site, startSite } from '../testing/site.ts';

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
const shoreCrew = 7;
const cadets = 8;
const all = <T extends object>(text: string, values: unknown[] = []): Promise<T[]> => execute<T>(site.databaseUrl, text, values);
const person = async (where: string): Promise<number> =>
  Number((await all<{ id: number }>(`select p.id from person p where ${where} order by 1 limit 1`))[0]?.id ?? 0);
const inGroup = (group: number): string =>
  `exists (select 1 from membership m where m.person_id = p.id and m.group_id = ${group} and m.until_at is null)`;
const alone = `(select count(*) from membership m where m.person_id = p.id and m.until_at is null) = 1 and not exists (select 1 from leadership l where l.person_id = p.id)`;
const leader = (who: NewLeader['who'], powers: NewLeader['powers'] = [...presets.head]): NewLeader => ({
  who,
  powers,
  firstDay: null,
  lastDay: null,
});
const putInCharge = (groupId: number, ...begin: NewLeader[]): Change => ({ kind: 'set-leaders', groupId, begin, end: [] });
const lastLink = async (address: string): Promise<string> =>
  /#(\S+)/u.exec(
    (await all<{ body: string }>(`select body from letter where address = $1 order by id desc limit 1`, [address]))[0]?.body ?? '',
  )?.[1] ?? '';

test('making a group with a leader who has no account makes and invites them in one step, and the letter signs them in once', async () => {
  const made = await mirela.apply({
    kind: 'make-groups',
    parentId: gullhaven,
    groups: [
      {
        name: 'Skerry light',
        within: null,
        like: null,
        leaders: [leader({ givenName: 'Ada', familyName: 'Lind', email: 'ada@lind.example' })],
      },
      {
        name: 'Night crew',
        within: 0,
        like: null,
        leaders: [leader({ givenName: '', familyName: '', email: 'ada@lind.example' }, ['seeProgress'])],
      },
    ],
  });
  const token = await lastLink('ada@lind.example');
  expect(await mirela.call('oneTime', { body: { token } })).toMatchObject({ name: 'Ada Lind' });
  const ada = await site.as(null);
  const me = await ada.call('useOneTime', { body: { key: { token }, password: 'a-password-of-her-own' } });
  expect(me.leaderships.map(({ name }) => name).sort()).toEqual(['Night crew', 'Skerry light']);
  expect((await ada.send('oneTime', { body: { token } })).status).toBe(410);
  // Others have built on it: she signed in, so her account is ended, not deleted, and the groups go.
  await mirela.apply({ kind: 'undo', changeId: made.changeId });
  expect((await mirela.call('tree', {})).groups.filter(({ name }) => name === 'Skerry light')).toEqual([]);
});

test('nobody gives or takes a power that they lack', async () => {
  await mirela.apply({
    kind: 'set-leaders',
    groupId: gullhaven,
    end: [],
    begin: [{ who: { personId: 2 }, powers: ['appointLeaders', 'seeProgress'], firstDay: null, lastDay: null }],
  });
  const other = await person(`${inGroup(shoreCrew)} and ${alone}`);
  const look = (powers: NewLeader['powers']) =>
    ottoline.call('look', { body: { change: putInCharge(shoreCrew, leader({ personId: other }, powers)) } });
  expect((await look(['openCourses'])).conflicts).toMatchObject([{ code: 'power lacked', blocks: true }]);
  expect((await look(['seeProgress'])).conflicts).toEqual([]);
});

test('a leader asks somebody from outside by exact address, and learns nothing of whether there was an account', async () => {
  const outsider = (
    await all<{ email: string; id: number }>(
      `select n.email, n.person_id::int as id from personal_now n where n.confirmed_email is not null and not exists (select 1 from membership m join group_branch b on b.group_id = m.group_id
       where m.person_id = n.person_id and b.ancestor_id = ${gullhaven}) and not exists (select 1 from credential c where c.person_id = n.person_id) and not exists (select 1 from leadership l where l.person_id = n.person_id) order by 2 limit 1`,
    )
  )[0];
  const type = (email: string): Change => ({
    kind: 'invite-people',
    groupIds: [shoreCrew],
    people: [{ givenName: 'Some', familyName: 'Body', email }],
    words: null,
  });
  const looks = [];
  for (const email of [outsider?.email ?? '', 'nobody@nowhere.example']) {
    const { digest, ...seen } = await ottoline.call('look', { body: { change: type(email) } });
    expect(digest).not.toBe('');
    looks.push({ ...seen, rows: seen.rows.map(({ outcome }) => outcome) });
    await ottoline.apply(type(email));
  }
  expect(looks[0]).toEqual(looks[1]);
  expect(looks[0]).toMatchObject({ letters: 1, newPeople: 0, joins: [], gains: [] });
  const { invited } = await ottoline.call('group', { params: { groupId: shoreCrew } });
  expect(invited.map(({ name, leads }) => [name, leads])).toEqual([
    ['Some Body', false],
    ['Some Body', false],
  ]);
  expect((await ottoline.send('person', { params: { personId: outsider?.id ?? 0 } })).status).toBe(404);

  // Both say yes: the one is in with the account there was, the other with a new one.
  const stranger = await site.as(null);
  const known = await stranger.call('invitationOf', { body: { token: await lastLink(outsider?.email ?? '') } });
  expect(known).toMatchObject({ group: 'Shore crew', isKnown: true });
  await stranger.call('acceptInvitation', {
    body: { requestId: randomUUID(), token: await lastLink(outsider?.email ?? ''), givenName: '', familyName: '', password: null },
  });
  expect((await stranger.send('me')).status).toBe(401);
  const fresh = await lastLink('nobody@nowhere.example');
  expect(
    (
      await stranger.send('acceptInvitation', {
        body: { requestId: randomUUID(), token: fresh, givenName: 'A', familyName: 'B', password: null },
      })
    ).status,
  ).toBe(400);
  expect(
    await stranger.call('acceptInvitation', {
      body: { requestId: randomUUID(), token: fresh, givenName: 'Noor', familyName: 'Adair', password: 'long enough it is' },
    }),
  ).toEqual({ isSignedIn: true });
  expect((await stranger.call('myCourses', {})).groups.map(({ name }) => name)).toEqual(['Shore crew']);
  expect((await ottoline.call('person', { params: { personId: outsider?.id ?? 0 } })).groups.map(({ cameBy }) => cameBy)).toEqual([
    'invitation',
  ]);
  expect((await ottoline.call('group', { params: { groupId: shoreCrew } })).invited).toEqual([]);
});

test('hand over: all that hangs on a leader goes to one successor, and a cover ends by itself', async () => {
  const successor = await person(`${inGroup(shoreCrew)} and ${alone}`);
  await mirela.apply({ kind: 'edit-group', groupId: cadets, values: { contactId: 2 } });
  const hangs = await mirela.call('hangingOn', { params: { personId: 2 } });
  expect(hangs).toMatchObject({ leads: [{ group: 'Gullhaven', others: 1 }], contact: [{ group: 'Cadets' }] });
  const lines = [
    { what: 'leads' as const, groupId: gullhaven, toId: successor },
    { what: 'contact' as const, groupId: cadets, toId: successor },
    ...hangs.codes.map(({ codeId, groupId }, index) => ({ what: 'code' as const, codeId, groupId, toId: index === 0 ? successor : null })),
  ];
  const codes = async () =>
    all<{ code_id: number; made_by: number }>(
      `select code_id::int, made_by::int from join_code_version where until_at is null and code_id in (1, 2, 4) order by 1`,
    );
  const codesBefore = await codes();
  expect(hangs.codes).toHaveLength(3);
  const days = { firstDay: '2031-01-01', lastDay: '2031-02-01' };
  await mirela.apply({ kind: 'hand-over', fromId: 2, lines: lines.slice(0, 1), cover: days });
  const led = async () =>
    all<{ person_id: number; first_day: unknown }>(
      `select person_id::int, first_day from leadership where group_id = ${gullhaven} and until_at is null order by row_id`,
    );
  expect((await led()).map(({ person_id }) => person_id)).toContain(2);
  expect((await mirela.call('person', { params: { personId: successor } })).leads).toMatchObject([
    { name: 'Gullhaven', lastDay: days.lastDay },
  ]);
  const { changeId } = await mirela.apply({ kind: 'hand-over', fromId: 2, lines, cover: null });
  expect((await mirela.call('hangingOn', { params: { personId: 2 } })).leads).toEqual([]);
  expect((await mirela.call('group', { params: { groupId: cadets } })).contact?.id).toBe(successor);
  // One code goes on under the successor's name, the others end with whoever made them.
  expect(await codes()).toEqual([{ code_id: hangs.codes[0]?.codeId, made_by: successor }]);
  // Without a power one leads nothing: the old head is a learner now, and comes back with the undo.
  expect((await ottoline.send('tree')).status).toBe(404);
  await mirela.apply({ kind: 'undo', changeId });
  expect((await ottoline.send('tree')).status).toBe(200);
  expect(await codes()).toEqual(codesBefore);
});

test('check what they see: the same answers as theirs, nothing can be changed, and it stands in the log', async () => {
  const theirs = await ottoline.call('tree', {});
  await mirela.call('seeAs', { body: { personId: 2 } });
  expect((await mirela.call('me', {})).seenBy).toBe('Mirela Aasen');
  expect(await mirela.call('tree', {})).toEqual(theirs);
  const refused = await Promise.all([
    mirela.send('apply', {
      body: { change: { kind: 'edit-group', groupId: shoreCrew, values: { name: 'X' } }, digest: '', requestId: crypto.randomUUID() },
    }),
    mirela.send('groupPeopleFile', { params: { groupId: gullhaven } }),
    mirela.send('launch', { params: { courseId: 1 } }),
    mirela.send('oneTimeSignIn', { params: { personId: 20 } }),
    mirela.send('makeList', { body: { name: 'x', personIds: [1] } }),
  ]);
  expect(refused.map(({ status }) => status)).toEqual([403, 403, 403, 403, 403]);
  expect((await mirela.send('look', { body: { change: { kind: 'edit-group', groupId: 2, values: { name: 'X' } } } })).status).toBe(404);
  await mirela.call('stopSeeing', {});
  const [entry] = (await mirela.call('log', {})).entries;
  expect(entry).toMatchObject({ kind: 'see-as', people: [{ id: 2 }], canUndo: false });
});

test('erasing empties the one place with personal values, keeps the counts, and is not undone', async () => {
  const gone = await person(`${inGroup(shoreCrew)} and ${alone} and exists (select 1 from enrolment e where e.person_id = p.id)`);
  const before = await mirela.call('person', { params: { personId: gone } });
  const renamed = await mirela.apply({ kind: 'edit-person', personId: gone, values: { givenName: 'Another' } });
  const { changeId } = await mirela.apply({ kind: 'erase-person', personId: gone });
  expect((await mirela.send('person', { params: { personId: gone } })).status).toBe(404);
  const everything = JSON.stringify(
    await Promise.all([
      all(`select * from personal where person_id = ${gone}`),
      all(`select to_jsonb(c) from change_log c`),
      all(`select to_jsonb(s) from change_subject s where person_id = ${gone}`),
      all(`select * from letter where person_id = ${gone}`),
    ]),
  );
  for (const value of [before.familyName, before.email, before.signInName, 'Another']) if (value) expect(everything).not.toContain(value);
  expect(await all(`select 1 from enrolment where person_id = ${gone}`)).not.toEqual([]);
  for (const id of [changeId, renamed.changeId]) {
    const look = await mirela.call('look', { body: { change: { kind: 'undo', changeId: id } } });
    expect(look.conflicts).toMatchObject([{ code: 'erased', blocks: true }]);
  }
});

test('two accounts of one person become one: groups, tags and progress join, and part again', async () => {
  const [kept, gone] = [
    await person(`${inGroup(shoreCrew)} and ${alone}`),
    await person(`${inGroup(cadets)} and ${alone} and exists (select 1 from enrolment e where e.person_id = p.id)`),
  ];
  const sheet = () => mirela.call('person', { params: { personId: kept } });
  const before = await sheet();
  const work = () =>
    all<{ course_id: number }>(
      `select course_id::int, person_id::int, round, is_current, status from enrolment where person_id in (${kept}, ${gone}) order by 1, 2, 3`,
    );
  const workBefore = await work();
  const { changeId } = await mirela.apply({ kind: 'merge-people', personId: kept, goneId: gone });
  const merged = await sheet();
  expect(merged.groups.map(({ name }) => name).sort()).toEqual(['Cadets', 'Shore crew']);
  expect(await all(`select 1 from enrolment where person_id = ${gone}`)).toEqual([]);
  expect((await mirela.call('person', { params: { personId: gone } })).state).toBe('ended');
  await mirela.apply({ kind: 'undo', changeId });
  expect(await work()).toEqual(workBefore);
  expect((await sheet()).groups.map(({ name }) => name)).toEqual(before.groups.map(({ name }) => name));
});

test('my lists hold people by name for their owner alone, and filter wherever people are listed', async () => {
  const { ids } = await mirela.call('chosenNumbers', { body: everybodyIn(shoreCrew) });
  const list = await mirela.call('makeList', { body: { name: 'To call', personIds: ids.slice(0, 3) } });
  const listed = await mirela.call('groupPeople', {
    params: { groupId: 1 },
    query: { filter: writeFilter([{ part: 'list', how: 'in', id: list.id }]) },
  });
  expect(listed.people.map(({ id }) => id).sort()).toEqual(ids.slice(0, 3).sort());
  expect(
    (
      await ottoline.call('groupPeople', {
        params: { groupId: gullhaven },
        query: { filter: writeFilter([{ part: 'list', how: 'in', id: list.id }]) },
      })
    ).people,
  ).toEqual([]);
  expect((await ottoline.send('dropList', { params: { listId: list.id } })).status).toBe(404);
});

test('tag filters: any, all, none; a tag of another branch does not exist for a leader', async () => {
  const { ids } = await mirela.call('chosenNumbers', { body: everybodyIn(shoreCrew) });
  const [a = 0, b = 0, c = 0] = ids;
  await ottoline.apply({ kind: 'tag-people', groupId: gullhaven, personIds: [a, b], add: ['Net menders'], remove: [] });
  await ottoline.apply({ kind: 'tag-people', groupId: gullhaven, personIds: [b, c], add: ['Night shift'], remove: [] });
  const { tags } = await ottoline.call('branchTags', { params: { groupId: gullhaven } });
  const [net = 0, night = 0] = ['Net menders', 'Night shift'].map((name) => tags.find((tag) => tag.name === name)?.id ?? 0);
  const shown = async (...filter: FilterPart[]) =>
    (await ottoline.call('groupPeople', { params: { groupId: shoreCrew }, query: { filter: writeFilter(filter) } })).people
      .map(({ id }) => id)
      .sort();
  const tagged = (how: 'any' | 'all' | 'none', ...tagIds: number[]): FilterPart => ({ part: 'tags', how, ids: tagIds });
  expect(await shown(tagged('any', net, night))).toEqual([a, b, c].sort());
  expect(await shown(tagged('all', net, night))).toEqual([b]);
  expect(await shown(tagged('any', net, night), tagged('none', night))).toEqual([a]);
  const other = await site.letIn(
    (
      await all<{ name: string }>(
        `select n.sign_in_name as name from leadership l join personal_now n on n.person_id = l.person_id join group_now g on g.id = l.group_id where g.name = 'Middle Sound' limit 1`,
      )
    )[0]?.name ?? '',
  );
  const middle = (await other.call('me', {})).homeGroupId ?? 0;
  expect((await other.call('branchTags', { params: { groupId: middle } })).tags.map(({ name }) => name)).not.toContain('Net menders');
});

test('somebody from elsewhere who is asked to lead leads once they say yes, with what they had there before', async () => {
  const [outsider] = await all<{ id: number; email: string }>(
    `select n.person_id::int as id, n.email from personal_now n where n.confirmed_email is not null and not exists (select 1 from leadership l where l.person_id = n.person_id)
     and not exists (select 1 from membership m join group_branch b on b.group_id = m.group_id where m.person_id = n.person_id and b.ancestor_id = ${gullhaven}) order by 1 limit 1`,
  );
  if (!outsider) throw new Error('somebody from elsewhere is needed');
  const who = { givenName: 'Some', familyName: 'Body', email: outsider.email };
  await ottoline.apply(putInCharge(shoreCrew, leader(who, ['seeProgress'])));
  // Before they answer, an administrator gives them another power there.
  await mirela.apply(putInCharge(shoreCrew, leader({ personId: outsider.id }, ['decideEntry'])));
  const powersThere = async (): Promise<string[] | undefined> =>
    (await mirela.call('group', { params: { groupId: shoreCrew } })).leaders.find(({ id }) => id === outsider.id)?.powers.toSorted();
  expect(await powersThere()).toEqual(['decideEntry']);
  const stranger = await site.as(null);
  await stranger.call('acceptInvitation', {
    body: { requestId: randomUUID(), token: await lastLink(outsider.email), givenName: '', familyName: '', password: null },
  });
  expect(await powersThere()).toEqual(['decideEntry', 'seeProgress']);
  expect((await ottoline.call('group', { params: { groupId: shoreCrew } })).invited).toEqual([]);
});
