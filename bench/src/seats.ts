import type { Change } from '@gate-roster/contract';
import { randomUUID } from 'node:crypto';
import { writeFile } from 'node:fs/promises';
import path from 'node:path';
import pg from 'pg';
import { Client } from './client.ts';
import { asJob, bringIn, codeFor, joinBy, start } from './processes.ts';

/* npm run bench -- --seats: 20,000 seats in use and 2,000 people in line, and what a change costs then. */

const seats = 20_000;
const wantedPeople = 22_000;
const newcomers = 2000;
const joiners = 60;
const bareSeats = 3000;
const tries = 5;

interface Line {
  what: string;
  looked: number[];
  applied: number[];
}

export async function measureSeats(url: string, root: string, password: string): Promise<string> {
  const pool = new pg.Pool({ connectionString: url, max: 20 });
  pool.on('error', () => undefined);
  const one = async (text: string, values: unknown[] = []): Promise<number> =>
    Number(Object.values(((await pool.query(text, values)).rows[0] ?? {}) as object)[0] ?? 0);
  const home = await one(
    `select b.ancestor_id from set_in_branch b join membership_set s on s.id = b.set_id where b.ancestor_id <> 1 group by 1 order by abs(sum(s.counted) - $1) limit 1`,
    [wantedPeople],
  );
  const web = await start(url, root, 'web');
  const worker = await start(url, root, 'worker', web.url);
  const admin = new Client(web.url);
  await admin.call('signIn', { body: { signInName: 'p1', password } });
  await admin.apply({
    kind: 'make-courses',
    courses: [{ name: 'Paid by the seat', units: [{ name: 'Unit', activities: ['Page'] }] }],
    homeId: null,
  });
  const course = await one('select max(id) from course_now');
  await admin.apply({
    kind: 'make-licence',
    values: {
      name: 'Bench',
      seats,
      about: { course },
      homeId: home,
      firstDay: null,
      lastDay: null,
      onLeaving: 'comes back',
      byHand: false,
    },
  });
  const licence = await one('select max(licence_id) from licence_now');
  const opened = performance.now();
  await asJob(admin, {
    kind: 'grant-access',
    end: [],
    begin: [
      {
        groupId: home,
        courseId: course,
        effect: 'open',
        withSubgroups: true,
        firm: false,
        firstDay: null,
        lastDay: null,
        units: null,
        due: null,
        payers: { licences: [licence], others: false },
      },
    ],
  });
  const opening = performance.now() - opened;
  const inUse = (): Promise<number> => one('select count(*) from seat where until_at is null and licence_id = $1', [licence]);
  const inLine = (): Promise<number> => one('select count(*) from seat_line where until_at is null and course_id = $1', [course]);
  const [used, waiting] = [await inUse(), await inLine()];
  const lines: Line[] = [];

  /** Looks and applies, some times over; what is made must be another thing each time. */
  async function measure(what: string, changeOf: (nth: number) => Change | Promise<Change>): Promise<void> {
    const line: Line = { what, looked: [], applied: [] };
    for (let nth = 0; nth < tries; nth++) {
      const change = await changeOf(nth);
      const lookFrom = performance.now();
      const { digest } = await admin.call('look', { body: { change } });
      const applyFrom = performance.now();
      await admin.call('apply', { body: { change, digest, requestId: randomUUID() } });
      line.looked.push(applyFrom - lookFrom);
      line.applied.push(performance.now() - applyFrom);
    }
    lines.push(line);
    console.log(row(line));
  }
  const middle = await one(
    `select b.ancestor_id from set_in_branch b join membership_set s on s.id = b.set_id join group_branch g on g.group_id = b.ancestor_id and g.ancestor_id = $1 and g.depth > 0
     where exists (select 1 from group_now n where n.parent_id = b.ancestor_id) group by 1 order by abs(sum(s.counted) - 500) limit 1`,
    [home],
  );
  const parent = await one('select parent_id from group_now where id = $1', [middle]);
  const elsewhere = await one(
    `select b.group_id from group_branch b where b.ancestor_id = $1 and b.group_id <> $2 and b.group_id not in (select group_id from group_branch where ancestor_id = $3) order by b.depth, b.group_id limit 1`,
    [home, parent, middle],
  );
  const person = async (nth: number): Promise<number> =>
    one(
      `select s.person_id from seat s where s.until_at is null and s.licence_id = $1 and (select count(*) from membership m where m.person_id = s.person_id and m.until_at is null) = 1 order by s.person_id offset $2 limit 1`,
      [licence, nth * 7],
    );
  await measure('Ten more seats: ten of the line get one', (nth) => ({
    kind: 'edit-licence',
    licenceId: licence,
    values: { seats: seats + 10 * (nth + 1) },
  }));
  await measure('A limit for one branch of 500 people', (nth) => ({
    kind: 'limit-seats',
    licenceId: licence,
    limits: [{ groupId: middle, most: 600 + nth }],
  }));
  await measure('One holder leaves, the first in line gets the seat', async (nth) => {
    const personId = await person(nth);
    const groupId = await one('select group_id from membership where person_id = $1 and until_at is null', [personId]);
    return { kind: 'remove-members', groupId, personIds: [personId] };
  });
  await measure('A branch of 500 people moves within the home', (nth) => ({
    kind: 'move-groups',
    groupIds: [middle],
    intoId: nth % 2 === 0 ? elsewhere : parent,
  }));
  await measure('A tag for one holder, which touches no seat', async (nth) => ({
    kind: 'tag-people',
    groupId: home,
    personIds: [await person(nth + 20)],
    add: [`of the bench ${nth}`],
    remove: [],
  }));

  // Room for everybody who waits, and for all who come now.
  const before = await inUse();
  const more: Change = { kind: 'edit-licence', licenceId: licence, values: { seats: seats + 10_000 } };
  const { digest } = await admin.call('look', { body: { change: more } });
  const from = performance.now();
  await admin.call('apply', { body: { change: more, digest, requestId: randomUUID() } });
  const line = { took: performance.now() - from, seats: (await inUse()) - before };
  const leaf = await one(
    `select g.id from group_now g join group_branch b on b.group_id = g.id and b.ancestor_id = $1 where not exists (select 1 from group_now c where c.parent_id = g.id) limit 1`,
    [home],
  );
  const filedBefore = await inUse();
  const filedFrom = performance.now();
  await bringIn(admin, leaf, newcomers);
  const filed = { took: performance.now() - filedFrom, seats: (await inUse()) - filedBefore };
  const code = await codeFor(admin, pool, leaf);
  const joined: number[] = [];
  for (let n = 0; n < joiners; n++) {
    const begun = performance.now();
    if (!(await joinBy(web.url, code))) throw new Error('a join was refused');
    joined.push(performance.now() - begun);
  }
  const bare = await bareGuarded(pool, licence, leaf);
  const { rows: version } = await pool.query('show server_version');
  for (const { child } of [web, worker]) child.kill('SIGTERM');
  await pool.end();
  const rate = ({ took, seats: taken }: { took: number; seats: number }): number => taken / (took / 1000);
  const text = `# Seats

Measured by \`npm run bench -- --seats\` on ${new Date().toISOString().slice(0, 10)}: Node ${process.version}, PostgreSQL ${String((version[0] as { server_version: string }).server_version)}, two cores for client, a web process, a worker and the database together. 100,000 people, 2,000 groups; one licence has ${used.toLocaleString('en')} seats in use and ${waiting.toLocaleString('en')} people in line. Opening its course for all of them took ${(opening / 1000).toFixed(1)} s, as a job with its preview.

| What | Preview, median ms | longest | Applying it, median ms | longest |
|---|---|---|---|---|
${lines.map(row).join('\n')}

Seats taken: the bare guarded statement (a transaction each that counts one up where that is still below the number, and inserts the seat, 10 at once) takes ${bare.toFixed(0)} a second. When there is room for all who wait, ${line.seats.toLocaleString('en')} people get theirs by one change in ${(line.took / 1000).toFixed(1)} s: ${rate(line).toFixed(0)} a second, ${(rate(line) / bare).toFixed(2)} of it, with the order of the line, limits, letters and the log. A file of ${newcomers.toLocaleString('en')} new people who each need one takes ${(filed.took / 1000).toFixed(1)} s, ${rate(filed).toFixed(0)} a second with their accounts and memberships. One who joins alone by a code, with a password and a seat: ${median(joined)} ms in the middle, ${Math.round(Math.max(...joined))} ms at the longest.
`;
  await writeFile(path.join(root, 'docs/performance-seats.md'), text);
  return text;
}

