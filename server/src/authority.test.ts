import { routes, type RouteName } from '@gate-roster/contract';
import { randomUUID } from 'node:crypto';
import { type Client, execute, type Site, startSite } from './testing/site.ts';

/*
 * Every route of the contract as everybody: administrator, head and helper of Gullhaven, head of another branch, learner, nobody.
 * It reads the route table, so a new route without a row here fails.
 */

type Who = 'administrator' | 'head' | 'helper' | 'other' | 'learner' | 'nobody';
const everybody: Who[] = ['administrator', 'head', 'helper', 'other', 'learner', 'nobody'];
type Expected = Record<Who, number>;
const is = (administrator: number, head: number, helper: number, other: number, learner: number, nobody: number): Expected => ({
  administrator,
  head,
  helper,
  other,
  learner,
  nobody,
});

const gullhaven = 3;
const change = (kind: object) => ({ body: { change: kind } });
const rename = { kind: 'rename-group', groupId: gullhaven, name: 'Gullhaven harbour' };
const inBranch = is(200, 200, 200, 404, 404, 401);

const rows: Record<RouteName, { given: (ids: Record<string, number>) => object; expected: Expected }[]> = {
  health: [{ given: () => ({}), expected: is(200, 200, 200, 200, 200, 200) }],
  live: [{ given: () => ({}), expected: is(200, 200, 200, 200, 200, 401) }],
  site: [{ given: () => ({}), expected: is(200, 200, 200, 200, 200, 200) }],
  beginSite: [
    {
      given: () => ({
        body: { organisation: 'X', givenName: 'Y', familyName: 'Z', signInName: 'w', password: 'long enough it is', timeZone: 'UTC' },
      }),
      expected: is(409, 409, 409, 409, 409, 409),
    },
  ],
  me: [{ given: () => ({}), expected: is(200, 200, 200, 200, 200, 401) }],
  signIn: [{ given: () => ({ body: { signInName: randomUUID(), password: 'x' } }), expected: is(401, 401, 401, 401, 401, 401) }],
  changePassword: [{ given: () => ({ body: { current: 'x', next: 'long enough it is' } }), expected: is(422, 422, 422, 422, 422, 401) }],
  tree: [{ given: () => ({}), expected: is(200, 200, 200, 200, 404, 401) }],
  group: [
    { given: () => ({ params: { groupId: gullhaven } }), expected: inBranch },
    { given: () => ({ params: { groupId: 2 } }), expected: is(200, 404, 404, 404, 404, 401) },
    { given: () => ({ params: { groupId: 999_999 } }), expected: is(404, 404, 404, 404, 404, 401) },
  ],
  groupPeople: [{ given: () => ({ params: { groupId: gullhaven } }), expected: inBranch }],
  groupPeopleFile: [{ given: () => ({ params: { groupId: gullhaven } }), expected: is(200, 200, 404, 404, 404, 401) }],
  person: [
    { given: ({ member }) => ({ params: { personId: member } }), expected: inBranch },
    { given: ({ elsewhere }) => ({ params: { personId: elsewhere } }), expected: is(200, 404, 404, 200, 404, 401) },
  ],
  branchTags: [{ given: () => ({ params: { groupId: gullhaven } }), expected: inBranch }],
  find: [{ given: () => ({ query: { q: 'a' } }), expected: is(200, 200, 200, 200, 404, 401) }],
  accessGrid: [{ given: () => ({ params: { groupId: gullhaven } }), expected: inBranch }],
  look: [
    { given: () => change(rename), expected: is(200, 200, 404, 404, 404, 401) },
    {
      given: ({ member }) => change({ kind: 'remove-members', groupId: gullhaven, personIds: [member] }),
      expected: is(200, 200, 404, 404, 404, 401),
    },
    {
      given: ({ elsewhere }) => change({ kind: 'add-members', groupId: gullhaven, personIds: [elsewhere], firstDay: null, lastDay: null }),
      expected: is(200, 404, 404, 404, 404, 401),
    },
    {
      given: () =>
        change({
          kind: 'grant-access',
          end: [],
          begin: [
            {
              groupId: gullhaven,
              courseId: 1,
              effect: 'block',
              withSubgroups: true,
              firm: false,
              firstDay: null,
              lastDay: null,
              units: null,
              due: null,
            },
          ],
        }),
      expected: is(200, 200, 404, 404, 404, 401),
    },
    {
      given: () =>
        change({
          kind: 'bring-in-roster',
          into: gullhaven,
          fileName: null,
          hasGroupColumn: false,
          dateOrder: 'dayFirst',
          rows: [{ row: 1, cells: { fullName: 'New Person' } }],
        }),
      expected: is(200, 404, 404, 404, 404, 401),
    },
    { given: ({ foreignChange }) => change({ kind: 'undo', changeId: foreignChange }), expected: is(200, 404, 404, 404, 404, 401) },
  ],
  lookPeople: [
    { given: () => ({ body: { change: rename, list: 'gains', courseId: null, after: null } }), expected: is(200, 200, 404, 404, 404, 401) },
  ],
  apply: [
    { given: () => ({ body: { change: rename, digest: 'another', requestId: randomUUID() } }), expected: is(409, 409, 404, 404, 404, 401) },
  ],
  log: [
    { given: () => ({}), expected: is(200, 200, 200, 200, 404, 401) },
    { given: () => ({ query: { groupId: gullhaven } }), expected: inBranch },
  ],
  progress: [{ given: () => ({ params: { groupId: gullhaven } }), expected: inBranch }],
  progressFile: [{ given: () => ({ params: { groupId: gullhaven } }), expected: is(200, 200, 404, 404, 404, 401) }],
  progressPeople: [{ given: () => ({ params: { groupId: gullhaven }, query: { courseId: 1 } }), expected: inBranch }],
  myCourses: [{ given: () => ({}), expected: is(200, 200, 200, 200, 200, 401) }],
  launch: [{ given: () => ({ params: { courseId: 4 } }), expected: is(404, 404, 404, 404, 200, 401) }],
  report: [{ given: () => ({ body: [] }), expected: is(400, 400, 400, 400, 400, 400) }],
  outline: [{ given: () => ({ params: { launchId: randomUUID() } }), expected: is(401, 401, 401, 401, 401, 401) }],
  signOut: [{ given: () => ({}), expected: is(204, 204, 204, 204, 204, 401) }],
};

