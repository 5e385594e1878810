import { writeFilter } from '@gate-roster/contract';
import type { Filter } from '@gate-roster/core';
import { fork } from 'node:child_process';
import { randomUUID } from 'node:crypto';
import { once } from 'node:events';
import { writeFile } from 'node:fs/promises';
import path from 'node:path';
import pg from 'pg';
import { Client } from './client.ts';
import { type Line, median, table } from './measure.ts';

/* npm run bench -- --reports: progress under filters, on a past day, side by side, and as a file. */

const runs = 3;
const params = { groupId: 1 };
const pastDays = 200;
const deepPage = 400;

/** Histories that began when the data was made are put back a year, so that there is a past to look at. */
async function putBack(pool: pg.Pool): Promise<void> {
  for (const name of [
    'group_version',
    'membership',
    'person_state',
    'person_tag',
    'access_grant',
    'course_version',
    'unit_version',
    'activity_version',
    'course_set_version',
    'course_set_item',
    'licence_version',
    'seat',
  ])
    await pool.query(`update ${name} set from_at = from_at - interval '400 days', until_at = until_at - interval '400 days'`);
  await pool.query(`update branch_day set from_day = from_day - 400`).catch(() => undefined);
  await pool.query('analyze');
}

const threeParts: Filter = [
  { part: 'tags', how: 'any', ids: [3] },
  { part: 'status', of: ['under way', 'done'] },
  { part: 'active', how: 'within', days: 30 },
];

/** The same answer as bare as it gets: everybody who fits, their work, added up by branch. */
const bareFiltered = `
  with chosen as materialized (
    select p.id, p.set_id from person p where p.counted and p.active_at > now() - interval '30 days' and exists (select 1 from person_tag t where t.person_id = p.id and t.tag_id = 3 and t.until_at is null)
  ), work as materialized (
    select c.set_id, e.course_id, count(*) as all, count(*) filter (where e.status = 'done') as done, sum(e.score) as score from chosen c join enrolment e on e.person_id = c.id and e.is_current and e.status <> 'not begun' group by 1, 2
  )
  select b.ancestor_id, w.course_id, sum(w.all), sum(w.done), sum(w.score) from work w join set_in_branch b on b.set_id = w.set_id
  where b.ancestor_id = 1 or b.ancestor_id in (select group_id from group_branch where ancestor_id = 1 and depth = 1) group by 1, 2`;

/** The work of everybody of the root by group and course, so many levels deep. */
export const bareRoot = (levels: number, fits = 'true'): string => `
  select b.ancestor_id, e.course_id, count(*), count(*) filter (where e.status = 'done') from enrolment e join person p on p.id = e.person_id and p.counted join set_in_branch b on b.set_id = p.set_id
  where e.is_current and ${fits} and (b.ancestor_id = 1 or b.ancestor_id in (select group_id from group_branch where ancestor_id = 1 and depth between 1 and ${levels})) group by 1, 2`;
export const areDone = `e.status = 'done'`;