/** Seats taken by one guarded statement each, without anything else. @returns How many a second. */
async function bareGuarded(pool: pg.Pool, licence: number, group: number): Promise<number> {
  await pool.query('create table bare_number (id int primary key, used int not null)');
  await pool.query('insert into bare_number values (1, 0)');
  await pool.query(
    'create table bare_seat (id bigint generated always as identity primary key, licence_id bigint, person_id bigint, group_id bigint, got_at timestamptz)',
  );
  const from = performance.now();
  let left = bareSeats;
  await Promise.all(
    Array.from({ length: 10 }, async () => {
      while (left-- > 0)
        await pool.query(
          `with one as (update bare_number set used = used + 1 where id = 1 and used < $1 returning used)
           insert into bare_seat (licence_id, person_id, group_id, got_at) select $2, used, $3, now() from one`,
          [bareSeats * 2, licence, group],
        );
    }),
  );
  return bareSeats / ((performance.now() - from) / 1000);
}

const median = (list: readonly number[]): number => Math.round([...list].sort((a, b) => a - b)[Math.floor(list.length / 2)] ?? 0);
const row = ({ what, looked, applied }: Line): string =>
  `| ${what} | ${median(looked)} | ${Math.round(Math.max(...looked))} | ${median(applied)} | ${Math.round(Math.max(...applied))} |`;
