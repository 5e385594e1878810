import { type Change, routes } from '@gate-roster/contract';
import { crew, gullhaven, plainClose, plainNext } from '../testing/outside-changes.ts';
import { roster } from '../testing/derived.ts';
import { type Client, execute, type Site, startSite } from '../testing/site.ts';

/* The end of a period: a branch is closed as one change, and the next is made from it with its people moved up. */

let site: Site;
let mirela: Client;
let ottoline: Client;
beforeAll(async () => {
  site = await startSite();
  mirela = await site.as('mirela');
  ottoline = await site.as('ottoline');
});
afterAll(() => site.stop());

const query = <T extends object>(text: string) => execute<T>(site.databaseUrl, text);
const one = async (text: string): Promise<number> => Number((await query<{ n: string }>(text))[0]?.n ?? 0);
const branchOf = async (id: number): Promise<number[]> =>
  (await query<{ id: number }>(`select group_id::int as id from group_branch where ancestor_id = ${id} order by depth, group_id`)).map(
    (row) => row.id,
  );
const membersOf = async (id: number): Promise<number[]> =>
  (await query<{ id: number }>(`select person_id::int as id from membership where group_id = ${id} and until_at is null order by 1`)).map(
    (row) => row.id,
  );
/** The same without those who ask to join. */
const withoutAsking = (all: readonly unknown[]) =>
  JSON.stringify(all, (_, value: unknown) => (Array.isArray(value) ? value.filter((each) => !isAsking(each)) : value));
const isAsking = (each: unknown): boolean =>
  typeof each === 'object' &&
  each !== null &&
  ('code_id' in each || ('state' in each && 'person_id' in each)) &&
  asking.has(Number((each as { person_id?: number }).person_id));
const waiting = () =>
  one(
    `select count(*) as n from join_request where until_at is null and state = 'asking' and group_id in (select group_id from group_branch where ancestor_id = ${gullhaven})`,
  );
let asking = new Set<number>();
const look = (who: Client, change: Change) => who.call('look', { body: { change } });
const codes = async (who: Client, change: Change) =>
  (await look(who, change)).conflicts.filter(({ blocks }) => blocks).map(({ code }) => code);

test('a branch is closed as one change, and undone as a whole', async () => {
  const before = await roster(site);
  const codesOpen = await one(
    `select count(*) as n from join_code_version where until_at is null and not paused and group_ids <@ array(select group_id from group_branch where ancestor_id = ${gullhaven})`,
  );
  const asked = await query<{ id: number }>(
    `select person_id::int as id from join_request where until_at is null and state = 'asking' and group_id in (select group_id from group_branch where ancestor_id = ${gullhaven})`,
  );
  asking = new Set(asked.map(({ id }) => id));
  expect(codesOpen).toBeGreaterThan(0);
  expect(asking.size).toBeGreaterThan(0);
  const change: Change = { ...plainClose(gullhaven), asking: { word: 'Until next year.' }, people: { do: 'end' } };
  const seen = await look(ottoline, change);
  expect(seen.losing).toBeGreaterThan(50);
  const period = await ottoline.call('period', { params: { groupId: gullhaven } });
  expect([period.asking, seen.changedPeople]).toEqual([asking.size, period.onlyHere]);
  const { changeId } = await ottoline.apply(change);
  expect(
    await one(
      `select count(*) as n from person where counted and set_id in (select set_id from set_in_branch where ancestor_id = ${gullhaven})`,
    ),
  ).toBe(0);
  const after = await ottoline.call('period', { params: { groupId: gullhaven } });
  expect(after).toMatchObject({
    lastDay: '2020-01-01',
    codes: 0,
    invitations: 0,
    asking: 0,
    rules: 0,
    reminders: expect.any(Number) as number,
    splits: 0,
    closed: { changeId, canUndo: true },
  });
  await ottoline.apply({ kind: 'undo', changeId });
  // What was refused stays refused; all else is as it was.
  expect(await waiting()).toBe(0);
  expect(withoutAsking(await roster(site))).toEqual(withoutAsking(before));
});

test('a report is kept as it stood, for whoever kept it alone', async () => {
  const shown = { view: 'groups' as const, subgroups: 'yes' as const, filter: [], courseId: null, groups: [], sort: 'name' as const };
  const body = { name: 'Gullhaven, closed', forLeaders: false, shown, frozen: true };
  const { id } = await ottoline.call('keepView', { params: { groupId: gullhaven }, body });
  const kept = await ottoline.call('keptTable', { params: { viewId: id } });
  expect(kept.lines.length).toBe((await branchOf(gullhaven)).length);
  const { changeId } = await mirela.apply({ ...plainClose(gullhaven), asking: null });
  expect(await ottoline.call('keptTable', { params: { viewId: id } })).toEqual(kept);
  await mirela.apply({ kind: 'undo', changeId });
  expect((await mirela.send('keptTable', { params: { viewId: id } })).status).toBe(404);
  // What is frozen is for oneself, and holds no names.
  for (const wrong of [
    { ...body, forLeaders: true },
    { ...body, shown: { ...shown, view: 'learners' as const } },
  ])
    expect(routes.keepView.body.safeParse(wrong).success).toBe(false);
});

