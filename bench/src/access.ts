import type { Change } from '@gate-roster/contract';
import { connect, rebuildDerived } from '@gate-roster/server';
import { randomUUID } from 'node:crypto';
import { writeFile } from 'node:fs/promises';
import path from 'node:path';
import pg from 'pg';
import { Client } from './client.ts';
import { median, percentile } from './measure.ts';
import { columnsAreRead, start } from './processes.ts';

/* npm run bench -- --access: courses, the grid and a look at a statement, with 5,000 statements in force. */

const statements = 5000;
const runs = 25;
/** Of a server that has answered this before, as it has in a day of work. */
const runsBefore = 15;

interface Line {
  what: string;
  aim: string;
  took: number;
  bareWhat: string;
  bare: number;
}

/** @returns The figures as text, written to docs/performance-access.md. */
export async function measureAccess(databaseUrl: string, root: string, password: string): Promise<string> {
  const pool = new pg.Pool({ connectionString: databaseUrl, max: 4 });
  pool.on('error', () => undefined);
  const one = async (text: string, values: unknown[] = []): Promise<number> =>
    Number(Object.values(((await pool.query(text, values)).rows[0] ?? {}) as object)[0] ?? 0);
  await widen(pool, databaseUrl);
  const server = await start(databaseUrl, root, 'web');
  try {
    const admin = new Client(server.url);
    await admin.call('signIn', { body: { signInName: 'p1', password } });
    const learner = new Client(server.url);
    await learner.call('signIn', { body: { signInName: 'p2', password } });
    // A learner with courses, whose account this is.
    const person = await one(
      'select person_id from membership where person_id > 100 and until_at is null order by md5(person_id::text) limit 1',
    );
    await pool.query(
      'insert into membership (person_id, group_id, came_by) select 2, group_id, $2 from membership where person_id = $1 and until_at is null on conflict do nothing',
      [person, 'hand'],
    );
    const { db, pool: own } = connect(databaseUrl);
    await db.transaction((tx) => rebuildDerived(tx, new Date().toISOString().slice(0, 10)));
    await own.end();
    await columnsAreRead(admin);
    const courseId = await one(
      `select course_id from course_version where until_at is null and not exists (select 1 from access_grant g where g.course_id = course_version.course_id and g.group_id = 1 and g.until_at is null) order by course_id desc limit 1`,
    );
    const deep = await one('select b.group_id from group_branch b where b.ancestor_id = 1 order by b.depth desc, b.group_id desc limit 1');
    const past = new Date(Date.now() - 366 * 86_400_000).toISOString().slice(0, 10);
    const lines: Line[] = [];
    const line = async (
      what: string,
      aim: string,
      act: () => Promise<unknown>,
      bareWhat: string,
      bare: () => Promise<unknown>,
    ): Promise<void> => {
      lines.push({ what, aim, took: await median(runs, act, runsBefore), bareWhat, bare: await median(runs, bare) });
      console.log(row(lines.at(-1) as Line));
    };
    const grants = (): Promise<unknown> => pool.query('select * from access_grant where until_at is null');
    await line(
      'One learner’s courses',
      '20 ms',
      () => learner.call('myCourses', {}),
      'the entitlements of their set',
      () => pool.query('select x.* from person p join entitlement x on x.set_id = p.set_id where p.id = 2'),
    );
    await line(
      'One learner’s courses with why, as their leader sees them',
      '20 ms',
      () => admin.call('person', { params: { personId: person } }),
      'all statements',
      grants,
    );
    await line(
      'The grid’s first screen at the root',
      '200 ms',
      () => admin.call('accessGrid', { params: { groupId: 1 } }),
      'all statements',
      grants,
    );
    await line(
      'The grid of a far corner',
      '200 ms',
      () => admin.call('accessGrid', { params: { groupId: deep } }),
      'all statements',
      grants,
    );
    const open: Change = {
      kind: 'grant-access',
      end: [],
      begin: [
        { groupId: 1, courseId, effect: 'open', withSubgroups: true, firm: false, firstDay: null, lastDay: null, units: null, due: null },
      ],
    };
    await line(
      'What opening one course at the root would do for everybody',
      '1 s',
      () => admin.call('look', { body: { change: open } }),
      'people counted by membership set',
      () => pool.query('select id, key, counted from membership_set where counted > 0'),
    );
    await line(
      'The root’s grid as of a day a year ago',
      '500 ms',
      () => admin.call('accessGrid', { params: { groupId: 1 }, query: { day: past } }),
      'the statements that stood then',
      () => pool.query(`select * from access_grant where from_at <= $1 and coalesce(until_at > $1, true)`, [past]),
    );
    const applied = await applyAndWait(admin, learner, open);
    await admin.apply({ kind: 'undo', changeId: applied.changeId });
    const { rows: version } = await pool.query('show server_version');
    const text = `# Access

Measured by \`npm run bench -- --access\` on ${new Date().toISOString().slice(0, 10)} over HTTP: Node ${process.version}, PostgreSQL ${String((version[0] as { server_version: string }).server_version)}, client, server and database on the machine's two cores. 100,000 people, 2,000 groups, 200 courses, ${(await one('select count(*) from access_grant where until_at is null')).toLocaleString('en')} statements in force, a million enrolments. Medians of ${runs} runs after ${runsBefore} others.

| What | Aim | Application, ms | Bare SQL, ms | The bare statement |
|---|---|---|---|---|
${lines.map(row).join('\n')}

Opening the course at the root for everybody took ${(applied.took / 1000).toFixed(1)} s. Meanwhile a learner asked for their courses ${applied.reads.length} times: ${Math.round(percentile(applied.reads, 0.5))} ms in the middle, ${Math.round(Math.max(0, ...applied.reads))} ms at the longest. Somebody who changed their own tags in the same seconds waited ${Math.round(Math.max(0, ...applied.writes))} ms at the longest.
`;
    await writeFile(path.join(root, 'docs/performance-access.md'), text);
    return text;
  } finally {
    server.child.kill('SIGTERM');
    await pool.end();
  }
}

