import { presets } from '@gate-roster/core';
import { randomUUID } from 'node:crypto';
import { type Client, execute, type Site, startSite } from '../testing/site.ts';

/* A new client: group, leader, courses, seats and join code as one change. */
const partners = 'Partner crews';
let site: Site;
let mirela: Client;
let parentId = 0;
const query = <T extends object>(text: string): Promise<T[]> => execute<T>(site.databaseUrl, text);

beforeEach(async () => {
  site = await startSite();
  mirela = await site.as('mirela');
  parentId = (await query<{ id: number }>(`select id::int from group_now where name = '${partners}'`))[0]?.id ?? 0;
});
afterEach(() => site.stop());

const client = (more: object = {}) => ({
  kind: 'make-client' as const,
  parentId,
  name: 'Lantern Ferries',
  firstDay: null,
  lastDay: null,
  leader: {
    who: { givenName: 'Ada', familyName: 'Lind', email: 'ada.lind@lantern.example' },
    powers: [...presets.head],
    firstDay: null,
    lastDay: null,
  },
  opens: [{ courseId: 10 }, { courseSetId: 1 }],
  seats: { how: 'own' as const, seats: 2 },
  code: true,
  ...more,
});

test('one letter goes out; whoever comes by its code has the courses and a seat, the third stands in line; undo takes it all back', async () => {
  const look = await mirela.call('look', { body: { change: client() } });
  expect({ made: look.groups.made, letters: look.letters, conflicts: look.conflicts }).toEqual({ made: 1, letters: 1, conflicts: [] });
  const { changeId } = await mirela.apply(client());
  const letters = await query<{ address: string; body: string }>(
    `select address, body from letter where address = 'ada.lind@lantern.example'`,
  );
  expect(letters).toHaveLength(1);
  const [made] = await query<{ id: number; code: string }>(
    `select g.id::int, v.code from group_now g join join_code_version v on v.group_id = g.id and v.until_at is null where g.name = 'Lantern Ferries'`,
  );
  const groupId = made?.id ?? 0;

  for (const family of ['One', 'Two', 'Three']) {
    const stranger = await site.as(null);
    const given = { givenName: 'Crew', familyName: family, email: '', idNumber: '', answers: {} };
    await stranger.call('join', {
      body: { code: made?.code ?? '', password: 'nine calm harbour seals', given, requestId: randomUUID() },
    });
  }
  const { licences } = await mirela.call('seats', { params: { groupId } });
  const own = licences.filter(({ home }) => home.id === groupId);
  expect(own.map(({ name, groups }) => [name, groups[0]?.used, groups[0]?.inLine])).toEqual([
    ['Lantern Ferries: Tower lookout', 2, 1],
    ['Lantern Ferries: Basics', 2, 1],
  ]);
  const { group } = { group: await mirela.call('group', { params: { groupId } }) };
  expect(group.leaders.map(({ name }) => name)).toEqual(['Ada Lind']);
  expect(group.courses.open).toBeGreaterThan(4);

  // The three came since, so undo says what stands in its way, and takes back the rest.
  const undo = await mirela.call('look', { body: { change: { kind: 'undo', changeId } } });
  expect(undo.conflicts.length).toBeGreaterThan(0);
});

test('undone before anybody came, nothing is left of it', async () => {
  const standing = () =>
    query(`select (select count(*) from group_now) as groups, (select count(*) from licence_now) as licences, (select count(*) from access_grant where until_at is null) as grants,
      (select count(*) from join_code_version where until_at is null) as codes, (select count(*) from leadership where until_at is null) as leaders`);
  const before = await standing();
  const { changeId } = await mirela.apply(client());
  expect(await standing()).not.toEqual(before);
  await mirela.apply({ kind: 'undo', changeId });
  expect(await standing()).toEqual(before);
});

test('a share of a licence above is a limit; what does not cover, or stands elsewhere, is not there', async () => {
  const [above] = await query<{ id: number; course: number }>(
    `select l.licence_id::int as id, c.course_id::int as course from licence_now l join licence_course c on c.licence_id = l.licence_id
     where l.group_id in (select ancestor_id from group_branch where group_id = ${parentId}) order by 1 limit 1`,
  );
  const share = { opens: [{ courseId: above?.course ?? 0 }], seats: { how: 'limit' as const, licenceId: above?.id ?? 0, most: 3 } };
  await mirela.apply(client(share));
  const [limit] = await query<{ most: number; licences: number[] }>(
    `select s.most, g.licences from seat_limit s join group_now n on n.id = s.group_id join access_grant g on g.group_id = n.id and g.until_at is null where n.name = 'Lantern Ferries' and s.until_at is null`,
  );
  expect(limit?.most).toBe(3);
  expect(limit?.licences.map(Number)).toEqual([above?.id]);
  const wrong = { ...share, opens: [{ courseId: 13 }], name: 'Another' };
  expect((await mirela.send('look', { body: { change: client(wrong) } })).status).toBe(404);
});
