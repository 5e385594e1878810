import { type ChildProcess, fork } from 'node:child_process';
import { once } from 'node:events';
import path from 'node:path';
import { randomUUID } from 'node:crypto';
import type { Problem } from '@gate-roster/contract';
import { demoPassword, execute, type Site, startSite } from './testing/site.ts';

const problemOf = async (answer: Response): Promise<Problem> => (await answer.json()) as Problem;

describe('bad input', () => {
  let site: Site;
  beforeAll(async () => {
    site = await startSite();
  });
  afterAll(() => site.stop());

  test('whatever refers to a person is found by an index, so that thousands of accounts are deleted in one pass', async () => {
    const unindexed = await execute(
      site.databaseUrl,
      `select c.conrelid::regclass::text as "table", a.attname as column from pg_constraint c join pg_attribute a on a.attrelid = c.conrelid and a.attnum = c.conkey[1]
       where c.contype = 'f' and c.confrelid = 'person'::regclass and not exists (
         select 1 from pg_index i where i.indrelid = c.conrelid and i.indkey[0] = c.conkey[1]
           and (i.indpred is null or pg_get_expr(i.indpred, i.indrelid) = format('(%I IS NOT NULL)', a.attname)))`,
    );
    expect(unindexed).toEqual([]);
  });

  test('a wrong password ten times slows down this account from this address, and nobody else', async () => {
    const stranger = await site.as(null);
    const tries: number[] = [];
    for (let index = 0; index < 10; index++)
      tries.push((await stranger.send('signIn', { body: { signInName: 'ottoline', password: 'guess' } })).status);
    expect(tries).toEqual([401, 401, 401, 401, 401, 429, 429, 429, 429, 429]);
    const slowed = await stranger.send('signIn', { body: { signInName: 'ottoline', password: demoPassword } });
    expect(slowed.status).toBe(429);
    expect(Number(slowed.headers.get('retry-after'))).toBeGreaterThan(0);
    await expect(site.as('mirela')).resolves.toBeDefined();
    await execute(site.databaseUrl, `update rate_limit set expire = 1`);
    await expect(site.as('ottoline')).resolves.toBeDefined();
  });

  test('of many wrong passwords at once no more are checked than there are tries, by name and address of one account together', async () => {
    const [row] = await execute<{ email: string }>(
      site.databaseUrl,
      `select confirmed_email as email from personal_now where sign_in_name = 'bao'`,
    );
    const email = row?.email ?? 'bao';
    const answers = await Promise.all(
      Array.from({ length: 60 }, async (_, n) => {
        const stranger = await site.as(null);
        return (await stranger.send('signIn', { body: { signInName: n % 2 ? 'bao' : email, password: `wrong ${n}` } })).status;
      }),
    );
    expect(answers.filter((status) => status === 401)).toHaveLength(5);
    expect(answers.filter((status) => status === 429)).toHaveLength(55);
  });

  test('ids are digits', async () => {
    const mirela = await site.as('mirela');
    const answer = await fetch(`${site.url}/api/v1/groups/0x3`);
    expect([401, 404]).toContain(answer.status);
    for (const groupId of ['0x3', '3e0', '+3', ' 3'])
      expect((await mirela.send('group', { params: { groupId: encodeURIComponent(groupId) } })).status).toBe(404);
  });

  test.each([
    ['an extra field', { change: { kind: 'edit-group', groupId: 3, values: { name: 'x', also: 1 } } }, 'body.change.values'],
    ['a missing field', { change: { kind: 'edit-group', groupId: 3 } }, 'body.change.values'],
    ['an unknown kind', { change: { kind: 'drop-everything' } }, 'body.change.kind'],
    [
      'a day that does not exist',
      { change: { kind: 'add-members', groupId: 3, personIds: [5], firstDay: '2026-02-31', lastDay: null } },
      'body.change.firstDay',
    ],
    ['no JSON', '{"change":', undefined],
  ])('%s is named with its place', async (_what, body, place) => {
    const answer = await (await site.as('mirela')).send('look', { body });
    const problem = await problemOf(answer);
    expect([answer.status, problem.code, problem.where?.[0]?.place]).toEqual([400, 'bad-request', place]);
  });

  test('a body that is too large, a write from another site, a page that is not there', async () => {
    const mirela = await site.as('mirela');
    expect(await problemOf(await mirela.send('signIn', { body: { signInName: 'x'.repeat(300_000), password: 'y' } }))).toMatchObject({
      code: 'too-large',
    });
    expect(await problemOf(await mirela.send('signOut', { headers: { origin: 'https://elsewhere.example' } }))).toMatchObject({
      code: 'wrong-origin',
    });
    expect((await fetch(`${site.url}/api/v1/nothing`)).status).toBe(404);
    await expect(mirela.call('me', {})).resolves.toMatchObject({ givenName: 'Mirela' });
  });

  test('rows out of order or twice, a wrong time zone and a foreign cursor do no harm', async () => {
    const mirela = await site.as('mirela');
    const rows = [
      { row: 2, cells: { fullName: 'A B' } },
      { row: 2, cells: { fullName: 'C D' } },
    ];
    expect(
      (
        await mirela.send('look', {
          body: { change: { kind: 'bring-in-roster', into: 3, fileName: null, hasGroupColumn: false, dateOrder: 'dayFirst', rows } },
        })
      ).status,
    ).toBe(400);
    const page = await mirela.call('groupPeople', { params: { groupId: 3 }, query: { after: 'bm90IGpzb24', limit: 5 } });
    expect(page.people).toHaveLength(5);
  });

  test('no secret and no password leaves by any answer', async () => {
    const mirela = await site.as('mirela');
    const [{ secret } = { secret: '' }] = await execute<{ secret: string }>(
      site.databaseUrl,
      `select secret from source where key = 'player'`,
    );
    const texts = await Promise.all((['me', 'tree', 'log'] as const).map(async (name) => (await mirela.send(name)).text()));
    texts.push(
      await (await mirela.send('person', { params: { personId: 2 } })).text(),
      await (await fetch(`${site.url}/api/openapi.json`)).text(),
    );
    for (const text of texts) {
      expect(text).not.toContain(secret);
      expect(text).not.toContain('$argon2');
    }
  });

  test('OpenAPI 3.1 names every route, and the page shows them', async () => {
    const document = (await (await fetch(`${site.url}/api/openapi.json`)).json()) as { openapi: string; paths: Record<string, object> };
    expect(document.openapi).toBe('3.1.0');
    expect(Object.keys(document.paths)).toContain('/api/v1/groups/{groupId}/people');
    expect(await (await fetch(`${site.url}/api`)).text()).toContain('/api/v1/changes/look');
  });
});

