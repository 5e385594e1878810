import { migrate } from '@gate-roster/server';
import { writeFilter } from '@gate-roster/contract';
import { fork } from 'node:child_process';
import { once } from 'node:events';
import { writeFile } from 'node:fs/promises';
import path from 'node:path';
import pg from 'pg';
import { Client } from './client.ts';
import { type Line, median, tableOf } from './measure.ts';
import { areDone, bareRoot, timeOf } from './reports.ts';
import { loadScaleWorld, scale } from './scale-world.ts';

/* npm run bench -- --large: the report of the root at ten times the size. Making the data takes long the first time. */

const times = 10;
const runs = 5;
const params = { groupId: 1 };
const waitMilliseconds = 3000;
/** The database alone takes minutes. */
const quickMilliseconds = 20_000;

/** @returns The figures as a table. */
export async function measureLarge(url: string, root: string, password: string, passwordHash: string): Promise<string> {
  const large = new URL(url);
  large.pathname = '/bench_large';
  const pool = new pg.Pool({ connectionString: large.href, max: 2, options: '-c work_mem=64MB -c jit=off' });
  pool.on('error', () => undefined);
  // The day turn is written last: without it, an earlier try ended in the middle.
  const isMade = await pool.query('select 1 from day_turn').then(
    ({ rowCount }) => rowCount !== 0,
    () => false,
  );
  if (!isMade) {
    const cluster = new pg.Pool({ connectionString: url, max: 1 });
    await cluster.query('drop database if exists bench_large with (force)');
    await cluster.query('create database bench_large');
    await cluster.end();
    await migrate(large.href, path.join(root, 'server/drizzle'));
    const made = await timeOf(() => loadScaleWorld(pool, large.href, passwordHash, times));
    console.log(`Made in ${Math.round(made / 1000)} s.`);
  }
  const server = fork(path.join(root, 'server/dist/main.js'), {
    env: { ...process.env, DATABASE_URL: large.href, PORT: '0', LOG_LEVEL: 'error', WEB_FOLDER: '', ROLE: 'web' },
  });
  try {
    const [{ port }] = (await once(server, 'message')) as [{ port: number }];
    const admin = new Client(`http://127.0.0.1:${port}`);
    await admin.call('signIn', { body: { signInName: 'p1', password } });
    const filter = writeFilter([{ part: 'status', of: ['done'] }]);
    const filtered = () => admin.call('progress', { params, query: { filter } });
    const read = await timeOf(() => untilQuick(filtered));
    const memory = Number(
      /gate_roster_process_resident_memory_bytes (\d+)/u.exec(await (await fetch(`http://127.0.0.1:${port}/metrics`)).text())?.[1] ?? 0,
    );
    const lines: Line[] = [
      {
        what: 'The root by group, 200 courses',
        kind: 'read',
        application: await median(runs, () => admin.call('progress', { params, query: {} })),
        bare: await median(1, () => pool.query(bareRoot(1)), 0),
        bareWhat: 'work of everybody by branch and course',
      },
      {
        what: 'The same of those who are done',
        kind: 'read',
        application: await median(runs, filtered),
        bare: await median(1, () => pool.query(bareRoot(1, areDone)), 0),
        bareWhat: 'the same, of work that is done',
      },
    ];
    const text = `# Reports at ten times the size

Measured by \`npm run bench -- --large\` over HTTP at ${(scale.people * times).toLocaleString('en')} people, ${(scale.groups * times).toLocaleString('en')} groups, ${scale.courses} courses and ${(scale.enrolments * times).toLocaleString('en')} enrolments; medians of ${runs} runs, beside bare PostgreSQL in the same run. The server had read its columns ${Math.round(read / 1000)} s after it began${memory > 0 ? ` and took ${(memory / 2 ** 30).toFixed(1)} GB` : ''} ([why](decisions/0024-columns-in-memory.md)).

${tableOf(lines, { ratio: 3, milliseconds: 1000 })}
`;
    await writeFile(path.join(root, 'docs/performance-large.md'), text);
    return text;
  } finally {
    server.kill();
    await pool.end();
  }
}

/** Until then the database answers, if it does so in time at all. */
async function untilQuick(ask: () => Promise<unknown>): Promise<void> {
  for (;;) {
    const took = await timeOf(() => ask().catch(() => new Promise((resolve) => setTimeout(resolve, quickMilliseconds))));
    if (took < quickMilliseconds) return;
    await new Promise((resolve) => setTimeout(resolve, waitMilliseconds));
  }
}
