import { fork } from 'node:child_process';
import { createHash, randomUUID } from 'node:crypto';
import { once } from 'node:events';
import { writeFile } from 'node:fs/promises';
import path from 'node:path';
import pg from 'pg';
import { Client } from './client.ts';
import { percentile } from './measure.ts';
import { columnsAreRead } from './processes.ts';

/* npm run bench -- --statements: xAPI statements in batches, while readers read. */

const batch = 500;
const batches = 40;
const senders = 4;
const mostReads = 10_000;
/** Milliseconds that a reader looks at a page before the next. */
const betweenReads = 500;

interface Pair {
  name: string;
  activity: number;
}

/** People to whom an activity is open today, each pair once. */
async function openPairs(pool: pg.Pool): Promise<Pair[]> {
  const { rows } = await pool.query<Pair>(
    `select n.sign_in_name as name, a.id::int as activity from (select id, set_id from person where counted and not own_windows order by md5(id::text) limit 20000) p
     join personal_now n on n.person_id = p.id and n.sign_in_name is not null join entitlement x on x.set_id = p.set_id and not x.needs_seat and x.first_day is null and x.last_day is null
     join activity_now a on a.unit_id = x.units[1] and a.finished_by = 'player' order by md5(p.id::text || a.id) limit $1`,
    [batch * batches],
  );
  return rows;
}

async function platform(pool: pg.Pool): Promise<string> {
  const password = randomUUID();
  const hash = createHash('sha256').update(password).digest('base64url');
  await pool.query(
    `insert into source (key, secret, name, password_hash, all_courses) values ('bench-statements', 'none', 'Bench', $1, true)`,
    [hash],
  );
  return `Basic ${Buffer.from(`bench-statements:${password}`).toString('base64')}`;
}

/** @returns The figures as text. */
export async function measureStatements(databaseUrl: string, root: string, password: string): Promise<string> {
  const pool = new pg.Pool({ connectionString: databaseUrl, max: 4 });
  pool.on('error', () => undefined);
  const authorization = await platform(pool);
  const pairs = await openPairs(pool);
  const server = fork(path.join(root, 'server/dist/main.js'), {
    env: { ...process.env, DATABASE_URL: databaseUrl, PORT: '0', LOG_LEVEL: 'error', WEB_FOLDER: '' },
  });
  try {
    const [{ port }] = (await once(server, 'message')) as [{ port: number }];
    const url = `http://127.0.0.1:${port}`;
    const statementOf = ({ name, activity }: Pair): object => ({
      id: randomUUID(),
      actor: { account: { homePage: url, name } },
      verb: { id: 'http://adlnet.gov/expapi/verbs/completed', display: { en: 'completed' } },
      object: { id: `${url}/activities/${activity}`, definition: { name: { en: 'Activity' } } },
      result: { completion: true, score: { scaled: 0.75 }, duration: 'PT4M' },
      timestamp: new Date().toISOString(),
    });
    const bodies = Array.from({ length: batches }, (_, index) =>
      JSON.stringify(pairs.slice(index * batch, (index + 1) * batch).map((pair) => statementOf(pair))),
    );
    const admin = new Client(url);
    await admin.call('signIn', { body: { signInName: 'p1', password } });
    await columnsAreRead(admin);
    const quiet = await readsWhile(admin, new Promise((resolve) => setTimeout(resolve, 5000)));
    const times: number[] = [];
    const start = performance.now();
    const sending = Promise.all(
      Array.from({ length: senders }, async (_, sender) => {
        for (let index = sender; index < bodies.length; index += senders) {
          const from = performance.now();
          const answer = await fetch(`${url}/xapi/statements`, {
            method: 'POST',
            headers: { authorization, 'content-type': 'application/json', 'x-experience-api-version': '1.0.3' },
            body: bodies[index] ?? '[]',
          });
          if (answer.status !== 200 || answer.headers.get('x-not-counted')) throw new Error(`${answer.status} ${await answer.text()}`);
          await answer.text();
          times.push(performance.now() - from);
        }
      }),
    );
    const loaded = await readsWhile(admin, sending);
    const seconds = (performance.now() - start) / 1000;
    const { rows } = await pool.query<{ n: number }>(
      `select count(*)::int as n from report where not_counted is null and enrolment_id is not null`,
    );
    const bare = await bareInserts(pool, pairs.length);
    const line = (what: string, value: string): string => `| ${what} | ${value} |`;
    const text = [
      '| | |',
      '|---|---|',
      line(
        `Statements sent, ${batch} at a time by ${senders} senders, all kept and counted`,
        `${rows[0]?.n.toLocaleString('en-GB') ?? ''}`,
      ),
      line('Statements a second, while a reader reads', Math.round(pairs.length / seconds).toLocaleString('en-GB')),
      line('One batch: median, slowest', `${Math.round(percentile(times, 0.5))} ms, ${Math.round(percentile(times, 1))} ms`),
      line('Bare PostgreSQL: the same number of rows into one table, 500 at a time, a second', Math.round(bare).toLocaleString('en-GB')),
      line('One page of people, alone: median, p99', `${Math.round(percentile(quiet, 0.5))} ms, ${Math.round(percentile(quiet, 0.99))} ms`),
      line('The same while statements come in', `${Math.round(percentile(loaded, 0.5))} ms, ${Math.round(percentile(loaded, 0.99))} ms`),
    ].join('\n');
    await writeFile(
      path.join(root, 'docs/performance-statements.md'),
      `# xAPI statements\n\nMeasured by \`npm run bench -- --statements\` over HTTP at 100,000 people and a million enrolments: server, PostgreSQL, senders and a reader share the machine's two cores. The bare line is the same run's floor: rows of the same content into a table without anything else.\n\n${text}\n`,
    );
    return text;
  } finally {
    server.kill();
    await pool.end();
  }
}

/** How long each page of people took until something ended, one after the other. */
async function readsWhile(admin: Client, until: Promise<unknown>): Promise<number[]> {
  const times: number[] = [];
  let isOver = false;
  void until.finally(() => {
    isOver = true;
  });
  while (!isOver && times.length < mostReads) {
    const from = performance.now();
    await admin.call('groupPeople', { params: { groupId: 1 }, query: { limit: 50 } });
    times.push(performance.now() - from);
    await new Promise((resolve) => setTimeout(resolve, betweenReads));
  }
  await until;
  return times;
}

async function bareInserts(pool: pg.Pool, count: number): Promise<number> {
  await pool.query(`create table bare_statement (id uuid primary key, person bigint, activity bigint, said jsonb)`);
  const from = performance.now();
  for (let done = 0; done < count; done += batch) {
    const rowsOf = Array.from({ length: batch }, () => ({
      id: randomUUID(),
      person: 1,
      activity: 1,
      said: { verb: 'completed', score: 0.75 },
    }));
    await pool.query(
      `insert into bare_statement select id, person, activity, said from jsonb_to_recordset($1::jsonb) as r(id uuid, person bigint, activity bigint, said jsonb)`,
      [JSON.stringify(rowsOf)],
    );
  }
  return count / ((performance.now() - from) / 1000);
}