let site: Site;
const clients = {} as Record<Who, Client>;
const ids: Record<string, number> = {};

beforeAll(async () => {
  site = await startSite();
  const leaderOf = async (group: string): Promise<string> => {
    const [found] = await execute<{ name: string }>(
      site.databaseUrl,
      `select n.sign_in_name as name from leadership l join personal_now n on n.person_id = l.person_id join group_now g on g.id = l.group_id where g.name = $1 order by array_length(l.powers, 1) limit 1`,
      [group],
    );
    return found?.name ?? '';
  };
  Object.assign(clients, {
    administrator: await site.as('mirela'),
    head: await site.as('ottoline'),
    helper: await site.letIn(await leaderOf('Gullhaven')),
    other: await site.letIn(await leaderOf('Middle Sound')),
    learner: await site.as('bao'),
    nobody: await site.as(null),
  });
  ids['member'] =
    (
      await execute<{ id: number }>(
        site.databaseUrl,
        `select person_id::int as id from membership where group_id = ${gullhaven} and until_at is null order by 1 limit 1`,
      )
    )[0]?.id ?? 0;
  // Somebody of Ternholm, which the head of Middle Sound sees and the head of Gullhaven does not.
  ids['elsewhere'] =
    (
      await execute<{ id: number }>(
        site.databaseUrl,
        `select m.person_id::int as id from membership m join group_branch b on b.group_id = m.group_id join group_now g on g.id = b.ancestor_id and g.name = 'Ternholm' where m.until_at is null
    and not exists (select 1 from membership o join group_branch c on c.group_id = o.group_id and c.ancestor_id = ${gullhaven} where o.person_id = m.person_id) order by 1 limit 1`,
      )
    )[0]?.id ?? 0;
  ids['foreignChange'] = (await clients.administrator.apply({ kind: 'rename-group', groupId: 38, name: 'Partner boats' })).changeId;
});
afterAll(() => site.stop());

test('the table has a row for every route', () => {
  expect(Object.keys(rows).sort()).toEqual(Object.keys(routes).sort());
});

// Signing out comes last, since it ends the sessions that the others use.
const ordered = (Object.keys(rows) as RouteName[]).sort((a, b) => Number(a === 'signOut') - Number(b === 'signOut'));
describe.each(ordered)('%s', (name) => {
  test.each(rows[name].map((row, index) => [index, row] as const))(
    'answers everybody as they may (%i)',
    async (_index, { given, expected }) => {
      const found = {} as Expected;
      for (const who of everybody) {
        const answer = await clients[who].send(name, given(ids));
        found[who] = answer.status;
        if (answer.status >= 400) expect(answer.headers.get('content-type')).toContain('application/problem+json');
        await answer.body?.cancel();
      }
      expect(found).toEqual(expected);
    },
  );
});

