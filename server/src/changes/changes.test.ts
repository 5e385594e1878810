import { type Change, writeFilter } from '@gate-roster/contract';
import { randomUUID } from 'node:crypto';
import { readFileSync } from 'node:fs';
import path from 'node:path';
import { detectColumns, mapRows, readTable } from '@gate-roster/core';
import { rebuildDerived } from '../database/rebuild.ts';
import { derived } from '../testing/derived.ts';
import { type Client, execute, type Site, startSite } from '../testing/site.ts';

let site: Site;
let mirela: Client;
beforeEach(async () => {
  site = await startSite();
  mirela = await site.as('mirela');
});
afterEach(() => site.stop());

const gullhaven = 3;
const shoreCrew = 7;
const cadets = 8;
const searchPatterns = 7;
const open = (groupId: number, courseId = searchPatterns, effect: 'open' | 'block' = 'open'): Change => ({
  kind: 'grant-access',
  end: [],
  begin: [{ groupId, courseId, effect, withSubgroups: true, firm: false, firstDay: null, lastDay: null, units: null, due: null }],
});
function autumnIntake(): Change {
  const table = readTable(readFileSync(path.join(import.meta.dirname, '../../../demo/samples/autumn-intake-north.csv')));
  if ('problem' in table) throw new Error(table.problem);
  const fields = detectColumns(table).columns.map(({ field }) => field);
  return {
    kind: 'bring-in-roster',
    into: 2,
    fileName: 'autumn-intake-north.csv',
    hasGroupColumn: true,
    dateOrder: 'dayFirst',
    rows: mapRows(table, true, fields),
  };
}
const one = async (text: string): Promise<number> =>
  Number((await execute<{ n: number }>(site.databaseUrl, `select (${text})::int as n`))[0]?.n);

test('what is kept is what a rebuild from nothing gives, after every kind of change', async () => {
  const [member] = await execute<{ id: number }>(
    site.databaseUrl,
    `select person_id::int as id from membership where group_id = ${shoreCrew} and until_at is null order by 1 limit 1`,
  );
  const changes: Change[] = [
    autumnIntake(),
    open(gullhaven),
    open(cadets, searchPatterns, 'block'),
    { kind: 'add-members', groupId: cadets, personIds: [member?.id ?? 0], firstDay: '2031-01-01', lastDay: null },
    { kind: 'add-members', groupId: 13, personIds: [member?.id ?? 0], firstDay: null, lastDay: null },
    { kind: 'remove-members', groupId: shoreCrew, personIds: [member?.id ?? 0] },
    { kind: 'edit-group', groupId: shoreCrew, values: { name: 'Beach crew' } },
  ];
  for (const change of changes) await mirela.apply(change);
  const entries = (await mirela.call('log', {})).entries.slice(0, changes.length);
  expect(entries.map(({ kind }) => kind)).toEqual(changes.map(({ kind }) => kind).reverse());
  for (const { id } of entries) await mirela.apply({ kind: 'undo', changeId: id });
  await mirela.apply(open(13));
  const kept = await derived(site);
  const { db } = site.deps;
  const { today } = await mirela.call('me', {});
  await db.transaction((tx) => rebuildDerived(tx, today));
  expect(kept).toEqual(await derived(site));
});

test('opening a course reaches subgroups, and whoever is added afterwards', async () => {
  const look = await mirela.call('look', { body: { change: open(gullhaven) } });
  const people = (await mirela.call('groupPeople', { params: { groupId: gullhaven } })).total;
  expect(look).toMatchObject({ gains: [{ course: 'Search patterns' }, {}], loses: [], conflicts: [] });
  // Those who had it by another group do not gain; one begins later.
  const had =
    await one(`select count(*) from person p where counted and exists (select 1 from set_in_branch b where b.set_id = p.set_id and b.ancestor_id = ${gullhaven})
    and exists (select 1 from entitlement e where e.course_id = ${searchPatterns} and (e.set_id = p.set_id and not p.own_windows or e.person_id = p.id))`);
  expect(look.gaining).toBe(people - had + 1);
  await mirela.apply(open(gullhaven));
  const { newPeople } = await mirela.apply({
    kind: 'bring-in-roster',
    into: shoreCrew,
    fileName: null,
    hasGroupColumn: false,
    dateOrder: 'dayFirst',
    rows: [{ row: 1, cells: { fullName: 'Late Comer', email: 'late@comer.example' } }],
  });
  expect(newPeople).toBe(1);
  const {
    people: [late],
  } = await mirela.call('groupPeople', {
    params: { groupId: gullhaven },
    query: { filter: writeFilter([{ part: 'words', text: 'late comer' }]) },
  });
  const sheet = await mirela.call('person', { params: { personId: late?.id ?? 0 } });
  expect(sheet.courses.find(({ id }) => id === searchPatterns)).toMatchObject({ open: true });
});

