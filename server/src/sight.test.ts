import { type Client, execute, type Site, startSite } from './testing/site.ts';

/* What a leader finds, sees, takes back and opens ends at the branch. */

let site: Site;
const gullhaven = 3;
/** What a statement about a course says when nothing is said. */
const plainWord = { withSubgroups: true, firm: false, firstDay: null, lastDay: null, units: null, due: null };

beforeAll(async () => {
  site = await startSite();
});
afterAll(() => site.stop());

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
      begin: [{ groupId: 7, courseId: 5, effect: 'block' as const, ...plainWord }],
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
      begin: [{ groupId: 7, courseId, effect: 'open' as const, ...plainWord }],
    });
    expect((await head.call('look', { body: { change: open(7) } })).conflicts).toMatchObject([{ code: 'course by leader', blocks: true }]);
    expect((await head.call('look', { body: { change: open(5) } })).conflicts).toEqual([]);
  });
});
