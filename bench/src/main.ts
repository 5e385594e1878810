import { type Change, writeFilter } from '@gate-roster/contract';
import { writeFile } from 'node:fs/promises';
import os from 'node:os';
import path from 'node:path';
import { connect, forgetStandings, hashPassword, keepStandings, migrate, readEnvironment, serve } from '@gate-roster/server';
import pg from 'pg';
import { measureAccess } from './access.ts';
import { Client } from './client.ts';
import { entryText, measureEntry } from './entry.ts';
import { measureJoins } from './joins.ts';
import { measureMessages } from './messages.ts';
import { measurePeriods } from './periods.ts';
import { measureReports } from './reports.ts';
import { measureRules, measureUndo } from './rules.ts';
import { measureSeats } from './seats.ts';
import { type Line, median, table } from './measure.ts';
import { measureStatements } from './statements.ts';
import { measureWork } from './work.ts';
import { measureLarge } from './large.ts';
import { columnsAreRead, copyOf } from './processes.ts';
import { loadScaleWorld, scale } from './scale-world.ts';

/* npm run bench (`-- --files`: files alone, nothing written; `-- --access`: courses and the grid; `-- --joins`: people who join, alone; `-- --work`: work that waits; `-- --rules`: automatic rules; `-- --undo`: the undo of a large file; `-- --messages`: one message to many; `-- --seats`: seats and the line; `-- --statements`: xAPI statements; `-- --reports`: progress under filters and on a past day; `-- --large`: the root at ten times the size): the roster at scale, through the real server over HTTP, against bare PostgreSQL in the same run. */

const url = process.env['DATABASE_URL'] ?? '';
const root = process.env['BENCH_ROOT'] ?? process.cwd();
const password = 'bench-over-water';
const system = new URL(url);
system.pathname = '/postgres';
const cluster = new pg.Client({ connectionString: system.href });
await cluster.connect();
await cluster.query('create database bench').catch(() => undefined);
await cluster.end();
const pool = new pg.Pool({ connectionString: url, max: 4, options: '-c work_mem=32MB -c jit=off' });
await migrate(url, path.join(root, 'server/drizzle'));
const { rows: begun } = await pool.query('select 1 from organisation');
if (begun.length === 0) {
  const from = Date.now();
  console.log('Making the data. This takes some minutes the first time.');
  await loadScaleWorld(pool, url, await hashPassword(password));
  console.log(`Made in ${Math.round((Date.now() - from) / 1000)} s.`);
}
if (process.argv.includes('--large')) {
  console.log(await measureLarge(url, root, password, await hashPassword(password)));
  process.exit(0);
}
pool.on('error', () => undefined);
/** Measured alone, each with its own document. */
const apart = {
  '--access': measureAccess,
  '--joins': measureJoins,
  '--messages': measureMessages,
  '--periods': measurePeriods,
  '--seats': measureSeats,
  '--reports': measureReports,
  '--statements': measureStatements,
  '--undo': measureUndo,
  '--rules': measureRules,
  '--work': measureWork,
};
for (const [name, measureAlone] of Object.entries(apart))
  if (process.argv.includes(name)) {
    console.log(await measureAlone(await copyOf(system.href, url), root, password));
    process.exit(0);
  }
const entry = await measureEntry(await copyOf(system.href, url), root, password);
if (process.argv.includes('--files')) {
  console.log(entryText(entry));
  process.exit(0);
}

const running = await serve(
  readEnvironment({
    DATABASE_URL: url,
    PORT: '0',
    LOG_LEVEL: 'warn',
    WEB_FOLDER: '',
    PLAYER_PAGES: path.join(root, 'server/src/player/page'),
  }),
);
const admin = new Client(running.url);
await admin.call('signIn', { body: { signInName: 'p1', password } });

const one = async (text: string, values: unknown[] = []): Promise<number> =>
  Number(Object.values(((await pool.query(text, values)).rows[0] ?? {}) as object)[0] ?? 0);
/** The group whose branch comes nearest to so many people. */
const branchOf = (people: number): Promise<number> =>
  one(
    `select b.ancestor_id from set_in_branch b join membership_set s on s.id = b.set_id where b.ancestor_id <> 1 group by 1 order by abs(sum(s.counted) - $1) limit 1`,
    [people],
  );
