import { randomUUID } from 'node:crypto';
import { writeFile } from 'node:fs/promises';
import path from 'node:path';
import pg from 'pg';
import { Client } from './client.ts';
import { bringIn, codeFor, columnsAreRead, joinBy, loopDelay, start } from './processes.ts';

/* npm run bench -- --joins: people who join, alone, many at once, and while a file comes in or a branch moves. */

interface Lane {
  what: string;
  atOnce: number;
  times: number[];
  seconds: number;
  refused: number;
}

export async function measureJoins(url: string, root: string, password: string): Promise<string> {
  const pool = new pg.Pool({ connectionString: url, max: 50 });
  const web = await start(url, root, 'web');
  const worker = await start(url, root, 'worker', web.url);
  const admin = new Client(web.url);
  await admin.call('signIn', { body: { signInName: 'p1', password } });
  await columnsAreRead(admin);
  const one = async (text: string, values: unknown[] = []): Promise<number> =>
    Number(Object.values(((await pool.query(text, values)).rows[0] ?? {}) as object)[0] ?? 0);
  const middle = await one(
    `select b.ancestor_id from set_in_branch b join membership_set s on s.id = b.set_id where b.ancestor_id <> 1 group by 1 order by abs(sum(s.counted) - 5000) limit 1`,
  );
  const group = await one(
    `select g.id from group_now g where not exists (select 1 from group_now c where c.parent_id = g.id) and g.id not in (select group_id from group_branch where ancestor_id = $1) limit 1`,
    [middle],
  );
  const code = await codeFor(admin, pool, group);
  /** Keeps so many joins going until `until` says so. */
  async function lane(what: string, atOnce: number, until: (done: number) => boolean): Promise<Lane> {
    const times: number[] = [];
    let [begun, refused] = [0, 0];
    const from = performance.now();
    await Promise.all(
      Array.from({ length: atOnce }, async () => {
        while (!until(begun++)) {
          const asked = performance.now();
          if (!(await joinBy(web.url, code))) refused++;
          times.push(performance.now() - asked);
        }
      }),
    );
    return { what, atOnce, times: times.sort((a, b) => a - b), seconds: (performance.now() - from) / 1000, refused };
  }
  await lane('', 1, (n) => n >= 10);
  const lanes = [await lane('One after the other', 1, (n) => n >= 60), await lane('Many at once', 50, (n) => n >= 300)];
  await loopDelay(web);
  lanes.push(await lane('Many more at once', 200, (n) => n >= 600));
  const delayOfJoins = await loopDelay(web);

  let isFiling = true;
  const filing = bringIn(admin, middle, 50_000).then((changeId) => {
    isFiling = false;
    return changeId;
  });
  lanes.push(await lane('While 50,000 rows are sent, checked and come in', 10, () => !isFiling));
  const filed = await filing;
  const delayOfFile = await loopDelay(web);

  const parent = await one('select parent_id from group_now where id = $1', [middle]);
  const elsewhere = await one(
    `select id from group_now where id <> $1 and id between 2 and 9 and id not in (select group_id from group_branch where ancestor_id = $2) limit 1`,
    [parent, middle],
  );
  await admin.apply({ kind: 'undo', changeId: filed });
  let isMoving = true;
  const moving = (async () => {
    for (const intoId of [elsewhere, parent, elsewhere, parent]) await admin.apply({ kind: 'move-groups', groupIds: [middle], intoId });
    isMoving = false;
  })();
  lanes.push(await lane('While a branch of 5,000 moves, four times', 10, () => !isMoving));
  await moving;

  const bareFrom = performance.now();
  const bareJoins = 600;
  let left = bareJoins;
  await Promise.all(
    Array.from({ length: 50 }, async () => {
      while (left-- > 0) await bareJoin(pool, group);
    }),
  );
  const bare = bareJoins / ((performance.now() - bareFrom) / 1000);
  const { rows: found } = await pool.query('show server_version');
  const text = describe(
    lanes,
    bare,
    { joins: delayOfJoins, file: delayOfFile },
    String((found[0] as { server_version: string }).server_version),
  );
  for (const { child } of [web, worker]) child.kill('SIGTERM');
  await pool.end();
  await writeFile(path.join(root, 'docs/performance-joins.md'), text);
  return text;
}

/** The same rows in one transaction, without the hash and the rules. */
async function bareJoin(pool: pg.Pool, group: number): Promise<void> {
  const client = await pool.connect();
  try {
    const name = randomUUID();
    await client.query('begin');
    const { rows } = await client.query<{ id: number }>(
      `insert into person (set_id) select id from membership_set where key = '' returning id`,
    );
    const id = rows[0]?.id ?? 0;
    await client.query(`insert into personal (person_id, given_name, family_name, sign_in_name) values ($1, 'Bare', 'Bench', $2)`, [
      id,
      name,
    ]);
    await client.query(`insert into person_state (person_id, state) values ($1, 'active')`, [id]);
    await client.query(`insert into credential (person_id, password_hash) values ($1, 'none')`, [id]);
    await client.query(`insert into membership (person_id, group_id, came_by) values ($1, $2, 'join code')`, [id, group]);
    await client.query(
      `update person set set_id = coalesce((select id from membership_set where key = $2::text), set_id), counted = true where id = $1`,
      [id, String(group)],
    );
    await client.query('commit');
  } finally {
    client.release();
  }
}

const at = (times: readonly number[], share: number): number =>
  Math.round(times[Math.min(times.length - 1, Math.floor(times.length * share))] ?? 0);

function describe(lanes: readonly Lane[], bare: number, delays: { joins: number; file: number }, version: string): string {
  const rows = lanes.map(
    ({ what, atOnce, times, seconds, refused }) =>
      `| ${what} | ${atOnce} | ${at(times, 0.5)} | ${at(times, 0.99)} | ${at(times, 1)} | ${(times.length / seconds).toFixed(0)} | ${refused} |`,
  );
  const ms = (seconds: number): string => `${Math.round(seconds * 1000)} ms`;
  return `# People who join

Measured by \`npm run bench -- --joins\` on ${new Date().toISOString().slice(0, 10)}: Node ${process.version}, PostgreSQL ${version}, two cores for client, a web process, a worker and the database together. 100,000 people, 2,000 groups.

| What | At once | Median, ms | 99 of 100 within, ms | Longest, ms | Joins per second | Refused |
|---|---|---|---|---|---|---|
${rows.join('\n')}

Each join makes an account with a password and comes into a group by a code. Hashing the password alone takes some 41 ms of a core, so two cores give at most about 45 a second with nothing else to do. The same rows by bare statements, a transaction each, without the hash, 50 at once: ${bare.toFixed(0)} a second.

99 of 100 turns of the web process's event loop were late by at most ${ms(delays.joins)} while 200 joined at once, and by at most ${ms(delays.file)} while the file was sent and came in.
`;
}
