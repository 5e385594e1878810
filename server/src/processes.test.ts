import type { Change } from '@gate-roster/contract';
import { randomUUID } from 'node:crypto';
import { connect } from './database/connect.ts';
import { rebuildDerived } from './database/rebuild.ts';
import { derived } from './testing/derived.ts';
import { plainCode } from './entry/plain-code.ts';
import { type ServerProcess, startBalancer, startDatabaseWay, startProcess } from './testing/processes.ts';
import { type Client, demoPassword, execute, makeClient, metricsKey, type Site, startSite } from './testing/site.ts';

/*
 * As it runs for real: two web processes and a worker on one database, behind a balancer. `KILLS=30` kills that often, and
 * `AWAY_SECONDS=10` keeps the database away for so long.
 */
const kills = Number(process.env['KILLS'] ?? 4);
const awaySeconds = Number(process.env['AWAY_SECONDS'] ?? 3);
const [shore, harbours, quay, partners] = [8, 43, 45, 38];
const boats = 1;

let site: Site;
let processes: ServerProcess[];
let balancer: Awaited<ReturnType<typeof startBalancer>>;
let database: Awaited<ReturnType<typeof startDatabaseWay>>;
const web = (): ServerProcess[] => processes.slice(0, 2);
const count = async (text: string): Promise<number> => Number((await execute<{ n: number }>(site.databaseUrl, text))[0]?.n);

beforeAll(async () => {
  site = await startSite();
  await site.stop();
  processes = [];
  database = await startDatabaseWay(site.databaseUrl);
  balancer = await startBalancer(() => web().map(({ port }) => port));
  const roles = ['web', 'web', 'worker'] as const;
  processes.push(...(await Promise.all(roles.map((role) => startProcess(database.url, role, balancer.url)))));
}, 120_000);
afterAll(async () => {
  balancer.stop();
  for (const each of processes) await each.kill();
  database.stop();
});

/** Sends the same until it is answered, as the browser does: what was cut off or refused as busy takes place once all the same. */
async function untilAnswered(send: () => Promise<Response>): Promise<{ status: number; body: unknown }> {
  for (let tries = 0; ; tries++) {
    // To its last byte: a process that is killed may have sent the head only.
    const answer = await send()
      .then(async (head) => ({ status: head.status, text: await head.text() }))
      .catch(() => null);
    if (answer && answer.status !== 502 && answer.status !== 503) {
      return { status: answer.status, body: answer.text ? (JSON.parse(answer.text) as unknown) : null };
    }
    if (tries === 100) throw new Error('no answer');
    await new Promise((resolve) => setTimeout(resolve, 200));
  }
}

async function signedIn(name: string): Promise<Client> {
  const client = makeClient(balancer.url);
  const answer = await untilAnswered(() => client.send('signIn', { body: { signInName: name, password: demoPassword } }));
  expect(answer.status).toBe(200);
  return client;
}

async function makeCode(admin: Client, more: object): Promise<{ id: number; code: string }> {
  await admin.apply({ kind: 'make-code', values: { ...plainCode, ...more } });
  const [made] = await execute<{ id: number; code: string }>(
    site.databaseUrl,
    'select code_id::int as id, code from join_code_version order by row_id desc limit 1',
  );
  if (!made) throw new Error('no code');
  return made;
}

interface Joined {
  status: number;
  signInName: string | null;
  inLine: string[];
}
async function join(code: string, givenName: string): Promise<Joined> {
  const given = { givenName, familyName: 'Together', email: '', idNumber: '', answers: {} };
  const body = { requestId: randomUUID(), code, password: 'four quiet harbour seals', given };
  const answer = await untilAnswered(() => makeClient(balancer.url).send('join', { body }));
  return { inLine: [], signInName: null, ...(answer.body as object), status: answer.status };
}

const roster = (names: readonly string[], into: number): Change => ({
  kind: 'bring-in-roster',
  into,
  fileName: 'together.csv',
  hasGroupColumn: false,
  dateOrder: 'yearFirst',
  rows: names.map((fullName, index) => ({ row: index + 2, cells: { fullName, tags: 'together' } })),
});

/** Nothing is twice, nothing is over its number, nothing ended before it began, and what is derived is what a rebuild gives. */
async function checkWorld(): Promise<void> {
  expect(await count('select count(*) - count(distinct lower(sign_in_name::text)) as n from personal_now')).toBe(0);
  expect(await count('select count(*) - count(distinct (person_id, group_id)) as n from membership where until_at is null')).toBe(0);
  expect(
    await count(`select count(*) as n from seat s where until_at is null and not exists (
      select 1 from membership m where m.person_id = s.person_id and m.group_id = s.group_id and m.until_at is null)`),
  ).toBe(0);
  expect(
    await count(
      `select coalesce(sum(greatest(0, (select count(*) from seat s where s.licence_id = l.licence_id and s.until_at is null) - l.seats)), 0) as n from licence_now l`,
    ),
  ).toBe(0);
  expect(await count('select count(*) as n from membership where until_at < from_at')).toBe(0);
  const asItIs = await derived(site);
  expect(asItIs).toEqual(await rebuilt());
}