test('importing the same file twice creates nobody twice, and undo takes back whom it made', async () => {
  const before = await one('select count(*) from person');
  const { newPeople, changeId } = await mirela.apply(autumnIntake());
  expect(await one('select count(*) from person')).toBe(before + newPeople);
  const again = await mirela.call('look', { body: { change: autumnIntake() } });
  expect(again).toMatchObject({ newPeople: 0, conflicts: [{ code: 'nothing to do', blocks: true }] });
  expect(again.rows.filter(({ outcome }) => outcome === 'needs a look')).toHaveLength(9);

  // Somebody signs in: ended, not deleted.
  await execute(site.databaseUrl, `update person set signed_in_at = now() where id = (select max(id) from person)`);
  await mirela.apply({ kind: 'undo', changeId });
  expect(await one('select count(*) from person')).toBe(before + 1);
  expect(
    await one(`select count(*) from person_state where person_id = (select max(id) from person) and until_at is null and state = 'ended'`),
  ).toBe(1);
  expect((await mirela.call('look', { body: { change: autumnIntake() } })).newPeople).toBe(newPeople - 1);
});

test('undo restores only what still is as the change left it, and counts the rest', async () => {
  const { people } = await mirela.call('groupPeople', { params: { groupId: shoreCrew }, query: { limit: 3 } });
  const personIds = people.map(({ id }) => id);
  const { changeId } = await mirela.apply({ kind: 'remove-members', groupId: shoreCrew, personIds });
  await mirela.apply({ kind: 'add-members', groupId: shoreCrew, personIds: personIds.slice(0, 1), firstDay: null, lastDay: null });
  const look = await mirela.call('look', { body: { change: { kind: 'undo', changeId } } });
  expect(look).toMatchObject({ conflicts: [{ code: 'changed since', blocks: false, count: 1 }], joins: [{ people: 2 }] });
  await mirela.apply({ kind: 'undo', changeId });
  expect(
    await one(
      `select count(*) from membership where group_id = ${shoreCrew} and until_at is null and person_id = any('{${personIds.join()}}')`,
    ),
  ).toBe(3);
  expect((await mirela.call('look', { body: { change: { kind: 'undo', changeId } } })).conflicts).toMatchObject([
    { code: 'nothing to do', blocks: true },
  ]);
});

test('of two administrators who apply at the same moment, the second sees what it would do now', async () => {
  const other = await site.as('mirela');
  const [first, second] = [open(cadets, 1, 'block'), open(gullhaven, 1, 'block')];
  const seen = [await mirela.call('look', { body: { change: first } }), await other.call('look', { body: { change: second } })];
  const send = (client: Client, change: Change, digest = '') => client.send('apply', { body: { change, digest, requestId: randomUUID() } });
  const answers = await Promise.all([send(mirela, first, seen[0]?.digest), send(other, second, seen[1]?.digest)]);
  expect(answers.map(({ status }) => status).sort()).toEqual([200, 409]);
  const refused = (await answers.find(({ status }) => status === 409)?.json()) as {
    code: string;
    look: { losing: number; digest: string };
  };
  expect(refused).toMatchObject({ code: 'effects-differ' });
  expect(refused.look.digest).not.toBe(seen[answers[0]?.status === 409 ? 0 : 1]?.digest);
});

test('those who only gain because they joined since are applied without asking again', async () => {
  const { digest, gaining } = await mirela.call('look', { body: { change: open(gullhaven) } });
  await mirela.apply({
    kind: 'bring-in-roster',
    into: shoreCrew,
    fileName: null,
    hasGroupColumn: false,
    dateOrder: 'dayFirst',
    rows: [{ row: 1, cells: { fullName: 'Late Comer' } }],
  });
  expect((await mirela.call('apply', { body: { change: open(gullhaven), digest, requestId: randomUUID() } })).gained).toBe(gaining + 1);
});