describe('accounts', () => {
  let site: Site;
  afterEach(() => site.stop());

  test('an empty site makes one administrator, and only one', async () => {
    site = await startSite({ template: 'empty_template' });
    const client = await site.as(null);
    const body = {
      organisation: 'Tide Watch',
      givenName: 'Ada',
      familyName: 'Quay',
      signInName: 'ada@tide.example',
      password: 'long enough it is',
      timeZone: 'Europe/Lisbon',
    };
    expect((await client.send('me')).status).toBe(401);
    const answers = await Promise.all([
      client.send('beginSite', { body }),
      (await site.as(null)).send('beginSite', { body: { ...body, signInName: 'eve' } }),
    ]);
    expect(answers.map(({ status }) => status).sort()).toEqual([200, 409]);
    const owner = await site.as(null);
    await owner.call('signIn', { body: { signInName: answers[0]?.status === 200 ? 'ADA@tide.example' : 'eve', password: body.password } });
    expect((await owner.call('tree', {})).groups).toMatchObject([{ name: 'Tide Watch', people: 0 }]);
    await owner.apply({
      kind: 'bring-in-roster',
      into: 1,
      fileName: null,
      hasGroupColumn: false,
      dateOrder: 'dayFirst',
      rows: [{ row: 1, cells: { fullName: 'First Learner' } }],
    });
    expect((await owner.call('tree', {})).groups).toMatchObject([{ people: 1 }]);
  });

  test('a changed password ends the other sessions and opens new ones', async () => {
    site = await startSite();
    const [here, there] = [await site.as('ottoline'), await site.as('ottoline')];
    expect(await problemOf(await here.send('changePassword', { body: { current: 'wrong', next: 'another long one' } }))).toMatchObject({
      code: 'wrong-password',
    });
    await here.call('changePassword', { body: { current: demoPassword, next: 'another long one' } });
    expect([(await here.send('me')).status, (await there.send('me')).status]).toEqual([200, 401]);
    await (await site.as(null)).call('signIn', { body: { signInName: 'ottoline', password: 'another long one' } });
  });

  test('a paused account fails like a wrong password, and its sessions are worth nothing', async () => {
    site = await startSite();
    const open = await site.as('ottoline');
    await execute(site.databaseUrl, `update person_state set state = 'paused' where person_id = 2 and until_at is null`);
    expect((await open.send('me')).status).toBe(401);
    expect(
      await problemOf(await (await site.as(null)).send('signIn', { body: { signInName: 'ottoline', password: demoPassword } })),
    ).toMatchObject({ code: 'wrong-sign-in' });
  });
});

