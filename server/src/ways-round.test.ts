import { type Change, changeKinds } from '@gate-roster/contract';
import { randomUUID } from 'node:crypto';
import { sign } from './http/signature.ts';
import { crew, draft, elsewhere, gullhaven, idsOutside, outside } from './testing/outside-changes.ts';
import { plainCode } from './entry/plain-code.ts';
import { type Client, execute, type Site, startSite } from './testing/site.ts';

/*
 * Ways round what a leader may see and do. First every kind of change, aimed at something outside: it answers as for what does not
 * exist. A new kind without a row here fails. Then attacks that take a detour: undo, hand over, merge, file, code, card, copy, move.
 */
let site: Site;
let mirela: Client;
let ottoline: Client;
const password = 'nine calm harbour seals';

beforeEach(async () => {
  site = await startSite();
  mirela = await site.as('mirela');
  ottoline = await site.as('ottoline');
});
afterEach(() => site.stop());
const query = <T extends object>(text: string, values: unknown[] = []): Promise<T[]> => execute<T>(site.databaseUrl, text, values);
const one = async (text: string): Promise<number> => Number((await query<{ id: string }>(text))[0]?.id ?? 0);
const outsider = (): Promise<number> =>
  one(`select min(person_id) as id from membership where group_id = ${elsewhere} and until_at is null`);
/** Somebody wholly in the leader's branch, with an address and no power. */
const member = (): Promise<number> =>
  one(`
    select n.person_id as id from personal_now n join membership m on m.person_id = n.person_id and m.until_at is null and m.group_id = ${crew} and m.last_day is null
    where n.confirmed_email is not null and (select count(*) from membership o where o.person_id = n.person_id and o.until_at is null) = 1 and not exists (select 1 from leadership l where l.person_id = n.person_id) order by 1 limit 1`);

test('every kind of change, aimed outside, answers as for what is not there', async () => {
  const { changeId } = await mirela.apply({ kind: 'edit-group', groupId: elsewhere, values: { description: 'Theirs' } });
  const ids = { ...(await idsOutside(site)), change: changeId };
  const problems = await Promise.all(
    changeKinds.map(async (kind) => {
      const answer = await ottoline.send('look', { body: { change: outside[kind](ids) } });
      const body = (await answer.json()) as { conflicts?: { code: string; blocks: boolean }[] };
      return { kind, status: answer.status, blocked: body.conflicts?.map(({ code }) => code) };
    }),
  );
  // Removing somebody who is not in the group says just that, whoever it is.
  expect(problems.filter(({ status }) => status !== 404)).toEqual([]);
});

describe('by undo', () => {
  test('an address comes back only where the account is still the leader’s to act on', async () => {
    const id = await member();
    await ottoline.apply({ kind: 'edit-person', personId: id, values: { email: 'evil@x.example' } });
    const { changeId } = await ottoline.apply({ kind: 'edit-person', personId: id, values: { email: 'good@x.example' } });
    await mirela.apply({
      kind: 'set-leaders',
      groupId: elsewhere,
      begin: [{ who: { personId: id }, powers: ['seeProgress'], firstDay: null, lastDay: null }],
      end: [],
    });
    const look = await ottoline.call('look', { body: { change: { kind: 'undo', changeId } } });
    expect(look.conflicts).toEqual([{ code: 'changed since', blocks: true, count: 1, about: [] }]);
    const { digest } = look;
    expect((await ottoline.send('apply', { body: { change: { kind: 'undo', changeId }, digest, requestId: randomUUID() } })).status).toBe(
      409,
    );
    expect(await query(`select email from personal_now where person_id = ${id}`)).toEqual([{ email: 'good@x.example' }]);
  });

  test('a state, and people of a file, stay when they are elsewhere by now, and nobody outside is named', async () => {
    const { changeId } = await ottoline.apply({
      kind: 'bring-in-roster',
      into: crew,
      fileName: 'crew.csv',
      hasGroupColumn: false,
      dateOrder: 'dayFirst',
      rows: [
        { row: 2, cells: { fullName: 'Stays Here' } },
        { row: 3, cells: { fullName: 'Goes Elsewhere' } },
      ],
    });
    const id = await one(`select person_id as id from personal_now where given_name = 'Goes'`);
    await mirela.apply({ kind: 'move-members', fromId: crew, intoId: elsewhere, personIds: [id] });
    const change: Change = { kind: 'undo', changeId };
    const look = await ottoline.call('look', { body: { change } });
    expect(look).toMatchObject({ takenBack: 1 });
    for (const list of ['takenBack', 'leaves', 'changed', 'loses'] as const) {
      const { people } = await ottoline.call('lookPeople', { body: { change, list, courseId: null, after: null } });
      expect(people.map((person) => person.id)).not.toContain(id);
    }
    await ottoline.apply(change);
    expect(await query(`select state from person_state where person_id = ${id} and until_at is null`)).toEqual([{ state: 'active' }]);
  });

  test('powers that were cut do not come back', async () => {
    // Another head gives power away and ends it; then the one who undoes holds less.
    const id = await member();
    const lead = (powers: ('seeProgress' | 'managePeople' | 'appointLeaders')[]): Change => ({
      kind: 'set-leaders',
      groupId: crew,
      begin: [{ who: { personId: id }, powers, firstDay: null, lastDay: null }],
      end: [],
    });
    await ottoline.apply(lead(['seeProgress', 'managePeople', 'appointLeaders']));
    const { changeId } = await ottoline.apply(lead(['seeProgress']));
    const me = (await ottoline.call('me', {})).personId;
    await mirela.apply({
      kind: 'set-leaders',
      groupId: gullhaven,
      begin: [{ who: { personId: me }, powers: ['seeProgress', 'appointLeaders'], firstDay: null, lastDay: null }],
      end: [],
    });
    const again = await site.as('ottoline');
    expect(
      (await again.call('look', { body: { change: { kind: 'undo', changeId } } })).conflicts.map(({ code, blocks }) => [code, blocks]),
    ).toEqual([['changed since', true]]);
    // Nor their own.
    const [cut] = await query<{ id: number }>(`select id::int from change_log order by id desc limit 1`);
    expect((await again.send('look', { body: { change: { kind: 'undo', changeId: cut?.id ?? 0 } } })).status).toBe(404);
  });
});