/** @returns The figures as a table. */
export async function measureReports(databaseUrl: string, root: string, password: string): Promise<string> {
  const pool = new pg.Pool({ connectionString: databaseUrl, max: 2, options: '-c work_mem=32MB -c jit=off' });
  pool.on('error', () => undefined);
  await putBack(pool);
  const server = fork(path.join(root, 'server/dist/main.js'), {
    env: { ...process.env, DATABASE_URL: databaseUrl, PORT: '0', LOG_LEVEL: 'error', WEB_FOLDER: '' },
  });
  try {
    const [{ port }] = (await once(server, 'message')) as [{ port: number }];
    const admin = new Client(`http://127.0.0.1:${port}`);
    await admin.call('signIn', { body: { signInName: 'p1', password } });
    const bare = (statement: string) => median(runs, () => pool.query(statement));
    const filter = writeFilter(threeParts);
    const six = (await pool.query<{ id: number }>(`select id::int from group_now where parent_id = 1 order by id limit 6`)).rows.map(
      ({ id }) => id,
    );
    const course = (
      await pool.query<{ id: number }>(
        `select x.course_id::int as id from entitlement x join person p on p.set_id = x.set_id and p.counted group by 1 order by abs(count(*) - 20000) limit 1`,
      )
    ).rows[0]?.id;
    if (course === undefined) throw new Error('no course');
    const read = await timeOf(() => untilRead(admin));
    console.log(`Columns read in ${Math.round(read / 1000)} s.`);
    const listed = { filter: writeFilter([{ part: 'status', of: ['done'] }]), sort: '-name' as const, limit: 100 };
    const pageStatement = `select p.id from person p join personal_now n on n.person_id = p.id where p.counted and exists (select 1 from enrolment e where e.person_id = p.id and e.is_current and e.status = 'done') order by n.family_name collate people_order desc, n.given_name collate people_order desc, p.id desc limit 101`;
    const lines: Line[] = [];
    const add = async (what: string, ask: () => Promise<unknown>, bareStatement: string, bareWhat: string, times = runs): Promise<void> => {
      const line: Line = { what, kind: 'read', application: await median(times, ask), bare: await bare(bareStatement), bareWhat };
      console.log(`${what}: ${Math.round(line.application)} ms, bare ${Math.round(line.bare)} ms`);
      lines.push(line);
      // After each line, since the last ones take minutes.
      await writeFile(path.join(root, 'docs/performance-reports.md'), documentOf(lines, read));
    };
    await add(
      'The root by group, 200 courses',
      () => admin.call('progress', { params, query: {} }),
      bareRoot(1),
      'work of everybody by branch and course',
    );
    await add('The same, two levels of groups', () => admin.call('progress', { params, query: { levels: 2 } }), bareRoot(2), 'the same');
    await add(
      'One level of those who are done',
      () => admin.call('progress', { params, query: { filter: JSON.stringify([{ part: 'status', of: ['done'] }]) } }),
      bareRoot(1, areDone),
      'the same, of work that is done',
    );
    await add(
      'One level under three filters: a tag, a status, active in 30 days',
      () => admin.call('progress', { params, query: { filter } }),
      bareFiltered,
      'the same, of those who fit',
    );
    await add(
      'By learner under a filter, sorted backwards: the first page',
      () => admin.call('progressLearners', { params, query: listed }),
      pageStatement,
      'who is on that page',
    );
    const { rows: before } = await pool.query<{ id: number; family: string; given: string }>(
      pageStatement
        .replace('select p.id', 'select p.id::int, n.family_name as family, n.given_name as given')
        .replace('limit 101', `offset ${(deepPage - 1) * listed.limit - 1} limit 1`),
    );
    const after = before.map(({ id, family, given }) => Buffer.from(JSON.stringify([family, given, id])).toString('base64url'))[0];
    await add(
      `The same, page ${deepPage}`,
      () => admin.call('progressLearners', { params, query: { ...listed, ...(after ? { after } : {}) } }),
      pageStatement,
      'who is on the first page',
    );
    await add(
      'By learner, sorted by a course: the first page',
      () => admin.call('progressLearners', { params, query: { sort: String(course), limit: 100 } }),
      `select e.person_id from enrolment e join person p on p.id = e.person_id and p.counted where e.course_id = ${course} and e.is_current order by e.status, e.score limit 101`,
      'its first hundred by status and score',
    );
    await add(
      'The same, by next due day',
      () => admin.call('progressLearners', { params, query: { sort: 'due', limit: 100 } }),
      `select p.id, min(x.due_day) from person p join entitlement x on x.set_id = p.set_id where p.counted and not p.own_windows and x.due_day >= current_date group by 1 order by 2 limit 101`,
      'who is due next by the windows of their sets',
    );
    await add(
      'Inside a course of some 20,000 learners',
      () => admin.call('progressInside', { params, query: { courseId: course } }),
      `select status, count(*) from enrolment where course_id = ${course} and is_current group by 1`,
      'its work by status',
    );
    await add(
      'Six groups side by side',
      () => admin.call('progressSideBySide', { params, query: { groups: six.join() } }),
      bareRoot(1).replaceAll('= 1 or', `= any('{${six.join()}}') and`),
      'their work by course',
    );
    await add(
      '100,000 learners by five courses as a workbook',
      () => fetchFile(admin, port),
      `select count(*) from enrolment where is_current`,
      'their enrolments counted',
      1,
    );
    const day = new Date(Date.now() - pastDays * 86_400_000).toISOString().slice(0, 10);
    const made = await timeOf(() => untilReady(() => admin.call('progress', { params, query: { day } })));
    await add(
      `The root by group as of ${pastDays} days ago, once the day is made (making it took ${Math.round(made / 1000)} s)`,
      () => admin.call('progress', { params, query: { day } }),
      bareRoot(1),
      'work of everybody of today',
    );
    return table(lines);
  } finally {
    server.kill();
    await pool.end();
  }
}

/** The first question has the server read its columns; until it has, the database answers, which takes several times as long. */
async function untilRead(admin: Client): Promise<void> {
  const ask = () => timeOf(() => admin.call('progressSideBySide', { params, query: { groups: '1' } }));
  const first = await ask();
  for (let tries = 0; tries < 100 && (await ask()) > first / 3; tries++) await new Promise((resolve) => setTimeout(resolve, 3000));
}

const documentOf = (lines: readonly Line[], read: number): string =>
  `# Reports at scale\n\nMeasured by \`npm run bench -- --reports\` over HTTP at 100,000 people, 2,000 groups, 200 courses and a million enrolments; medians of ${runs} runs, beside bare PostgreSQL in the same run. Columns of all enrolments were read in ${Math.round(read / 1000)} s after the first question ([why](decisions/0024-columns-in-memory.md)).\n\n${table(lines)}\n`;

export async function timeOf(act: () => Promise<unknown>): Promise<number> {
  const from = performance.now();
  await act();
  return performance.now() - from;
}

/** Asks again while the server says that it is busy making what is asked for. */
async function untilReady(act: () => Promise<unknown>): Promise<void> {
  for (;;) {
    try {
      await act();
      return;
    } catch (error) {
      if (!(error instanceof Error) || !error.message.includes('503')) throw error;
      await new Promise((resolve) => setTimeout(resolve, 2000));
    }
  }
}

/** As somebody in the browser: the file is made as a job, and fetched when it is done. */
async function fetchFile(admin: Client, port: number): Promise<void> {
  const query = { view: 'learners', filter: writeFilter([{ part: 'course', courses: [1, 2, 3, 4, 5], sets: [] }]) };
  const { jobId } = await admin.call('startFile', {
    params: { groupId: 1 },
    body: { file: 'progressWorkbook', query, requestId: randomUUID() },
  });
  let sheet = await admin.call('job', { params: { jobId } });
  for (; sheet.state === 'waiting'; sheet = await admin.call('job', { params: { jobId } }))
    await new Promise((resolve) => setTimeout(resolve, 100));
  if (sheet.state !== 'done') throw new Error(`the workbook: ${sheet.problem ?? sheet.state}`);
  const answer = await fetch(`http://127.0.0.1:${port}/api/v1/jobs/${jobId}/file`, { headers: { cookie: admin.cookie } });
  if (answer.status !== 200) throw new Error(`the workbook: ${answer.status}`);
  await answer.arrayBuffer();
}