const row = ({ what, aim, took, bareWhat, bare }: Line): string =>
  `| ${what} | ${aim} | ${took.toFixed(took < 10 ? 1 : 0)} | ${bare.toFixed(bare < 10 ? 1 : 0)} | ${bareWhat} |`;

/** Statements up to 5,000 at groups all over the tree, a fifth of them blocks; everything as old as two years, so that last year is on record. */
async function widen(pool: pg.Pool, databaseUrl: string): Promise<void> {
  await pool.query('select setseed(0.7)');
  await pool.query(
    `insert into access_grant (group_id, course_id, effect, with_subgroups, due_days, from_at)
     select 2 + floor(random() * 1990)::int, 1 + floor(random() * 200)::int, case when random() < 0.2 then 'block' else 'open' end, random() < 0.8, null, now() - interval '18 months'
     from generate_series(1, $1 - (select count(*)::int from access_grant where until_at is null))`,
    [statements],
  );
  for (const table of ['group_version', 'course_version', 'unit_version', 'activity_version', 'access_grant', 'membership', 'person_state'])
    await pool.query(`update ${table} set from_at = least(from_at, now() - interval '2 years')`);
  const { db, pool: own } = connect(databaseUrl);
  await db.transaction((tx) => rebuildDerived(tx, new Date().toISOString().slice(0, 10)));
  await own.end();
  await pool.query('analyze');
}

/** Applies a change while somebody reads and somebody else writes: how long each of their requests took. */
async function applyAndWait(
  admin: Client,
  reader: Client,
  change: Change,
): Promise<{ changeId: number; took: number; reads: number[]; writes: number[] }> {
  const { digest } = await admin.call('look', { body: { change } });
  const [reads, writes]: [number[], number[]] = [[], []];
  let isDone = false;
  const again = async (times: number[], act: (nth: number) => Promise<unknown>): Promise<void> => {
    for (let nth = 0; !isDone; nth++) {
      const from = performance.now();
      await act(nth);
      times.push(performance.now() - from);
    }
  };
  const others = [
    again(reads, () => reader.call('myCourses', {})),
    again(writes, (nth) =>
      admin.apply({ kind: 'tag-people', groupId: 1, personIds: [500 + (nth % 50)], add: [`waits ${nth}`], remove: [] }),
    ),
  ];
  const from = performance.now();
  const { changeId } = await admin.call('apply', { body: { change, digest, requestId: randomUUID() } });
  const took = performance.now() - from;
  isDone = true;
  await Promise.all(others);
  return { changeId: changeId ?? 0, took, reads, writes };
}