/** What a rebuild of the same database gives. */
async function rebuilt(): Promise<unknown[]> {
  const { pool, db } = connect(site.databaseUrl);
  try {
    const [{ day } = { day: '' }] = await execute<{ day: string }>(
      site.databaseUrl,
      `select (now() at time zone time_zone)::date::text as day from organisation`,
    );
    await db.transaction((tx) => rebuildDerived(tx, day));
    return await derived(site);
  } finally {
    await pool.end();
  }
}

test('joins, additions, a file, moves and removals at once: limits, seats, names and everything derived are exact', async () => {
  const admin = await signedIn('mirela');
  const full = await makeCode(admin, { groupIds: [shore], useLimit: 12 });
  const paid = await makeCode(admin, { groupIds: [quay] });
  await admin.apply({ kind: 'edit-licence', licenceId: boats, values: { seats: 100 } });
  const inUse = await count(`select count(*) as n from seat where licence_id = ${boats} and until_at is null`);
  const members = (
    await execute<{ id: number }>(
      site.databaseUrl,
      `select person_id::int as id from membership where group_id = 20 and until_at is null order by 1 limit 24`,
    )
  ).map(({ id }) => id);
  const change = async (each: Change): Promise<number> => {
    const { digest } = (await untilAnswered(() => admin.send('look', { body: { change: each } }))).body as { digest: string };
    const requestId = randomUUID();
    return (await untilAnswered(() => admin.send('apply', { body: { change: each, digest, requestId } }))).status;
  };
  const names = (stem: string, n: number): string[] => Array.from({ length: n }, (_, index) => `${stem}${index} Filed`);
  const job = async (): Promise<void> => {
    const asked = roster(names('Large', 400), shore);
    const { digest } = await admin.call('look', { body: { change: asked } });
    const { jobId } = await admin.call('startJob', { body: { change: asked, digest, requestId: randomUUID() } });
    for (let state = 'waiting'; state !== 'done';) {
      ({ state } = await admin.call('job', { params: { jobId } }));
      if (state === 'failed') throw new Error('the job failed');
      await new Promise((resolve) => setTimeout(resolve, 150));
    }
  };
  const [joined, waiting, statuses] = await Promise.all([
    Promise.all(Array.from({ length: 24 }, (_, n) => join(full.code, `Shore${n}`))),
    Promise.all(Array.from({ length: 16 }, (_, n) => join(paid.code, `Quay${n}`))),
    Promise.all([
      change({ kind: 'add-members', groupId: shore, personIds: members.slice(0, 6), firstDay: null, lastDay: null }),
      change({ kind: 'add-members', groupId: harbours, personIds: members.slice(3, 9), firstDay: null, lastDay: null }),
      change({ kind: 'move-members', fromId: 20, intoId: 21, personIds: members.slice(9, 15) }),
      change({ kind: 'remove-members', groupId: 20, personIds: members.slice(15, 18) }),
      change({ kind: 'move-groups', groupIds: [21], intoId: partners }),
      change(roster(names('Small', 8), quay)),
      job(),
    ]),
  ]);
  // Everything was done, or refused because it had changed since it was looked at.
  expect(statuses.filter((status) => status !== undefined && status !== 200 && status !== 409)).toEqual([]);
  expect(joined.map(({ status }) => status).filter((status) => status === 200)).toHaveLength(12);
  expect(joined.every(({ status }) => status === 200 || status === 410)).toBe(true);
  expect(await count(`select uses as n from join_code where id = ${full.id}`)).toBe(12);
  expect(waiting.every(({ status }) => status === 200)).toBe(true);
  // As many seats as there were went, and the others are in line, each at a place of their own.
  expect(await count(`select count(*) as n from seat where licence_id = ${boats} and until_at is null`)).toBe(100);
  expect(waiting.filter(({ inLine }) => inLine.length === 0).length).toBeLessThanOrEqual(100 - inUse);
  expect(
    await count(
      `select count(*) as n from membership m join personal_now n on n.person_id = m.person_id where n.family_name = 'Filed' and m.group_id = ${shore} and m.until_at is null`,
    ),
  ).toBe(400);
  await checkWorld();
}, 180_000);