const sizeOf = (group: number): Promise<number> =>
  one(`select sum(s.counted) from set_in_branch b join membership_set s on s.id = b.set_id where b.ancestor_id = $1`, [group]);
/** A write measured without keeping it. */
const inVain = async (statements: [string, unknown[]][]): Promise<void> => {
  const client = await pool.connect();
  try {
    await client.query('begin');
    for (const [text, values] of statements) await client.query(text, values);
  } finally {
    await client.query('rollback');
    client.release();
  }
};

const large = await branchOf(20_000);
const middle = await branchOf(5000);
const lines: Line[] = [];

const undone: number[] = [];
function tell(line: Line): void {
  lines.push(line);
  console.log(`${line.what}: ${Math.round(line.application)} ms, bare ${Math.round(line.bare)} ms`);
}
const runs = 5;

tell({
  what: 'Open the tree: 2,000 groups with how many people, tags and leaders',
  kind: 'read',
  application: await median(runs, () => admin.call('tree', {})),
  bare: await median(runs, () =>
    pool.query(
      `select v.group_id, v.parent_id, v.name, sum(s.counted) from group_version v left join set_in_branch b on b.ancestor_id = v.group_id left join membership_set s on s.id = b.set_id
       where v.until_at is null group by 1, 2, 3 order by v.name`,
    ),
  ),
  bareWhat: 'one statement: names and people per branch over membership sets',
});
/** The bars of branches, from the enrolments; `condition` on them and on windows (`e`) narrows both. */
const bareBars = (condition: string): string =>
  `with work as (select p.set_id, count(*) filter (where e.status = 'done') as done, count(*) filter (where e.status = 'under way') as under_way
     from enrolment e join person p on p.id = e.person_id where e.is_current and p.counted and ${condition} group by 1),
   open as (select set_id, count(*) as courses from entitlement e where set_id is not null and coalesce(first_day <= current_date, true) and coalesce(last_day >= current_date, true) and ${condition} group by 1)
   select b.ancestor_id, sum(s.counted * open.courses), sum(work.done), sum(work.under_way)
   from set_in_branch b join membership_set s on s.id = b.set_id left join work on work.set_id = s.id left join open on open.set_id = s.id group by 1`;
const { db, pool: keepers } = connect(url);
tell({
  what: 'Keeping what every set comes to, all of it again, as on a new day; meanwhile reads work it out themselves',
  kind: 'write',
  application: await median(1, async () => {
    await db.transaction(forgetStandings);
    await keepStandings(db, new Date());
  }),
  bare: await median(1, () => pool.query(bareBars('true'))),
  bareWhat:
    'one statement: entitled, done and under way per branch from the enrolments, without overdue, exempt and scores, which need each course',
});
await keepers.end();
await columnsAreRead(admin);
await pool.query('vacuum analyze standing');
tell({
  what: 'Its bars: progress of all 2,000 branches over all courses, overdue too; they come after the tree',
  kind: 'read',
  application: await median(3, () => admin.call('treeProgress', {})),
  bare: await median(3, () => pool.query(bareBars('true'))),
  bareWhat: 'the same statement from the enrolments',
});
const leader = new Client(running.url);
await leader.call('signIn', { body: { signInName: 'p2', password } });
const ownGroups = `(select array_agg(group_id) from group_branch where ancestor_id = 2)`;
tell({
  what: `The bars of the leader of a branch of ${(await sizeOf(2)).toLocaleString('en')} people, many of whom are in groups outside it too`,
  kind: 'read',
  application: await median(3, () => leader.call('treeProgress', {})),
  bare: await median(3, () => pool.query(bareBars(`e.via_groups && ${ownGroups}`))),
  bareWhat: 'the same statement, of what is open and worked through a group of the branch',
});

/** How long a refusal takes, in milliseconds; asked in turns, so that the machine's moods fall on both. */
const refusals = { notYours: [] as number[], notThere: [] as number[] };
const outside = await one(
  `select id from groups where id not in (select group_id from group_branch where ancestor_id = 2) order by id desc limit 1`,
);
for (let turn = 0; turn < 200; turn++)
  for (const [kind, groupId] of [
    ['notYours', outside],
    ['notThere', scale.groups * 10],
  ] as const) {
    const from = performance.now();
    await leader.call('group', { params: { groupId } }).catch(() => undefined);
    refusals[kind].push(performance.now() - from);
  }
