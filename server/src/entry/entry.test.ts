import { type Change, writeFilter } from '@gate-roster/contract';
import { detectColumns, mapRows, presets, readTable, type RosterRow } from '@gate-roster/core';
import { randomUUID } from 'node:crypto';
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
    rowCounts: { joins: 1 },
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
  expect(look.rowCounts).toMatchObject({ nothing: 1, new: 0 });
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
  expect(fields).toEqual([
    'familyName',
    'givenName',
    'email',
    'idNumber',
    'signInName',
    'group',
    'tags',
    'firstDay',
    'lastDay',
    'nameHidden',
    'guardianEmail',
  ]);
  const rows = mapRows(table, true, fields);
  const { total } = await mirela.call('groupPeople', { params: { groupId: 3 } });
  expect(rows).toHaveLength(total);
  const look = await mirela.call('look', { body: { change: bring(rows, 3) } });
  expect(look).toMatchObject({ newPeople: 0, changedPeople: 0, joins: [], conflicts: [{ code: 'nothing to do' }] });
});

test('a group that begins later counts from its first day, and its people are told as not counted', async () => {
  await execute(site.databaseUrl, `update group_version set first_day = '2099-01-01' where group_id = ${towerWatch} and until_at is null`);
  await mirela.apply(bring([row(2, { givenName: 'Tarn', familyName: 'Later', idNumber: 'E-9' })], towerWatch));
  const { people } = await mirela.call('groupPeople', {
    params: { groupId: towerWatch },
    query: { counted: 'no', filter: writeFilter([{ part: 'words', text: 'tarn' }]) },
  });
  expect(people).toMatchObject([{ familyName: 'Later', notCounted: 'group not active' }]);
});