test('the same request id is one change, and nobody else’s', async () => {
  const change: Change = { kind: 'edit-group', groupId: shoreCrew, values: { name: 'Beach crew' } };
  const { digest } = await mirela.call('look', { body: { change } });
  const requestId = randomUUID();
  const [a, b] = await Promise.all([1, 2].map(() => mirela.call('apply', { body: { change, digest, requestId } })));
  expect(a).toEqual(b);
  expect(await one(`select count(*) from change_log where request_id = '${requestId}'`)).toBe(1);
  const ottoline = await site.as('ottoline');
  expect((await ottoline.send('apply', { body: { change, digest, requestId } })).status).toBe(409);
});

test('a name that a sibling has is refused, composed or not, in any case', async () => {
  const look = await mirela.call('look', {
    body: { change: { kind: 'edit-group', groupId: shoreCrew, values: { name: ' TOWER   watch ' } } },
  });
  expect(look.conflicts).toMatchObject([{ code: 'name taken', blocks: true }]);
});

test('the look opens to names, and the names are those who gain', async () => {
  const change = open(cadets);
  const { gaining } = await mirela.call('look', { body: { change } });
  const { people } = await mirela.call('lookPeople', { body: { change, list: 'gains', courseId: searchPatterns, after: null } });
  expect(people).toHaveLength(gaining);
  await mirela.apply(change);
  const { people: shown } = await mirela.call('groupPeople', { params: { groupId: cadets } });
  expect(shown.filter(({ id }) => people.some((each) => each.id === id)).length).toBeGreaterThan(gaining / 2);
});

test('undo leaves what cannot stand again: a name or an address that is taken meanwhile', async () => {
  const rename = (groupId: number, name: string): Change => ({ kind: 'edit-group', groupId, values: { name } });
  const renamed = await mirela.apply(rename(shoreCrew, 'Beach crew'));
  await mirela.apply(rename(10, 'Shore crew'));
  expect((await mirela.call('look', { body: { change: { kind: 'undo', changeId: renamed.changeId } } })).conflicts).toMatchObject([
    { code: 'changed since', blocks: true },
  ]);

  const bring = (idNumber: string, email: string): Change => ({
    kind: 'bring-in-roster',
    into: shoreCrew,
    fileName: 'x.csv',
    hasGroupColumn: false,
    dateOrder: 'dayFirst',
    rows: [{ row: 2, cells: { fullName: 'Imke Vale', idNumber, email } }],
  });
  await mirela.apply(bring('U-1', 'first@vale.example'));
  const moved = await mirela.apply(bring('U-1', 'second@vale.example'));
  await mirela.apply(bring('U-2', 'first@vale.example'));
  expect((await mirela.call('look', { body: { change: { kind: 'undo', changeId: moved.changeId } } })).conflicts).toMatchObject([
    { code: 'changed since', blocks: true },
  ]);
});

test('a leader undoes their own changes while they have the power for them, and nobody else’s', async () => {
  const ottoline = await site.as('ottoline');
  const { changeId } = await ottoline.apply({ kind: 'edit-group', groupId: shoreCrew, values: { name: 'Beach crew' } });
  const foreign = await mirela.apply({ kind: 'edit-group', groupId: shoreCrew, values: { name: 'Strand crew' } });
  const look = (id: number) => ottoline.send('look', { body: { change: { kind: 'undo', changeId: id } } });
  expect([(await look(changeId)).status, (await look(foreign.changeId)).status]).toEqual([200, 404]);
  const mine = (await ottoline.call('log', {})).entries.find(({ id }) => id === changeId);
  expect(mine).toMatchObject({ isMine: true, canUndo: true, names: { before: 'Shore crew', after: 'Beach crew' } });
  expect((await ottoline.call('log', {})).entries.find(({ id }) => id === foreign.changeId)).toMatchObject({
    isMine: false,
    canUndo: false,
    actor: null,
  });
  await execute(site.databaseUrl, `update leadership set powers = '{seeProgress}' where person_id = 2`);
  expect((await look(changeId)).status).toBe(404);
});