const middleOf = (list: number[]): string => (list.toSorted((a, b) => a - b)[list.length / 2] ?? 0).toFixed(2);
const refusalText = `A leader who asks for a group outside their branch is refused in ${middleOf(refusals.notYours)} ms, for one that is not there in ${middleOf(refusals.notThere)} ms (medians of 200, asked in turns).`;
console.log(refusalText);

const tag = 3;
tell({
  what: `First page of a branch of ${(await sizeOf(large)).toLocaleString('en')} people, tag filter, sorted by name, with counts and progress`,
  kind: 'read',
  application: await median(runs, () =>
    admin.call('groupPeople', {
      params: { groupId: large },
      query: { filter: writeFilter([{ part: 'tags', how: 'any', ids: [tag] }]), limit: 100 },
    }),
  ),
  bare: await median(runs, async () => {
    await pool.query(
      `select p.id, n.given_name, n.family_name, n.email, count(*) over () from person p join personal n on n.person_id = p.id and n.until_at is null
       where p.counted and p.set_id in (select set_id from set_in_branch where ancestor_id = $1) and exists (select 1 from person_tag t where t.person_id = p.id and t.tag_id = $2 and t.until_at is null)
       order by n.family_name collate people_order, n.given_name collate people_order, p.id limit 101`,
      [large, tag],
    );
    await pool.query(
      `select count(*) from person p where p.counted and p.set_id in (select set_id from set_in_branch where ancestor_id = $1)`,
      [large],
    );
  }),
  bareWhat: 'the page with its total, and the count without the filter; no groups, tags or progress beside the names',
});

const wanted = 'a1b';
tell({
  what: 'Find anything: part of a name among 100,000 people and 2,000 groups',
  kind: 'read',
  application: await median(runs, () => admin.call('find', { query: { q: wanted } })),
  bare: await median(runs, async () => {
    await pool.query(`select group_id, name from group_version where until_at is null and lower(name) like $1 limit 8`, [`%${wanted}%`]);
    await pool.query(
      `select person_id, given_name, family_name from personal where until_at is null and (lower(given_name || ' ' || family_name) like $1 or email like $1 or sign_in_name like $1 or lower(id_number) like $1) limit 8`,
      [`%${wanted}%`],
    );
  }),
  bareWhat: 'the same two searches without the groups people are in',
});

const parent = await one(`select parent_id from group_version where group_id = $1 and until_at is null`, [middle]);
const elsewhere = await one(
  `select group_id from group_version where until_at is null and group_id between 2 and 9 and group_id <> $1 and group_id not in (select ancestor_id from group_branch where group_id = $2) limit 1`,
  [parent, middle],
);
const move = (into: number): Change => ({ kind: 'move-groups', groupIds: [middle], intoId: into });
tell({
  what: `What moving a branch of ${(await sizeOf(middle)).toLocaleString('en')} people would do`,
  kind: 'read',
  application: await median(runs, () => admin.call('look', { body: { change: move(elsewhere) } })),
  bare: await median(runs, async () => {
    await pool.query(`select * from group_version where until_at is null`);
    await pool.query(`select * from access_grant where until_at is null`);
    await pool.query(
      `select s.id, s.key, x.course_id, s.counted from membership_set s join entitlement x on x.set_id = s.id where s.id in (select set_id from set_in_branch where ancestor_id = $1)`,
      [middle],
    );
  }),
  bareWhat: 'reading the tree, the grants, and what the sets of the branch have now; nothing worked out',
});
tell({
  what: 'Moving it, and moving it back (one of the two)',
  kind: 'write',
  application:
    (await median(3, async () => {
      await admin.apply(move(elsewhere));
      await admin.apply(move(parent));
    })) / 2,
  bare: await median(3, () =>
    inVain([
      [`update group_version set parent_id = $2 where group_id = $1 and until_at is null`, [middle, elsewhere]],
      [`create temp table below on commit drop as select group_id from group_branch where ancestor_id = $1`, [middle]],
      [`delete from group_branch where group_id in (select group_id from below) and ancestor_id not in (select group_id from below)`, []],
      [
        `insert into group_branch select up.ancestor_id, down.group_id, up.depth + down.depth + 1 from group_branch up, group_branch down where up.group_id = $2 and down.ancestor_id = $1`,
        [middle, elsewhere],
      ],
      [
        `delete from set_in_branch where set_id in (select set_id from membership_set_group where group_id in (select group_id from below))`,
        [],
      ],
      [
        `insert into set_in_branch select distinct b.ancestor_id, g.set_id from membership_set_group g join group_branch b on b.group_id = g.group_id where g.set_id in (select set_id from membership_set_group where group_id in (select group_id from below))`,
        [],
      ],
    ]),
  ),
  bareWhat: 'the same rows of tree, closure and sets, rolled back; no access, no log',
});

