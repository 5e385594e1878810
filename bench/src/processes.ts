import type { Change } from '@gate-roster/contract';
import type { RosterRow } from '@gate-roster/core';
import { type ChildProcess, fork } from 'node:child_process';
import { randomUUID } from 'node:crypto';
import { once } from 'node:events';
import path from 'node:path';
import pg from 'pg';
import type { Client } from './client.ts';

/* Processes as they run for real, and a file that comes in through them. */

const metricsKey = 'metrics-key-of-the-bench';
const rowsAtOnce = 4000;

export interface Server {
  child: ChildProcess;
  url: string;
}

export async function start(databaseUrl: string, root: string, role: 'web' | 'worker', publicUrl?: string): Promise<Server> {
  const child = fork(path.join(root, 'server/dist/main.js'), {
    env: {
      ...process.env,
      DATABASE_URL: databaseUrl,
      PORT: '0',
      ROLE: role,
      METRICS_KEY: metricsKey,
      LOG_LEVEL: 'error',
      WEB_FOLDER: '',
      ...(publicUrl ? { PUBLIC_URL: publicUrl } : {}),
    },
  });
  const [{ port }] = (await once(child, 'message')) as [{ port: number }];
  return { child, url: `http://127.0.0.1:${port}` };
}

/** A figure of a process's own metrics. */
export async function metric(server: Server, name: string): Promise<number> {
  const text = await (await fetch(`${server.url}/metrics`, { headers: { authorization: `Bearer ${metricsKey}` } })).text();
  return Number(new RegExp(`^${name} (\\S+)$`, 'mu').exec(text)?.[1] ?? Number.NaN);
}

/** Seconds by which the event loop was late, of 99 in 100 turns, since it was asked last. */
export const loopDelay = (server: Server): Promise<number> => metric(server, 'nodejs_eventloop_lag_p99_seconds');

/** Brings so many new people into a group by a file, as a job. @returns The change's number. */
export async function bringIn(admin: Client, into: number, count: number): Promise<number> {
  const rows = Array.from({ length: count }, (_, index): RosterRow => ({
    row: index + 2,
    cells: { givenName: `Filed${index}`, familyName: `Row${index % 900}` },
  }));
  const fileId = randomUUID();
  for (let at = 0, part = 0; at < rows.length; at += rowsAtOnce, part++)
    await admin.call('putRosterPart', { params: { fileId, part }, body: { rows: rows.slice(at, at + rowsAtOnce) } });
  return asJob(admin, {
    kind: 'bring-in-roster',
    into,
    fileName: 'bench.csv',
    hasGroupColumn: false,
    dateOrder: 'yearFirst',
    rows: [],
    fileId,
  });
}

/** Looks at a change and applies it as a job. @returns The change's number, when it is done. */
export async function asJob(admin: Client, change: Change): Promise<number> {
  const { digest } = await admin.call('look', { body: { change } });
  const { jobId } = await admin.call('startJob', { body: { change, digest, requestId: randomUUID() } });
  for (;;) {
    const { state, problem, changeId } = await admin.call('job', { params: { jobId } });
    if (state === 'failed') throw new Error(`${change.kind} failed: ${problem ?? ''}`);
    if (state === 'done') return changeId ?? 0;
    await new Promise((resolve) => setTimeout(resolve, 200));
  }
}

/** Makes a plain join code for a group. @returns It, as it is typed. */
export async function codeFor(admin: Client, pool: pg.Pool, groupId: number): Promise<string> {
  await admin.apply({
    kind: 'make-code',
    values: {
      groupIds: [groupId],
      chosen: null,
      note: null,
      tags: [],
      powers: null,
      firstAt: null,
      lastAt: null,
      useLimit: null,
      emailEnding: null,
      needsDecision: false,
      paused: false,
      asks: { email: 'no', idNumber: 'no', questions: [] },
    },
  });
  return ((await pool.query('select code from join_code_version order by row_id desc limit 1')).rows[0] as { code: string }).code;
}

const mostLooks = 60;
const quickMilliseconds = 500;

/** Waits until a server has read its columns of enrolments, as it does by itself after a start and a rebuild. */
export async function columnsAreRead(admin: Client): Promise<void> {
  const filter = JSON.stringify([{ part: 'status', of: ['done'] }]);
  for (let look = 0; look < mostLooks; look++) {
    const asked = performance.now();
    await admin.call('progress', { params: { groupId: 1 }, query: { filter } });
    if (performance.now() - asked < quickMilliseconds) return;
    await new Promise((resolve) => setTimeout(resolve, quickMilliseconds));
  }
  throw new Error('the columns were not read');
}

/** Somebody new joins by a code, with a password of their own. @returns Whether they got in. */
export async function joinBy(url: string, code: string): Promise<boolean> {
  const given = {
    givenName: `Joining${randomUUID().slice(0, 8)}`,
    familyName: `Bench${randomUUID().slice(0, 4)}`,
    email: '',
    idNumber: '',
    answers: {},
  };
  const answer = await fetch(`${url}/api/v1/join`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ requestId: randomUUID(), code, password: 'four quiet harbour seals', given }),
  });
  await answer.arrayBuffer();
  return answer.ok;
}

/** Files are brought into a copy, so that the other measurements find the same roster at every run. @returns Its address. */
export async function copyOf(system: string, url: string): Promise<string> {
  const name = `${new URL(url).pathname.slice(1)}_files`;
  const client = new pg.Client({ connectionString: system });
  await client.connect();
  await client.query(`drop database if exists ${name} with (force)`);
  await client.query(`select pg_terminate_backend(pid) from pg_stat_activity where datname = $1 and pid <> pg_backend_pid()`, [
    new URL(url).pathname.slice(1),
  ]);
  await client.query(`create database ${name} template ${new URL(url).pathname.slice(1)}`);
  await client.end();
  const copy = new URL(url);
  copy.pathname = `/${name}`;
  return copy.href;
}