test('the next period is like the one before, its days a year on, and everybody goes where the table says, once', async () => {
  const branch = await branchOf(gullhaven);
  const before = await roster(site);
  const closed = await mirela.apply({ ...plainClose(gullhaven), lastDay: '2999-07-31', asking: null });
  const [top, ...below] = branch;
  const [first = 0, second = 0] = below;
  // All of the first group go on to the second, those of the second leave, and everybody else stays in a group of the same name.
  const next: Change = {
    ...plainNext(gullhaven, 2, branch, 'Gullhaven 2'),
    moves: branch.map((fromId) => ({ fromId, toCopyOf: fromId === first ? second : fromId === second ? null : fromId })),
  };
  const people = new Map<number, number[]>();
  for (const id of branch) people.set(id, await membersOf(id));
  const seen = await look(mirela, next);
  expect(seen.groups.made).toBe(branch.length);
  const { changeId } = await mirela.apply(next);
  const copies = await query<{ id: number; name: string; parent: string; last: string | null }>(
    `select g.id::int, g.name, p.name as parent, g.last_day::text as last from group_now g join group_now p on p.id = g.parent_id where g.id in (select b.group_id from group_branch b join group_now t on t.id = b.ancestor_id where t.name = 'Gullhaven 2')`,
  );
  expect(copies).toHaveLength(branch.length);
  expect(copies.find(({ name }) => name === 'Gullhaven 2')?.last).toBe('3000-07-31');
  const names = new Map(
    (await query<{ id: number; name: string }>(`select id::int, name from group_now`)).map(({ id, name }) => [id, name]),
  );
  const copyOf = (id: number): number => copies.find(({ name }) => name === (id === top ? 'Gullhaven 2' : names.get(id)))?.id ?? 0;
  for (const id of branch) {
    expect(await membersOf(id)).toEqual([]);
    const came = id === first ? [] : id === second ? (people.get(first) ?? []) : (people.get(id) ?? []);
    expect([id, await membersOf(copyOf(id))]).toEqual([id, came]);
  }
  const statements = (groups: string) => one(`select count(*) as n from access_grant where until_at is null and group_id in (${groups})`);
  expect(await statements(copies.map(({ id }) => id).join())).toBe(await statements(branch.join()));
  const leads = (groups: string) => one(`select count(*) as n from leadership where until_at is null and group_id in (${groups})`);
  expect(await leads(copies.map(({ id }) => id).join())).toBe(await leads(branch.join()));
  const [reused] = await query<{ n: string }>(
    `select count(*) as n from join_code_version a join join_code_version b on b.code_key = a.code_key and b.code_id <> a.code_id and b.until_at is null where a.until_at is null`,
  );
  expect(Number(reused?.n)).toBe(0);

  // The close can be undone again only after the next period is.
  expect(await codes(mirela, { kind: 'undo', changeId: closed.changeId })).toEqual(['next has begun']);
  await mirela.apply({ kind: 'undo', changeId });
  await mirela.apply({ kind: 'undo', changeId: closed.changeId });
  expect(await roster(site)).toEqual(before);
});

test('a table with a missing, doubled or foreign row makes nothing, and a leader moves nobody elsewhere', async () => {
  const branch = await branchOf(gullhaven);
  const [top = 0] = branch;
  const next = plainNext(gullhaven, 2, branch);
  expect(await codes(mirela, { ...next, moves: next.moves.slice(1) })).toEqual(['row missing']);
  expect(await codes(mirela, { ...next, moves: [...next.moves, { fromId: top, toCopyOf: null }] })).toEqual(['row wrong']);
  expect(await codes(mirela, { ...next, moves: next.moves.map((row) => ({ ...row, toCopyOf: 12 })) })).toEqual(['row wrong']);
  expect(await codes(mirela, { ...next, name: 'Penmarrow' })).toEqual(['name taken']);
  const at = async (change: Change) => (await ottoline.send('look', { body: { change } })).status;
  expect(await at(next)).toBe(404);
  expect(await at(plainNext(crew, gullhaven, await branchOf(crew), 'Shore crew 2'))).toBe(200);
  expect(await at({ ...plainClose(crew), people: { do: 'move', intoId: 12 } })).toBe(404);
  expect(await at({ ...plainClose(gullhaven), people: { do: 'move', intoId: crew } })).toBe(404);
  expect(await codes(mirela, { ...plainClose(gullhaven), lastDay: '2999-01-01', seats: true })).toEqual(['seats in use']);
});
