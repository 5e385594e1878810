import { fork } from 'node:child_process';
import { randomUUID } from 'node:crypto';
import { once } from 'node:events';
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import { type AddressInfo, createServer } from 'node:net';
import path from 'node:path';
import { pipeline } from 'node:stream/promises';
import { Readable } from 'node:stream';
import { rowsAtOnce, type Change } from '@gate-roster/contract';
import type { RosterRow } from '@gate-roster/core';
import { chromium } from '@playwright/test';
import pg from 'pg';
import { from as copyFrom } from 'pg-copy-streams';
import { Client } from './client.ts';

/* Bringing in large files: checked in a real browser, brought in through the real server, beside a bare COPY of the same people. */

export interface EntryFigures {
  check: { rows: number; seconds: number; longest: number; longTasks: number };
  bring: { rows: number; send: number; look: number; apply: number; bareCopy: number; ratio: number; sets: number; peakMegabytes: number };
  most: { rows: number; look: number; apply: number; peakMegabytes: number };
}

const columns = 'Given name,Family name,Email,ID number,Group,Tags,First day,Name hidden';

/** Rows of a file, spread over the groups of a branch, a tenth of them in a second group. */
function rosterRows(count: number, groups: readonly string[], mark: string): RosterRow[] {
  return Array.from({ length: count }, (_, index) => ({
    row: index + 2,
    cells: {
      givenName: `Given${mark}${index % 997}`,
      familyName: `Family${index}`,
      email: `${mark}.${index}@bench.example`,
      idNumber: `${mark}-${index}`,
      group: groups[index % groups.length] ?? '',
      tags: index % 3 === 0 ? 'night' : '',
      firstDay: '2026-01-05',
      nameHidden: '',
    },
  }));
}

const csvOf = (rows: readonly RosterRow[]): string => [columns, ...rows.map(({ cells }) => Object.values(cells).join(','))].join('\n');

export async function measureEntry(databaseUrl: string, root: string, password: string): Promise<EntryFigures> {
  // A browser says where a write comes from, so the server has to know its own address.
  const port = await freePort();
  const server = fork(path.join(root, 'server/dist/main.js'), {
    env: { ...process.env, DATABASE_URL: databaseUrl, PORT: String(port), NODE_OPTIONS: '', LOG_LEVEL: 'error' },
    stdio: ['ignore', 'inherit', 'inherit', 'ipc'],
  });
  const [{ listening }] = (await once(server, 'message')) as [{ listening: string }];
  const pool = new pg.Pool({ connectionString: databaseUrl, max: 2 });
  /** The most memory that the server process has held so far. */
  const peakMegabytes = (): number =>
    Math.round(Number(/VmHWM:\s+(\d+)/u.exec(readFileSync(`/proc/${server.pid ?? 0}/status`, 'utf8'))?.[1] ?? 0) / 1024);
  try {
    const admin = new Client(listening);
    await admin.call('signIn', { body: { signInName: 'p1', password } });
    const { rows: named } = await pool.query<{ path: string }>(
      `select string_agg(g.name, ' > ' order by b.depth desc) filter (where b.ancestor_id <> 1) as path from group_branch b join group_now g on g.id = b.ancestor_id group by b.group_id having count(*) > 3 order by b.group_id limit 400`,
    );
    const groups = named.map(({ path: text }) => text);
    const check = await checkInBrowser(listening, csvOf(rosterRows(50_000, groups, 'c')), password);
    console.log('checked in the browser', check);
    const bring = await bringIn(admin, rosterRows(50_000, groups, 'b'));
    console.log('brought in', bring);
    const bareCopy = await copyBare(pool, 'b');
    const sets = await setsAlone(pool, 'b');
    const peak = peakMegabytes();
    const most = await bringIn(admin, rosterRows(200_000, groups, 'm'));
    console.log('the most', most);
    return {
      check,
      bring: { rows: 50_000, ...bring, bareCopy, ratio: bring.apply / bareCopy, sets, peakMegabytes: peak },
      most: { rows: 200_000, look: most.look, apply: most.apply, peakMegabytes: peakMegabytes() },
    };
  } finally {
    await pool.end();
    server.kill('SIGKILL');
  }
}