test('kill -9 in the middle of a large import leaves nothing half done, and the next process takes it up at once', async () => {
  const site = await startSite();
  await site.stop();
  const counts = async (): Promise<object | undefined> =>
    (
      await execute<{ people: number; memberships: number; changes: number }>(
        site.databaseUrl,
        'select (select count(*)::int from person) as people, (select count(*)::int from membership) as memberships, (select count(*)::int from change_log) as changes',
      )
    )[0];
  const before = (await counts()) as { people: number; memberships: number; changes: number };
  const begin = async (): Promise<{ child: ChildProcess; at: string; headers: Record<string, string> }> => {
    const child = fork(path.join(import.meta.dirname, '../dist/main.js'), {
      env: {
        ...process.env,
        DATABASE_URL: site.databaseUrl,
        PORT: '0',
        PUBLIC_URL: 'http://127.0.0.1:1',
        WEB_FOLDER: '',
        NODE_OPTIONS: '',
      },
      stdio: ['ignore', 'ignore', 'ignore', 'ipc'],
    });
    const [{ port }] = (await once(child, 'message')) as [{ port: number }];
    const at = `http://127.0.0.1:${port}/api/v1`;
    const json = { 'content-type': 'application/json' };
    const signIn = await fetch(`${at}/session`, {
      method: 'POST',
      headers: json,
      body: JSON.stringify({ signInName: 'mirela', password: demoPassword }),
    });
    return { child, at, headers: { ...json, cookie: signIn.headers.getSetCookie()[0]?.split(';')[0] ?? '' } };
  };
  const first = await begin();
  const send = async (to: typeof first, method: string, where: string, body?: object): Promise<Response> =>
    fetch(`${to.at}${where}`, { method, headers: to.headers, ...(body ? { body: JSON.stringify(body) } : {}) });
  const people = 12_000;
  const fileId = randomUUID();
  for (let part = 0; part * 4000 < people; part++) {
    const rows = Array.from({ length: 4000 }, (_, index) => ({
      row: part * 4000 + index + 2,
      cells: {
        givenName: `Given${part}x${index}`,
        familyName: `Family${index}`,
        idNumber: `K-${part * 4000 + index}`,
        tags: 'night, radio',
      },
    }));
    expect((await send(first, 'PUT', `/roster-files/${fileId}/parts/${part}`, { rows })).status).toBe(204);
  }
  const change = {
    kind: 'bring-in-roster',
    into: 3,
    fileName: 'large.csv',
    hasGroupColumn: false,
    dateOrder: 'dayFirst',
    rows: [],
    fileId,
  };
  const { digest, newPeople } = (await (await send(first, 'POST', '/changes/look', { change })).json()) as {
    digest: string;
    newPeople: number;
  };
  expect(newPeople).toBe(people);
  const requestId = randomUUID();
  const { jobId } = (await (await send(first, 'POST', '/jobs', { change, digest, requestId })).json()) as { jobId: string };
  // As soon as the transaction has begun to write people, the process is gone.
  for (let isWriting = false; !isWriting;) {
    const [state] = await execute<{ writing: boolean }>(
      site.databaseUrl,
      `select coalesce(bool_or(l.mode = 'RowExclusiveLock'), false) as writing from pg_locks l where l.relation = 'personal'::regclass and l.pid <> pg_backend_pid()`,
    );
    isWriting = state?.writing ?? false;
  }
  first.child.kill('SIGKILL');
  // PostgreSQL notices the broken connection and rolls back.
  for (let open = 1; open > 0;)
    open =
      (
        await execute<{ n: number }>(
          site.databaseUrl,
          `select count(*)::int as n from pg_locks where relation = 'personal'::regclass and mode = 'RowExclusiveLock'`,
        )
      )[0]?.n ?? 0;
  expect(await counts()).toEqual(before);

  const second = await begin();
  try {
    let sheet = { state: 'waiting', newPeople: 0 };
    while (sheet.state === 'waiting') {
      sheet = (await (await send(second, 'GET', `/jobs/${jobId}`)).json()) as typeof sheet;
      await new Promise((resolve) => setTimeout(resolve, 200));
    }
    expect(sheet).toMatchObject({ state: 'done', newPeople: people });
    // The same job again, by somebody impatient, is the same change.
    await send(second, 'POST', '/jobs', { change, digest, requestId });
    expect(await counts()).toEqual({
      people: before.people + people,
      memberships: before.memberships + people,
      changes: before.changes + 1,
    });
  } finally {
    second.child.kill('SIGKILL');
  }
}, 180_000);

test('live updates tell each listener only of what they may see', async () => {
  const site = await startSite();
  const listen = async (who: string) => {
    const client = await site.as(who);
    const reader = (await client.send('live')).body?.pipeThrough(new TextDecoderStream()).getReader();
    const heard: string[] = [];
    void (async () => {
      for (let part = await reader?.read(); part && !part.done; part = await reader?.read())
        heard.push(
          ...part.value
            .split('\n')
            .filter((line) => line.startsWith('data: ') && !/^data: \d+$/u.test(line))
            .map((line) => line.slice(6)),
        );
    })().catch(() => undefined);
    return { heard, take: () => heard.splice(0) };
  };
  const [mirela, ottoline, bao] = [await listen('mirela'), await listen('ottoline'), await listen('bao')];
  const act = await site.as('mirela');
  const settle = () => new Promise((resolve) => setTimeout(resolve, 900));
  await act.apply({ kind: 'edit-group', groupId: 38, values: { name: 'Partner boats' } });
  await settle();
  expect([mirela.take(), ottoline.take(), bao.take()]).toEqual([['people groups'], [], []]);
  await act.apply({
    kind: 'grant-access',
    end: [],
    begin: [
      { groupId: 2, courseId: 7, effect: 'open', withSubgroups: true, firm: false, firstDay: null, lastDay: null, units: null, due: null },
    ],
  });
  await settle();
  expect([mirela.take(), ottoline.take(), bao.take()]).toEqual([
    ['access progress groups'],
    ['access progress groups'],
    ['access progress groups'],
  ]);
  await site.stop();
});