describe('a file', () => {
  const look = async (client: Client, change: Change) => client.call('look', { body: { change } });

  test('makes the groups it names, in each other, and undo takes groups and people back', async () => {
    const change: Change = {
      ...bring([
        row(2, { fullName: 'Nils Brook', group: 'Breakwater crew > Night watch' }),
        row(3, { fullName: 'Vera Stone', group: 'Breakwater crew' }),
        row(4, { fullName: 'Otto Reed', group: 'Nowhere at all' }),
      ]),
      into: 3,
      newGroups: ['Breakwater crew > Night watch', 'Never used'],
    } as Change;
    const seen = await look(mirela, change);
    expect(seen).toMatchObject({ newPeople: 2, groups: { made: 2 }, rows: [{ row: 4, reason: { code: 'group unknown' } }] });
    expect(seen.gaining).toBe(2);
    const { changeId } = await mirela.apply(change);
    const named = async (): Promise<Record<string, number>> =>
      Object.fromEntries((await mirela.call('tree', {})).groups.map(({ name, people }) => [name, people]));
    expect(await named()).toMatchObject({ 'Breakwater crew': 2, 'Night watch': 1 });
    expect(await named()).not.toHaveProperty('Never used');
    await mirela.apply({ kind: 'undo', changeId });
    expect(await named()).not.toHaveProperty('Breakwater crew');
    expect(await execute(site.databaseUrl, `select 1 from personal_now where family_name = 'Brook'`)).toEqual([]);
  });

  test('that replaces a list takes out who is not in it, never more than allowed, and never by a row that is not understood', async () => {
    const group = 13;
    const file = await mirela.call('groupPeopleFile', { params: { groupId: group } });
    const table = readTable(new TextEncoder().encode(file));
    if ('problem' in table) throw new Error(table.problem);
    const all = mapRows(
      table,
      true,
      detectColumns(table).columns.map(({ field }) => field),
    );
    const replace = (rows: RosterRow[], more: object = {}): Change => ({ ...bring(rows, group), mode: 'replace', ...more }) as Change;
    const fewer = all.slice(2);
    const gone = new Set(all.slice(0, 2).map(({ cells }) => cells.idNumber)).size;
    expect(await look(mirela, replace(fewer))).toMatchObject({ newPeople: 0, leaves: [{ people: gone }], conflicts: [] });
    expect((await look(mirela, replace(all.slice(0, 3)))).conflicts).toMatchObject([{ code: 'too many leave', blocks: true }]);
    const unclear = [...fewer, row(9999, { fullName: 'Somebody Unclear', email: 'a@@b', group: 'Shore crew' })];
    expect((await look(mirela, replace(unclear))).conflicts).toMatchObject([{ code: 'list not whole', blocks: true, count: 1 }]);
    const before = (await mirela.call('groupPeople', { params: { groupId: group } })).total;
    const { changeId } = await mirela.apply(replace(fewer));
    expect((await mirela.call('groupPeople', { params: { groupId: group } })).total).toBeLessThan(before);
    await mirela.apply({ kind: 'undo', changeId });
    expect((await mirela.call('groupPeople', { params: { groupId: group } })).total).toBe(before);
  });

  test('gives sign-in names, passwords of new accounts, leaders and letters at their time', async () => {
    const at = new Date(Date.now() + 86_400_000).toISOString();
    const change: Change = {
      ...bring([
        row(2, { fullName: 'Lena Quay', signInName: 'lena.quay', password: 'a long enough one', nameHidden: 'yes' }),
        row(3, { fullName: 'Rolf Mast', email: 'rolf.mast@ternmail.example', role: 'leader', powers: 'head' }),
      ]),
      write: { at },
    } as Change;
    expect(await look(mirela, change)).toMatchObject({ newPeople: 2, letters: 1 });
    await mirela.apply(change);
    const lena = await site.as(null);
    await lena.call('signIn', { body: { signInName: 'lena.quay', password: 'a long enough one' } });
    const [rolf] = await execute<{ powers: number; send_at: string; state: string }>(
      site.databaseUrl,
      `select array_length(l.powers, 1) as powers, t.send_at, t.state from personal_now n join leadership l on l.person_id = n.person_id join letter t on t.person_id = n.person_id where n.family_name = 'Mast'`,
    );
    expect(rolf).toMatchObject({ powers: presets.head.length, state: 'waiting' });
    expect(new Date(rolf?.send_at ?? 0).toISOString()).toBe(at);
    // A second file does not change a password: it counts for new accounts only.
    await mirela.apply(bring([row(2, { fullName: 'Lena Quay', signInName: 'lena.quay', password: 'another one, longer', tags: 'quay' })]));
    await (await site.as(null)).call('signIn', { body: { signInName: 'lena.quay', password: 'a long enough one' } });
  });

  test('of a leader makes accounts at once, whoever the addresses belong to elsewhere, writes only when asked to, and tells nothing', async () => {
    const head = await site.as('ottoline');
    const [outside] = await execute<{ email: string; given_name: string; family_name: string; sign_in_name: string }>(
      site.databaseUrl,
      `select n.email, n.given_name, n.family_name, n.sign_in_name from personal_now n join membership m on m.person_id = n.person_id and m.until_at is null where m.group_id = 21 and n.email is not null
       and not exists (select 1 from membership o join group_branch b on b.group_id = o.group_id and b.ancestor_id = 3 where o.person_id = n.person_id and o.until_at is null) limit 1`,
    );
    const rows = [
      row(2, { fullName: `${outside?.given_name ?? ''} ${outside?.family_name ?? ''}`, email: outside?.email }),
      row(3, { fullName: 'Never Seen', email: 'never.seen@ternmail.example' }),
      row(4, { fullName: 'No Address' }),
    ];
    const seen = await look(head, bring(rows));
    expect(seen).toMatchObject({ newPeople: 3, letters: 0, confirming: 0, rowCounts: { new: 3 } });
    const told: Change = { ...bring(rows), write: { at: null } } as Change;
    expect(await look(head, told)).toMatchObject({ newPeople: 3, letters: 0, confirming: 2 });
    const letters = async (): Promise<number> => (await execute(site.databaseUrl, `select 1 from letter`)).length;
    const before = await letters();
    const { changeId } = await head.apply(bring(rows));
    expect(await letters()).toBe(before);
    const made = (await head.call('changePeople', { params: { changeId } })).ids;
    const state = await execute<{ confirmed: boolean }>(
      site.databaseUrl,
      `select confirmed_email is not null as confirmed from personal_now where person_id = any($1)`,
      [made],
    );
    expect(state).toEqual([{ confirmed: false }, { confirmed: false }, { confirmed: false }]);
    // The account elsewhere stays as it was, and is not told of.
    expect((await execute(site.databaseUrl, `select 1 from personal_now where confirmed_email = $1`, [outside?.email])).length).toBe(1);
    await head.apply({ kind: 'undo', changeId });
    const known = await head.call('rosterKnown', {
      params: { groupId: shoreCrew },
      body: { emails: [outside?.email ?? ''], idNumbers: [], signInNames: [] },
    });
    expect(known.known).toEqual([]);
    expect((await head.send('look', { body: { change: bring(rows, 11) } })).status).toBe(404);
    // Powers beyond their own, and details of somebody who is elsewhere too.
    const [shared] = await execute<{ email: string; given_name: string; family_name: string }>(
      site.databaseUrl,
      `select n.email, n.given_name, n.family_name from personal_now n where n.email is not null and exists (select 1 from membership m join group_branch b on b.group_id = m.group_id and b.ancestor_id = 3 where m.person_id = n.person_id and m.until_at is null)
       and exists (select 1 from membership m where m.person_id = n.person_id and m.until_at is null and m.group_id not in (select group_id from group_branch where ancestor_id = 3)) limit 1`,
    );
    const reasons = (
      await look(
        head,
        bring([row(2, { givenName: shared?.given_name, familyName: `${shared?.family_name ?? ''}-New`, email: shared?.email })]),
      )
    ).rows.map(({ reason }) => reason?.code);
    expect(reasons).toEqual(['not yours']);
  });

  test('that was exported changes nothing when it is brought in again, whatever signs names of groups and tags hold', async () => {
    await mirela.apply({ kind: 'edit-group', groupId: shoreCrew, values: { name: 'Shore > "night"; crew|2, old' } });
    const ids = (await mirela.call('groupPeople', { params: { groupId: shoreCrew }, query: { limit: 20 } })).people.map(({ id }) => id);
    await mirela.apply({ kind: 'tag-people', groupId: 1, personIds: ids, add: ['Boats, small; "fast" | blue'], remove: [] });
    const file = await mirela.call('groupPeopleFile', { params: { groupId: 3 } });
    const table = readTable(new TextEncoder().encode(file));
    if ('problem' in table) throw new Error(table.problem);
    const mapping = detectColumns(table);
    const rows = mapRows(
      table,
      mapping.hasHeader,
      mapping.columns.map(({ field }) => field),
    );
    const seen = await look(mirela, { ...bring(rows, 3), hasGroupColumn: true, dateOrder: 'yearFirst' } as Change);
    expect([rows.length > 150, seen.rows.map(({ reason }) => reason)]).toEqual([true, []]);
    expect(seen.rowCounts).toEqual({ new: 0, joins: 0, changes: 0, nothing: rows.length, 'needs a look': 0 });
  });

  test('with passwords leaves none behind, on its way or once it is in', async () => {
    const fileId = randomUUID();
    const cells = { fullName: 'Part Secret', signInName: 'part.secret', password: 'a long enough one' };
    await mirela.call('putRosterPart', { params: { fileId, part: 0 }, body: { rows: [row(2, cells)] } });
    const stored = async (): Promise<string> =>
      JSON.stringify(await execute(site.databaseUrl, `select rows from roster_part where file_id = '${fileId}'`));
    expect([(await stored()).includes('Part Secret'), (await stored()).includes('a long enough one')]).toEqual([true, false]);
    await mirela.apply({ ...bring([]), fileId } as Change);
    expect(await stored()).toBe('[]');
    await (await site.as(null)).call('signIn', { body: { signInName: 'part.secret', password: 'a long enough one' } });
    // Erasing somebody reaches a file that is still on its way.
    const [person] = await execute<{ id: number }>(
      site.databaseUrl,
      `select person_id::int as id from personal_now where sign_in_name = 'part.secret'`,
    );
    const other = randomUUID();
    await mirela.call('putRosterPart', { params: { fileId: other, part: 0 }, body: { rows: [row(2, cells)] } });
    await mirela.apply({ kind: 'erase-person', personId: person?.id ?? 0 });
    expect(await execute(site.databaseUrl, `select 1 from roster_file where id = '${other}'`)).toEqual([]);
  });

  test('in parts is somebody’s own, and a stopped job leaves nothing', async () => {
    const fileId = randomUUID();
    await mirela.call('putRosterPart', { params: { fileId, part: 0 }, body: { rows: [row(2, { fullName: 'Part One' })] } });
    const change = { ...bring([]), fileId } as Change;
    expect(await look(mirela, change)).toMatchObject({ newPeople: 1 });
    const head = await site.as('ottoline');
    expect((await head.send('putRosterPart', { params: { fileId, part: 1 }, body: { rows: [row(3, { fullName: 'X Y' })] } })).status).toBe(
      404,
    );
    expect((await head.send('look', { body: { change } })).status).toBe(404);
    await execute(
      site.databaseUrl,
      `insert into job (id, kind, given, made_by, starts_at) select $1, 'apply-change', '{}', person_id, now() + interval '1 day' from personal_now where sign_in_name = 'mirela'`,
      [fileId],
    );
    await mirela.call('stopJob', { params: { jobId: fileId } });
    expect(await mirela.call('job', { params: { jobId: fileId } })).toMatchObject({ state: 'stopped' });
    expect((await head.send('job', { params: { jobId: fileId } })).status).toBe(404);
  });
});
