import { fork } from 'node:child_process';
import { once } from 'node:events';
import { writeFile } from 'node:fs/promises';
import path from 'node:path';
import pg from 'pg';
import { Client } from './client.ts';
import { type Line, median, table } from './measure.ts';

/* npm run bench -- --work: 20,000 pieces that wait to be marked. */

const pieces = 20_000;
const runs = 5;

/** Makes one activity marked and lets people hand in for it. */
async function handIn(pool: pg.Pool): Promise<void> {
  const handIn = {
    asked: '',
    words: 'must',
    link: 'no',
    files: 'no',
    bestScore: 10,
    passScore: 6,
    skillIds: [],
    tries: null,
    lateCounts: true,
    rubric: [],
  };
  await pool.query(
    `update activity_version set finished_by = 'marker', hand_in = $1 where until_at is null and position = 1 and unit_id in (select min(unit_id) from unit_version group by course_id)`,
    [JSON.stringify(handIn)],
  );
  await pool.query(
    `with chosen as (select e.id, a.activity_id, e.person_id from enrolment e join activity_version a on a.course_id = e.course_id and a.finished_by = 'marker' and a.until_at is null where e.is_current and e.status = 'under way' order by md5(e.id::text) limit $1)
     insert into work (enrolment_id, activity_id, person_id) select id, activity_id, person_id from chosen`,
    [pieces],
  );
  await pool.query(
    `insert into work_version (work_id, number, state, words, made_at, handed_in_at) select id, 1, 'waiting', repeat('I let the jacket take me. ', 20), t, t from (select id, now() - random() * interval '30 days' as t from work) w`,
  );
  await pool.query('analyze work; analyze work_version; analyze activity_version');
}

/** @returns The figures as a table. */
export async function measureWork(databaseUrl: string, root: string, password: string): Promise<string> {
  const pool = new pg.Pool({ connectionString: databaseUrl, max: 2 });
  pool.on('error', () => undefined);
  await handIn(pool);
  const server = fork(path.join(root, 'server/dist/main.js'), {
    env: { ...process.env, DATABASE_URL: databaseUrl, PORT: '0', ROLE: 'web', LOG_LEVEL: 'error', WEB_FOLDER: '' },
  });
  try {
    const [{ port }] = (await once(server, 'message')) as [{ port: number }];
    const admin = new Client(`http://127.0.0.1:${port}`);
    await admin.call('signIn', { body: { signInName: 'p1', password } });
    const params = { groupId: 1 };
    const bare = (): Promise<unknown> =>
      pool.query(
        `select v.id, v.handed_in_at from work_version v join work w on w.id = v.work_id join enrolment e on e.id = w.enrolment_id where v.state = 'waiting' order by v.handed_in_at, v.id limit 50`,
      );
    const count = (): Promise<unknown> =>
      pool.query(
        `select count(*) from work_version v join work w on w.id = v.work_id join enrolment e on e.id = w.enrolment_id join person p on p.id = e.person_id where v.state = 'waiting' and p.counted`,
      );
    const first = await admin.call('handedIn', { params });
    const lines: Line[] = [
      {
        what: `The list of ${first.counts.waiting} waiting pieces opens: the first 50 and how many there are`,
        kind: 'read',
        application: await median(runs, () => admin.call('handedIn', { params })),
        bare: await median(runs, async () => {
          await bare();
          await count();
        }),
        bareWhat: 'two statements: the oldest 50, and how many wait',
      },
      {
        what: 'One piece with its versions',
        kind: 'read',
        application: await median(runs, () => admin.call('workSheet', { params: { versionId: first.pieces[0]?.versionId ?? 0 } })),
        bare: await median(runs, bare),
        bareWhat: 'the oldest 50',
      },
    ];
    const text = table(lines);
    await writeFile(
      path.join(root, 'docs/performance-work.md'),
      `# Work that waits to be marked\n\nMeasured by \`npm run bench -- --work\`: ${pieces.toLocaleString('en-GB')} pieces wait, at 100,000 people and a million enrolments; medians of ${runs} runs over HTTP, beside bare PostgreSQL in the same run.\n\n${text}\n`,
    );
    return text;
  } finally {
    server.kill();
    await pool.end();
  }
}