describe('a leader', () => {
  let head: Client;
  beforeAll(async () => {
    head = await site.as('ottoline');
  });

  test('finds, lists and counts nobody outside the branch', async () => {
    const inside = new Set(
      (
        await execute<{ id: number }>(
          site.databaseUrl,
          `select m.person_id::int as id from membership m join group_branch b on b.group_id = m.group_id where b.ancestor_id = ${gullhaven} and m.until_at is null`,
        )
      ).map(({ id }) => id),
    );
    for (const q of ['a', 'e', 'brannoch', 'BR-0', 'mirela']) {
      const { people, groups } = await head.call('find', { query: { q } });
      expect(people.filter(({ id }) => !inside.has(id))).toEqual([]);
      for (const group of groups) expect(group.path[0] ?? group.name).toBe('Gullhaven');
    }
    const { groups } = await head.call('tree', {});
    expect(groups.filter(({ parentId }) => parentId === null).map(({ name }) => name)).toEqual(['Gullhaven']);
    expect((await head.call('group', { params: { groupId: gullhaven } })).path.map(({ name }) => name)).toEqual(['Gullhaven']);
  });

  test('sees of somebody in two branches only this branch’s groups, courses and why', async () => {
    const [two] = await execute<{ id: number; shared: number }>(
      site.databaseUrl,
      `select m.person_id::int as id from membership m join group_branch b on b.group_id = m.group_id and b.ancestor_id = ${gullhaven}
      where m.until_at is null and exists (select 1 from membership o where o.person_id = m.person_id and o.until_at is null and o.group_id not in (select group_id from group_branch where ancestor_id = ${gullhaven})) order by 1 limit 1`,
    );
    const sheet = await head.call('person', { params: { personId: two?.id ?? 0 } });
    const tree = new Set((await head.call('tree', {})).groups.map(({ id }) => id));
    expect(sheet.groups.length).toBeGreaterThan(0);
    expect(sheet.groups.every(({ id }) => tree.has(id))).toBe(true);
    const named = sheet.courses.flatMap(({ why }) => why.flatMap(({ path }) => path?.id ?? []));
    expect(named.filter((id) => !tree.has(id))).toEqual([]);
    expect(sheet.courses.some(({ why }) => why.some(({ outside }) => outside))).toBe(true);
  });

  test('takes back only what was said in the name of their own branch', async () => {
    const { courses, rows: grid } = await head.call('accessGrid', { params: { groupId: gullhaven } });
    const cadets = grid.find(({ name }) => name === 'Cadets');
    const [block] = cadets?.cells[courses.findIndex(({ name }) => name === 'Boat handling 1')]?.grants ?? [];
    expect(block).toMatchObject({ effect: 'block', mayEnd: false });
    const end = { kind: 'grant-access' as const, begin: [], end: [block?.id ?? 0] };
    expect((await head.call('look', { body: { change: end } })).conflicts).toMatchObject([{ code: 'said from above', blocks: true }]);
    const open = {
      kind: 'grant-access' as const,
      end: [],
      begin: [
        {
          groupId: 7,
          courseId: 5,
          effect: 'block' as const,
          withSubgroups: true,
          firm: false,
          firstDay: null,
          lastDay: null,
          units: null,
          due: null,
        },
      ],
    };
    await head.apply(open);
    const own = (await head.call('accessGrid', { params: { groupId: 7 } })).rows.find(({ id }) => id === 7)?.cells[4]?.grants;
    expect(own).toMatchObject([{ effect: 'block', mayEnd: true }]);
    await head.apply({ kind: 'grant-access', begin: [], end: [own?.[0]?.id ?? 0] });
  });

  test('opens only courses that are open to their own group', async () => {
    const open = (courseId: number) => ({
      kind: 'grant-access' as const,
      end: [],
      begin: [
        {
          groupId: 7,
          courseId,
          effect: 'open' as const,
          withSubgroups: true,
          firm: false,
          firstDay: null,
          lastDay: null,
          units: null,
          due: null,
        },
      ],
    });
    expect((await head.call('look', { body: { change: open(7) } })).conflicts).toMatchObject([{ code: 'course by leader', blocks: true }]);
    expect((await head.call('look', { body: { change: open(5) } })).conflicts).toEqual([]);
  });
});