/** The file through the importer's page: seconds until its counts stand there, and tasks over 50 ms of the page's own thread. */
async function checkInBrowser(address: string, csv: string, password: string): Promise<EntryFigures['check']> {
  const browser = await chromium.launch({
    executablePath: process.env['CHROMIUM'] ?? '/usr/bin/chromium-headless-shell',
    args: ['--no-sandbox', '--disable-gpu', '--disable-quic', '--no-first-run', '--disable-background-networking'],
  });
  try {
    const page = await browser.newPage();
    page.setDefaultTimeout(120_000);
    await page.goto(`${address}/sign-in`);
    await page.getByLabel('Sign-in name or email').fill('p1');
    await page.getByLabel('Password').fill(password);
    await page.getByRole('button', { name: 'Sign in' }).click();
    await page.waitForURL((url) => !url.pathname.startsWith('/sign-in'));
    await page.goto(`${address}/ways-in/1/file`);
    await page.getByRole('button', { name: 'Choose a file' }).waitFor();
    // The tree and its bars are a page's own business, before and beside the file.
    await page.waitForTimeout(12_000);
    // As text: it runs in the page, whose types this program does not have.
    await page.evaluate(
      `window.seen = []; new PerformanceObserver((list) => { for (const { duration } of list.getEntries()) window.seen.push(duration); }).observe({ type: 'longtask' });`,
    );
    // From the disk, as a person's file: handed over as bytes it would be decoded on the page's thread.
    const file = path.join(mkdtempSync(path.join(os.tmpdir(), 'bench-')), 'large.csv');
    writeFileSync(file, csv);
    const begun = performance.now();
    await page.locator('input[type=file]').setInputFiles(file);
    await page.getByRole('button', { name: 'Work out what this would do' }).waitFor();
    await page.waitForFunction(`document.querySelector('.count .big')?.textContent.replaceAll(',', '') === '50000'`);
    const seconds = (performance.now() - begun) / 1000;
    await page.waitForTimeout(300);
    const tasks = await page.evaluate<number[]>('window.seen');
    return { rows: 50_000, seconds, longest: Math.max(0, ...tasks), longTasks: tasks.length };
  } finally {
    await browser.close();
  }
}

/** Parts to the server, the look, and the job until it is done; milliseconds. */
async function bringIn(admin: Client, rows: readonly RosterRow[]): Promise<{ send: number; look: number; apply: number }> {
  const fileId = randomUUID();
  let from = performance.now();
  const lap = (): number => {
    const took = performance.now() - from;
    from = performance.now();
    return took;
  };
  for (let at = 0, part = 0; at < rows.length; at += rowsAtOnce, part++)
    await admin.call('putRosterPart', { params: { fileId, part }, body: { rows: rows.slice(at, at + rowsAtOnce) } });
  const send = lap();
  const change: Change = {
    kind: 'bring-in-roster',
    into: 1,
    fileName: 'large.csv',
    hasGroupColumn: true,
    dateOrder: 'yearFirst',
    rows: [],
    fileId,
  };
  const { digest, newPeople } = await admin.call('look', { body: { change } });
  if (newPeople !== rows.length) throw new Error(`${newPeople} of ${rows.length} would come in`);
  const look = lap();
  const { jobId } = await admin.call('startJob', { body: { change, digest, requestId: randomUUID() } });
  for (;;) {
    const { state, problem } = await admin.call('job', { params: { jobId } });
    if (state === 'done') break;
    if (state !== 'waiting') throw new Error(`the job ${state}: ${problem ?? ''}`);
    await new Promise((resolve) => setTimeout(resolve, 100));
  }
  return { send, look, apply: lap() };
}