describe('by card, link and word', () => {
  test('what a leader made is worth nothing once the account is not theirs, nor after a new password or address', async () => {
    const id = await member();
    const { cards } = await ottoline.call('makeCards', { body: { personIds: [id] } });
    const { link, word } = await ottoline.call('letInNow', { params: { personId: id } });
    const beside = link.split('#')[1] ?? '';
    const name = (await query<{ name: string }>(`select sign_in_name as name from personal_now where person_id = ${id}`))[0]?.name ?? '';
    const stranger = await site.as(null);
    expect((await stranger.send('oneTime', { body: { signInName: name, word } })).status).toBe(200);
    expect((await stranger.send('oneTime', { body: { signInName: name, word: 'GK7M-QX4R' } })).status).toBe(410);
    await mirela.apply({
      kind: 'set-leaders',
      groupId: elsewhere,
      begin: [{ who: { personId: id }, powers: ['seeProgress'], firstDay: null, lastDay: null }],
      end: [],
    });
    for (const key of [{ token: cards[0]?.token ?? '' }, { token: beside }, { signInName: name, word }])
      expect((await stranger.send('useOneTime', { body: { key, password } })).status).toBe(410);
  });

  test('a card ends when its person comes into a group of others, and when its maker may no longer make it', async () => {
    const id = await member();
    const card = async (): Promise<string> => (await ottoline.call('makeCards', { body: { personIds: [id] } })).cards[0]?.token ?? '';
    const stranger = await site.as(null);
    const first = await card();
    const { changeId } = await mirela.apply({ kind: 'add-members', groupId: elsewhere, personIds: [id], firstDay: null, lastDay: null });
    expect((await stranger.send('oneTime', { body: { token: first } })).status).toBe(410);
    await mirela.apply({ kind: 'undo', changeId });
    const second = await card();
    expect((await stranger.send('oneTime', { body: { token: second } })).status).toBe(200);
    await query(`update leadership set powers = '{seeProgress}' where group_id = ${gullhaven} and until_at is null`);
    expect((await stranger.send('oneTime', { body: { token: second } })).status).toBe(410);
  });

  test('a letter to an earlier address signs nobody in', async () => {
    const id = await member();
    await ottoline.call('sendSignIn', { params: { personId: id } });
    const [letter] = await query<{ body: string }>(`select body from letter where person_id = ${id} order by id desc limit 1`);
    const token = /\/enter#([\w-]{32})/u.exec(letter?.body ?? '')?.[1] ?? '';
    await query(`update personal set email = 'other@x.example', confirmed_email = null where person_id = ${id} and until_at is null`);
    const stranger = await site.as(null);
    expect((await stranger.send('useOneTime', { body: { key: { token }, password } })).status).toBe(410);
    expect(await query(`select confirmed_email from personal_now where person_id = ${id}`)).toEqual([{ confirmed_email: null }]);
  });
});