test('the same request pressed again is one account, also at once at two processes, and with other content it is refused', async () => {
  const admin = await signedIn('mirela');
  const { id, code } = await makeCode(admin, { groupIds: [shore], useLimit: 1 });
  const given = { givenName: 'Twice', familyName: 'Pressed', email: '', idNumber: '', answers: {} };
  const body = { requestId: randomUUID(), code, password: 'four quiet harbour seals', given };
  const answers = await Promise.all(web().map(({ url }) => makeClient(url).call('join', { body })));
  const later = await makeClient(balancer.url).call('join', { body });
  const [first] = answers;
  expect(first?.me?.personId).toBeGreaterThan(0);
  expect([...answers, later].map(({ me, signInName }) => [me?.personId, signInName])).toEqual(
    Array.from({ length: 3 }, () => [first?.me?.personId, first?.signInName]),
  );
  expect(await count(`select uses as n from join_code where id = ${id}`)).toBe(1);
  // Without the password there is no session; with other content, nothing.
  const guess = await makeClient(balancer.url).call('join', { body: { ...body, password: 'not the one that was set' } });
  expect([guess.signInName, guess.me]).toEqual([first?.signInName, null]);
  const other = await makeClient(balancer.url).send('join', { body: { ...body, given: { ...given, givenName: 'Other' } } });
  expect([other.status, ((await other.json()) as { code: string }).code]).toEqual([409, 'request-id-reused']);
});

test('what one process does, a browser at the other hears; readiness and numbers stand behind their doors', async () => {
  const [a, b] = web();
  if (!a || !b) throw new Error('no processes');
  const admin = makeClient(a.url);
  await admin.call('signIn', { body: { signInName: 'mirela', password: demoPassword } });
  const reader = (await admin.send('live')).body?.pipeThrough(new TextDecoderStream()).getReader();
  let heard = '';
  const listening = (async () => {
    while (!heard.includes('people')) heard += (await reader?.read())?.value ?? '';
  })();
  const other = makeClient(b.url);
  await other.call('signIn', { body: { signInName: 'mirela', password: demoPassword } });
  await other.apply({ kind: 'edit-group', groupId: shore, values: { description: 'Heard by the other process' } });
  await listening;
  await reader?.cancel();
  for (const { url } of processes) {
    expect((await fetch(`${url}/api/ready`)).status).toBe(200);
    expect((await fetch(`${url}/metrics`)).status).toBe(404);
    const numbers = await (await fetch(`${url}/metrics`, { headers: { authorization: `Bearer ${metricsKey}` } })).text();
    expect(numbers).toMatch(/^gate_roster_jobs_waiting 0$/mu);
    expect(numbers).toMatch(/nodejs_eventloop_lag_p99_seconds/u);
    expect(numbers.trimEnd().endsWith('# EOF')).toBe(true);
  }
  // A worker answers nothing else.
  expect((await fetch(`${processes[2]?.url ?? ''}/api/v1/site`)).status).toBe(404);
});

test('killed in the middle, again and again, and the database away for a while: what was acknowledged is there once, and jobs go on within seconds', async () => {
  const admin = await signedIn('mirela');
  const { code } = await makeCode(admin, { groupIds: [shore] });
  const acknowledged: (string | null)[] = [];
  let isOver = false;
  const joining = Promise.all(
    Array.from({ length: 4 }, async (_, lane) => {
      for (let n = 0; !isOver; n++) {
        const { status, signInName } = await join(code, `Killed${lane}x${n}`);
        expect(status).toBe(200);
        acknowledged.push(signInName);
      }
    }),
  );
  const jobs: string[] = [];
  for (let n = 0; n < kills; n++) {
    const asked = roster([`Job${n} Killed`, `Job${n}b Killed`], shore);
    const { digest } = (await untilAnswered(() => admin.send('look', { body: { change: asked } }))).body as { digest: string };
    const requestId = randomUUID();
    await untilAnswered(() => admin.send('startJob', { body: { change: asked, digest, requestId } }));
    jobs.push(requestId);
    if (n === 1) await database.cutFor(awaySeconds * 1000);
    const at = n % 3;
    await new Promise((resolve) => setTimeout(resolve, 20 + ((n * 37) % 200)));
    await processes[at]?.kill();
    processes[at] = await startProcess(database.url, at === 2 ? 'worker' : 'web', balancer.url);
    for (let waited = 0; (await count(`select count(*) as n from job where id = '${requestId}' and state = 'waiting'`)) > 0; waited++) {
      if (waited > 100) throw new Error('the job was not taken up');
      await new Promise((resolve) => setTimeout(resolve, 100));
    }
  }
  isOver = true;
  await joining;
  expect(acknowledged.length).toBeGreaterThan(kills);
  expect(new Set(acknowledged).size).toBe(acknowledged.length);
  const names = acknowledged.map((name) => `'${name}'`).join();
  expect(
    await count(
      `select count(*) as n from personal_now n join membership m on m.person_id = n.person_id and m.group_id = ${shore} and m.until_at is null where n.sign_in_name in (${names})`,
    ),
  ).toBe(acknowledged.length);
  // And nobody came in twice under another name.
  expect(await count(`select count(*) - count(distinct given_name) as n from personal_now where given_name like 'Killed%'`)).toBe(0);
  expect(await count(`select count(*) as n from job where state = 'done' and id in (${jobs.map((id) => `'${id}'`).join()})`)).toBe(kills);
  expect(await count(`select count(*) as n from personal_now where given_name like 'Job%' and family_name = 'Killed'`)).toBe(2 * kills);
  await checkWorld();
}, 600_000);