/** The same people and memberships by COPY into the same indexed tables, under other numbers, and taken back. */
async function copyBare(pool: pg.Pool, mark: string): Promise<number> {
  const client = await pool.connect();
  try {
    const { rows: people } = await client.query<Record<string, string>>(
      `select p.id, p.set_id, n.given_name, n.family_name, n.email::text as email, n.sign_in_name::text as sign_in_name, n.id_number, n.id_issuer
       from person p join personal n on n.person_id = p.id and n.until_at is null where n.email::text like $1`,
      [`${mark}.%@bench.example`],
    );
    const { rows: held } = await client.query<Record<string, string>>(
      `select m.person_id, m.group_id from membership m join personal n on n.person_id = m.person_id where n.email::text like $1 and m.until_at is null`,
      [`${mark}.%@bench.example`],
    );
    const base = 100_000_000;
    const moved = (id: string | undefined): string => String(Number(id) + base);
    const copies: [string, string[]][] = [
      ['person (id, set_id)', people.map((p) => `${moved(p['id'])}\t${p['set_id'] ?? ''}`)],
      ['person_state (person_id, state)', people.map((p) => `${moved(p['id'])}\tactive`)],
      [
        'personal (person_id, given_name, family_name, email, sign_in_name, id_number, id_issuer)',
        people.map((p) =>
          [
            moved(p['id']),
            p['given_name'],
            p['family_name'],
            `x${p['email'] ?? ''}`,
            `x${p['sign_in_name'] ?? ''}`,
            `x${p['id_number'] ?? ''}`,
            p['id_issuer'],
          ].join('\t'),
        ),
      ],
      ['membership (person_id, group_id, came_by)', held.map((m) => `${moved(m['person_id'])}\t${m['group_id'] ?? ''}\tfile`)],
    ];
    await client.query('begin');
    const from = performance.now();
    for (const [into, lines] of copies)
      await pipeline(Readable.from(lines.map((line) => `${line}\n`)), client.query(copyFrom(`copy ${into} from stdin`)));
    const took = performance.now() - from;
    await client.query('rollback');
    return took;
  } finally {
    client.release();
  }
}

/** What of the work is bringing membership sets up to date, once more by itself: putting everybody into the set of their groups. */
async function setsAlone(pool: pg.Pool, mark: string): Promise<number> {
  const client = await pool.connect();
  try {
    await client.query('begin');
    const from = performance.now();
    await client.query(
      `update person p set set_id = s.id, counted = true from (
         select m.person_id, string_agg(m.group_id::text, ',' order by m.group_id) as key from membership m join personal n on n.person_id = m.person_id
         where n.email::text like $1 and m.until_at is null group by 1) held join membership_set s on s.key = held.key where p.id = held.person_id`,
      [`${mark}.%@bench.example`],
    );
    const took = performance.now() - from;
    await client.query('rollback');
    return took;
  } finally {
    client.release();
  }
}

function freePort(): Promise<number> {
  return new Promise((resolve, reject) => {
    const probe = createServer();
    probe.once('error', reject);
    probe.listen(0, '127.0.0.1', () => {
      const { port } = probe.address() as AddressInfo;
      probe.close(() => {
        resolve(port);
      });
    });
  });
}

const seconds = (milliseconds: number): string => (milliseconds / 1000).toFixed(1);

/** The figures as a part of docs/performance.md. */
export function entryText({ check, bring, most }: EntryFigures): string {
  return `## Files

| What | Measured |
|---|---|
| ${check.rows.toLocaleString('en')} × 8 rows of CSV read, mapped, matched against 100,000 known people and checked in the browser's worker | ${check.seconds.toFixed(1)} s |
| Tasks over 50 ms on the page's own thread meanwhile | ${check.longTasks}${check.longTasks > 0 ? `, the longest ${Math.round(check.longest)} ms` : ''} |
| The same file brought in: to the server ${seconds(bring.send)} s, what it would do ${seconds(bring.look)} s, written as a job | ${seconds(bring.apply)} s |
| Bare COPY of the same people, states, details and memberships into the same indexed tables | ${seconds(bring.bareCopy)} s |
| Ratio of the two | ${bring.ratio.toFixed(1)} (aim: within 5) |
| Of the job, putting everybody into their membership sets, by itself | ${seconds(bring.sets)} s |
| Most memory of the server process so far | ${bring.peakMegabytes} MB |
| ${most.rows.toLocaleString('en')} rows of CSV: what they would do, written as a job | ${seconds(most.look)} s, ${seconds(most.apply)} s |
| Most memory of the server process then | ${most.peakMegabytes} MB |

The job plans the change again under the lock (the look's work once more), hashes nothing, makes sign-in names that nobody has, writes the log's rows and everything derived; COPY does none of it. Rows come in parts of ${rowsAtOnce.toLocaleString('en')}; the server holds all rows of one file at a time, so its memory is bounded by the file's limit of ${most.rows.toLocaleString('en')} rows. XLSX is opened in the browser's worker only, up to 50,000 rows and 200 MB unpacked.
`;
}