describe('by hand over, code and file', () => {
  test('a code that also opens groups outside is neither told nor ended', async () => {
    const me = (await ottoline.call('me', {})).personId;
    await mirela.apply({ kind: 'make-code', values: { ...plainCode, groupIds: [crew, elsewhere] } });
    await query(`update join_code_version set made_by = ${me} where until_at is null and ${elsewhere} = any(group_ids)`);
    const codeId = await one(
      `select code_id as id from join_code_version where until_at is null and ${elsewhere} = any(group_ids) and group_id = ${crew} limit 1`,
    );
    const look = await ottoline.send('look', {
      body: { change: { kind: 'hand-over', fromId: me, lines: [{ what: 'code', groupId: crew, codeId, toId: null }], cover: null } },
    });
    const body = (await look.json()) as { conflicts?: { code: string }[] };
    expect(body.conflicts?.map(({ code }) => code)).toEqual(['not a leader']);
  });

  test('chosen codes of others cannot be tried out in a preview without end', async () => {
    const values = { ...plainCode, groupIds: [crew], chosen: 'GK7MTQX4RA', useLimit: 5, lastAt: '2099-01-01T00:00:00.000Z' };
    const statuses: number[] = [];
    for (let n = 0; n < 32; n++) statuses.push((await ottoline.send('look', { body: { change: { kind: 'make-code', values } } })).status);
    expect([statuses.filter((status) => status === 200).length, statuses.at(-1)]).toEqual([30, 429]);
  });

  test('a file brings no tags of elsewhere, and a person’s export names no groups of elsewhere', async () => {
    const id = await member();
    await query(`insert into tag (branch_id) values (${elsewhere})`);
    const tag = await one(`select max(id) as id from tag`);
    await query(`insert into tag_version (tag_id, branch_id, name, name_key) values (${tag}, ${elsewhere}, 'Secret', 'secret')`);
    await query(`insert into person_tag (person_id, tag_id) values (${id}, ${tag})`);
    await query(
      `insert into membership (person_id, group_id, came_by, from_at, until_at) values (${id}, ${elsewhere}, 'hand', now() - interval '90 days', now() - interval '60 days')`,
    );
    const email = (await query<{ email: string }>(`select email from personal_now where person_id = ${id}`))[0]?.email ?? '';
    const { known } = await ottoline.call('rosterKnown', {
      params: { groupId: crew },
      body: { emails: [email], idNumbers: [], signInNames: [] },
    });
    expect(known.flatMap(({ tags }) => tags)).not.toContain('Secret');
    const file = JSON.stringify(await ottoline.call('personFile', { params: { personId: id } }));
    const name = (await query<{ name: string }>(`select name from group_now where id = ${elsewhere}`))[0]?.name ?? '';
    expect([file.includes('Secret'), file.includes(`"${name}"`)]).toEqual([false, false]);
  });

  test('who came in by a code and is elsewhere now is not named', async () => {
    const codeId = await one(
      `select code_id as id from join_code_version where until_at is null and group_id = ${crew} order by 1 limit 1`,
    );
    await query(`insert into join_code_use (code_id, person_id) values (${codeId}, ${await outsider()}) on conflict do nothing`);
    const { uses } = await ottoline.call('codeUses', { params: { codeId } });
    expect(uses.find(({ personId }) => personId === 0 || uses.length > 0)).toBeDefined();
    const [row] = await query<{ name: string }>(
      `select given_name || ' ' || family_name as name from personal_now where person_id = ${await outsider()}`,
    );
    expect(uses.map(({ name }) => name)).not.toContain(row?.name);
  });

  test('a sign-in name given by hand is one that could be made, and holds no address', async () => {
    const id = await member();
    for (const signInName of ['admin', 'a b', 'mirela@x.example', 'fuckface'])
      expect(
        (await ottoline.call('look', { body: { change: { kind: 'edit-person', personId: id, values: { signInName } } } })).conflicts.some(
          ({ blocks }) => blocks,
        ),
      ).toBe(true);
  });
});

