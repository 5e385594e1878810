import { type Change, detectColumns, mapRows, readTable, type RosterRow } from '@gate-roster/core';
import { type Client, execute, type Site, startSite } from '../testing/site.ts';

let site: Site;
let mirela: Client;
beforeAll(async () => {
  site = await startSite();
  mirela = await site.as('mirela');
});
afterAll(() => site.stop());

const shoreCrew = 7;
const towerWatch = 10;
const bring = (rows: RosterRow[], into = shoreCrew): Change => ({
  kind: 'bring-in-roster',
  into,
  fileName: 'test.csv',
  hasGroupColumn: rows.some(({ cells }) => cells.group !== undefined),
  dateOrder: 'dayFirst',
  rows,
});
const row = (number: number, cells: RosterRow['cells']): RosterRow => ({ row: number, cells });
const personal = (idNumber: string) =>
  execute<{ id: number; email: string | null; family_name: string; name: string }>(
    site.databaseUrl,
    `select person_id::int as id, email, family_name, sign_in_name as name from personal_now where id_number = $1`,
    [idNumber],
  );

test('a file changes details, adds tags and a group in one change, and undo gives each of them back', async () => {
  await mirela.apply(bring([row(2, { givenName: 'Imke', familyName: 'Vale', email: 'imke@old.example', idNumber: 'E-1', tags: 'helm' })]));
  const change = bring(
    [row(2, { givenName: 'Imke', familyName: 'Vale-Quill', email: 'imke@new.example', idNumber: 'E-1', tags: 'helm, night' })],
    towerWatch,
  );
  const look = await mirela.call('look', { body: { change } });
  expect(look).toMatchObject({
    newPeople: 0,
    changedPeople: 1,
    joins: [{ group: 'Gullhaven › Tower watch', people: 1 }],
    rows: [{ outcome: 'joins' }],
  });
  const { changeId } = await mirela.apply(change);
  const [imke] = await personal('E-1');
  const sheet = await mirela.call('person', { params: { personId: imke?.id ?? 0 } });
  expect(sheet).toMatchObject({
    familyName: 'Vale-Quill',
    email: 'imke@new.example',
    tags: [{ name: 'helm' }, { name: 'night' }],
    groups: [{ name: 'Shore crew' }, { name: 'Tower watch' }],
  });

  await mirela.apply({ kind: 'undo', changeId });
  expect(await mirela.call('person', { params: { personId: imke?.id ?? 0 } })).toMatchObject({
    familyName: 'Vale',
    email: 'imke@old.example',
    tags: [{ name: 'helm' }],
    groups: [{ name: 'Shore crew' }],
  });
  // The rows that ended are still there: a past day can be shown as it stood.
  expect(await execute(site.databaseUrl, `select family_name from personal where person_id = $1 order by row_id`, [imke?.id])).toEqual([
    { family_name: 'Vale' },
    { family_name: 'Vale-Quill' },
    { family_name: 'Vale' },
  ]);
});

test('the log holds no personal value of whom a file brought in', async () => {
  await mirela.apply(bring([row(2, { givenName: 'Zebulon', familyName: 'Quistgaard', email: 'zebulon@secret.example', idNumber: 'E-2' })]));
  const log = await execute<{ text: string }>(
    site.databaseUrl,
    `select (select string_agg(c::text, ' ') from change_log c) || (select string_agg(s::text, ' ') from change_subject s) as text`,
  );
  expect(log[0]?.text).toContain('test.csv');
  expect(log[0]?.text).not.toMatch(/zebulon|quistgaard/iu);
});

test('sign-in names are made of the name, and unique', async () => {
  await mirela.apply(
    bring([1, 2, 3].map((number) => row(number + 1, { givenName: 'Ørjan', familyName: 'Šimić', idNumber: `S-${number}` }))),
  );
  const names = (await Promise.all(['S-1', 'S-2', 'S-3'].map(personal))).flat().map(({ name }) => name);
  expect(names.every((name) => /^osimic(\d\d)?$/u.test(name))).toBe(true);
  expect(new Set(names).size).toBe(3);
});

test('one address belongs to one account, whatever way it is written', async () => {
  await mirela.apply(bring([row(2, { givenName: 'Ada', familyName: 'Reef', email: 'ada@reef.example' })]));
  const look = await mirela.call('look', {
    body: { change: bring([row(2, { givenName: 'Ada', familyName: 'Reef', email: 'ADA@Reef.example' })]) },
  });
  expect(look.rows).toMatchObject([{ outcome: 'nothing' }]);
  await expect(
    execute(
      site.databaseUrl,
      `insert into personal (person_id, given_name, family_name, email) select id, 'x', 'y', 'Ada@REEF.example' from person where id = 40`,
    ),
  ).rejects.toThrow(/personal_/u);
});

test('a people list that is exported and brought back changes nothing', async () => {
  const file = await mirela.call('groupPeopleFile', { params: { groupId: 3 } });
  const table = readTable(new TextEncoder().encode(file));
  if ('problem' in table) throw new Error(table.problem);
  const fields = detectColumns(table).columns.map(({ field }) => field);
  expect(fields).toEqual(['familyName', 'givenName', 'email', 'idNumber', 'group', 'tags']);
  const rows = mapRows(table, true, fields);
  const { total } = await mirela.call('groupPeople', { params: { groupId: 3 } });
  expect(rows).toHaveLength(total);
  const look = await mirela.call('look', { body: { change: bring(rows, 3) } });
  expect(look).toMatchObject({ newPeople: 0, changedPeople: 0, joins: [], conflicts: [{ code: 'nothing to do' }] });
});

test('a group that begins later counts from its first day, and its people are told as not counted', async () => {
  await execute(site.databaseUrl, `update group_version set first_day = '2099-01-01' where group_id = ${towerWatch} and until_at is null`);
  await mirela.apply(bring([row(2, { givenName: 'Tarn', familyName: 'Later', idNumber: 'E-9' })], towerWatch));
  const { people } = await mirela.call('groupPeople', { params: { groupId: towerWatch }, query: { counted: 'no', search: 'tarn' } });
  expect(people).toMatchObject([{ familyName: 'Later', notCounted: 'group not active' }]);
});