const personIds = (
  (
    await pool.query(
      `select person_id::int as id from membership where until_at is null and group_id <> $1 group by person_id order by md5(person_id::text) limit 2000`,
      [middle],
    )
  ).rows as { id: number }[]
).map(({ id }) => id);
const add: Change = { kind: 'add-members', groupId: middle, personIds, firstDay: null, lastDay: null };
tell({
  what: 'What adding 2,000 people would do',
  kind: 'read',
  application: await median(runs, () => admin.call('look', { body: { change: add } })),
  bare: await median(runs, async () => {
    await pool.query(`select * from group_version where until_at is null`);
    await pool.query(`select * from access_grant where until_at is null`);
    await pool.query(
      `select p.id, s.state, array(select group_id from membership m where m.person_id = p.id and m.until_at is null) from person p join person_state s on s.person_id = p.id and s.until_at is null where p.id = any($1::bigint[])`,
      [personIds],
    );
  }),
  bareWhat: 'reading the tree, the grants and these people with their groups; nothing worked out',
});
tell({
  what: 'Adding them',
  kind: 'write',
  application: await median(3, async () => {
    const changeId = await admin.apply(add);
    const from = performance.now();
    await admin.apply({ kind: 'undo', changeId });
    undone.push(performance.now() - from);
  }).then((both) => both - (undone.sort((a, b) => a - b)[1] ?? 0)),
  bare: await median(3, () =>
    inVain([
      [
        `insert into membership (person_id, group_id, came_by) select unnest($1::bigint[]), $2, 'hand' on conflict do nothing`,
        [personIds, middle],
      ],
      [`update person p set counted = p.counted where p.id = any($1::bigint[])`, [personIds]],
    ]),
  ),
  bareWhat: 'the memberships and one write to each person, rolled back; no sets, no access, no log',
});

const text = `# Performance

Measured by \`npm run bench\` on ${new Date().toISOString().slice(0, 10)}: ${os.cpus().length} cores (${os.cpus()[0]?.model ?? 'unknown'}), Node ${process.version}, PostgreSQL ${String(((await pool.query('show server_version')).rows[0] as { server_version: string }).server_version)}; client, server and database share the machine.
${scale.people.toLocaleString('en')} people in ${scale.groups.toLocaleString('en')} groups six deep, skewed, a tenth in two or three groups; ${scale.courses} courses; ${(await one('select count(*) from enrolment')).toLocaleString('en')} enrolments; ${(await one('select count(*) from membership_set where counted > 0')).toLocaleString('en')} membership sets; ${(await one('select count(*) from entitlement')).toLocaleString('en')} windows of access.
Medians over HTTP, JSON and sign-in check included, beside bare PostgreSQL in the same run. Compare the ratios; the milliseconds are of one shared machine.

${table(lines)}

${refusalText}

${entryText(entry)}
## Reading it

- The tree and find-anything stand near their bare statements; the people page does more than its statement (groups, tags, progress beside each name) and stays near it. Around 200 ms the machine's own noise decides.
- The bars of all 2,000 branches are a report over a million enrolments. The bare statement reads them; the application reads what is kept of each membership set for the day (decision 8). On a new day, until all is kept again, it works everything out, which takes about as long as the keeping. Bars come after the tree, on a request of their own, so that nobody waits for them.
- A leader's bars come from columns in memory (decision 24), which the bench waits for.
- A look works out windows of access for every course that is spoken of where anything changes, once for all learners who hear the same words; the bare figure only reads.
- Moving a branch writes closure, sets and entitlements again, and the log; it happens one change after the other.
`;
console.log(text);
await writeFile(path.join(root, 'docs/performance.md'), text);
await running.stop();
await pool.end();