describe('by money and the tree', () => {
  test('a leader’s open does not make free what is paid above it', async () => {
    const boats = await one(`select course_id as id from licence_now where course_id is not null order by licence_id limit 1`);
    const [paid] = await query<{ group: number }>(
      `select group_id::int as group from access_grant where licences is not null and until_at is null and course_id = ${boats} limit 1`,
    );
    const group = paid?.group ?? 0;
    const below = await one(`select id from group_now where parent_id = ${group} limit 1`);
    const target = below || group;
    const leader = await one(
      `select min(person_id) as id from membership where until_at is null and group_id not in (select group_id from group_branch where ancestor_id = ${group})`,
    );
    await mirela.apply({
      kind: 'set-leaders',
      groupId: target,
      begin: [{ who: { personId: leader }, powers: ['openCourses', 'managePeople'], firstDay: null, lastDay: null }],
      end: [],
    });
    const name =
      (await query<{ name: string }>(`select sign_in_name as name from personal_now where person_id = ${leader}`))[0]?.name ?? '';
    const client = await site.letIn(name);
    const waiting = async (): Promise<number> =>
      one(`select count(*) as id from seat_line where until_at is null and course_id = ${boats}`);
    const before = await waiting();
    const change: Change = {
      kind: 'grant-access',
      begin: [{ ...draft, groupId: target, courseId: boats, due: { at: { days: 9 }, leastDays: null, firm: false } }],
      end: [],
    };
    const look = await client.call('look', { body: { change } });
    expect(look.conflicts.map(({ code }) => code)).toContain('paid above');
    await client.apply(change);
    expect(await waiting()).toBe(before);
  });

  test('deleting a group that is a licence’s home is an administrator’s, who is told which licence goes', async () => {
    const home = await one(`select group_id as id from licence_now order by licence_id desc limit 1`);
    const name = (await query<{ name: string }>(`select name from licence_now where group_id = ${home} limit 1`))[0]?.name ?? '';
    const look = await mirela.call('look', { body: { change: { kind: 'delete-groups', groupIds: [home], subgroups: 'move up' } } });
    expect(look.conflicts.find(({ code }) => code === 'licence goes')).toMatchObject({ blocks: false, about: [name] });
    await query(`update licence_version set group_id = ${crew} where group_id = ${home} and until_at is null`);
    const own = await ottoline.call('look', { body: { change: { kind: 'delete-groups', groupIds: [crew], subgroups: 'move up' } } });
    expect(own.conflicts.find(({ code }) => code === 'licence goes')).toMatchObject({ blocks: true });
  });

  test('work is taken only while the account works and the unit is open, and nothing was done later than now', async () => {
    const bao = await site.as('bao');
    const launch = (await bao.call('launch', { params: { courseId: 3 } })).address.split('#')[1] ?? '';
    const secret = (await query<{ secret: string }>(`select secret from source where key = 'player'`))[0]?.secret ?? '';
    const activity = await one(`select min(a.id) as id from activity_now a join unit_now u on u.id = a.unit_id where u.course_id = 3`);
    const send = async (): Promise<number> => {
      const body = JSON.stringify([
        {
          id: randomUUID(),
          actor: { account: { homePage: site.url, name: launch } },
          verb: { id: 'http://adlnet.gov/expapi/verbs/completed' },
          object: { id: `${site.url}/activities/${activity}` },
          result: { completion: true },
          timestamp: '2099-01-01T00:00:00.000Z',
        },
      ]);
      const time = new Date().toISOString();
      const headers = {
        'x-source': 'player',
        'x-time': time,
        'x-signature': sign(secret, { method: 'POST', path: '/api/v1/source/statements', time, body }),
      };
      return (await bao.send('report', { body, headers })).status;
    };
    expect(await send()).toBe(200);
    const me = (await bao.call('me', {})).personId;
    expect(
      (await query<{ late: boolean }>(`select active_at > now() + interval '1 minute' as late from person where id = ${me}`))[0]?.late,
    ).toBe(false);
    const groups = (await bao.call('myCourses', {})).groups.map(({ id }) => id);
    const { changeId } = await mirela.apply({
      kind: 'grant-access',
      end: [],
      begin: groups.map((groupId) => ({ ...draft, groupId, courseId: 3, effect: 'block' as const, firm: true })),
    });
    expect(await send()).toBe(422);
    await mirela.apply({ kind: 'undo', changeId });
    expect(await send()).toBe(200);
    await mirela.apply({ kind: 'set-person-state', personIds: [me], state: 'ended', firstDay: null, lastDay: null });
    expect(await send()).toBe(422);
  });
});

describe('at the door', () => {
  test('a body is read only when it is known who calls, never inflated, and never nested deep', async () => {
    const stranger = await site.as(null);
    const deep = `${'['.repeat(200_000)}${']'.repeat(200_000)}`;
    expect((await stranger.send('look', { body: deep })).status).toBe(401);
    expect((await mirela.send('look', { body: deep })).status).toBe(400);
    expect((await mirela.send('look', { body: '{}', headers: { 'content-encoding': 'gzip' } })).status).toBe(400);
    expect((await mirela.send('look', { body: `"${'x'.repeat(2_200_000)}"` })).status).toBe(413);
  });

  test('what is no text is refused once, naming the place', async () => {
    const stranger = await site.as(null);
    const bad = await stranger.send('signIn', { body: '{"signInName":"a\\u0000b","password":"x"}' });
    expect([bad.status, ((await bad.json()) as { where: { place: string }[] }).where[0]?.place]).toEqual([400, 'body.signInName']);
    const half = await mirela.send('look', { body: '{"change":{"kind":"edit-group","groupId":3,"values":{"name":"\\ud800"}}}' });
    expect([half.status, ((await half.json()) as { where: { place: string }[] }).where[0]?.place]).toEqual([
      400,
      'body.change.values.name',
    ]);
    expect((await mirela.send('find', { query: { q: 'a\0b' } })).status).toBe(400);
  });
});
