import { writeFile } from 'node:fs/promises';
import path from 'node:path';
import pg from 'pg';
import { Client } from './client.ts';
import { asJob, bringIn, metric, start } from './processes.ts';

/* npm run bench -- --rules: 200 automatic rules at 100,000 people; -- --undo: the undo of a file of 200,000. */

const ruleCount = 200;
const singles = 20;
const filed = 50_000;
const undone = 200_000;

const seconds = (from: number): number => Math.round((performance.now() - from) / 100) / 10;

export async function measureRules(url: string, root: string, password: string): Promise<string> {
  const pool = new pg.Pool({ connectionString: url, max: 4 });
  pool.on('error', () => undefined);
  const web = await start(url, root, 'web');
  const worker = await start(url, root, 'worker', web.url);
  const admin = new Client(web.url);
  await admin.call('signIn', { body: { signInName: 'p1', password } });
  const one = async (text: string, values: unknown[] = []): Promise<number> =>
    Number(Object.values(((await pool.query(text, values)).rows[0] ?? {}) as object)[0] ?? 0);
  const middle = await one(
    `select b.ancestor_id from set_in_branch b join membership_set s on s.id = b.set_id where b.ancestor_id <> 1 group by 1 order by abs(sum(s.counted) - 5000) limit 1`,
  );
  // Most wait for somebody to enter a group; others for a course that is done, and for a tag that the first ones give.
  await pool.query(`insert into rule (id) overriding system value select n from generate_series(1, $1::int) n`, [ruleCount]);
  await pool.query(
    `insert into rule_version (rule_id, group_id, name, set_off, filter, acts, is_on, on_since, made_by)
     select n, case when n = 1 then $2::bigint else g.id end, 'Rule ' || n,
       case when n % 4 = 3 then jsonb_build_object('when', 'finishes', 'courseId', c.id, 'unitId', null) else jsonb_build_object('when', 'enters', 'groupId', case when n = 1 then $2::bigint else g.id end) end,
       '[]', jsonb_build_array(jsonb_build_object('act', 'tag', 'name', 'ruled ' || n % 10)), true, now(), 1
     from generate_series(1, $1::int) n join lateral (select id from group_now where parent_id is not null order by md5(id::text || n) limit 1) g on true
       join lateral (select id from course_now order by md5(id::text || n) limit 1) c on true`,
    [ruleCount, middle],
  );
  const people = (
    await pool.query<{ id: string }>(
      `select p.id from person p where p.counted and not exists (select 1 from membership m join group_branch b on b.group_id = m.group_id and b.ancestor_id = $1 where m.person_id = p.id and m.until_at is null) order by md5(p.id::text) limit $2`,
      [middle, singles + 1],
    )
  ).rows.map(({ id }) => Number(id));
  const acts = (): Promise<number> => one(`select count(*) from rule_act where rule_id = 1 and outcome = 'acted'`);
  const times: number[] = [];
  for (const [index, personId] of people.entries()) {
    await admin.apply({ kind: 'add-members', groupId: middle, personIds: [personId], firstDay: null, lastDay: null });
    const from = performance.now();
    while ((await acts()) <= index) await new Promise((resolve) => setTimeout(resolve, 10));
    if (index > 0) times.push(performance.now() - from);
  }
  times.sort((a, b) => a - b);
  const bareFrom = performance.now();
  for (let run = 0; run < singles; run++)
    await pool.query(
      `select o.id from rule_version v join person o on o.id = $2 where v.is_on and v.until_at is null and v.rule_id = $1 and exists (select 1 from membership m join group_branch b on b.group_id = m.group_id and b.ancestor_id = v.group_id where m.person_id = o.id and m.until_at is null)`,
      [run + 1, people[run]],
    );
  const bare = ((performance.now() - bareFrom) / singles) * ruleCount;

  const fileFrom = performance.now();
  const changeId = await bringIn(admin, middle, filed);
  const came = seconds(fileFrom);
  const rulesFrom = performance.now();
  while ((await one(`select count(*) from rule_event`)) > 0) await new Promise((resolve) => setTimeout(resolve, 200));
  const acted = seconds(rulesFrom);
  const actedOn = await acts();
  await pool.query(`update rule_version set is_on = false, on_since = null where until_at is null`);
  await asJob(admin, { kind: 'undo', changeId });

  const { rows: version } = await pool.query('show server_version');
  for (const { child } of [web, worker]) child.kill('SIGTERM');
  await pool.end();
  const ms = (value: number | undefined): number => Math.round(value ?? 0);
  const text = `# Automatic rules

Measured by \`npm run bench -- --rules\` on ${new Date().toISOString().slice(0, 10)}: Node ${process.version}, PostgreSQL ${String((version[0] as { server_version: string }).server_version)}, two cores for client, a web process, a worker and the database together. 100,000 people, 2,000 groups, ${ruleCount} rules that are on.

| What | Time |
|---|---|
| Somebody enters a group: from the answer until the rule has acted, median of ${singles} | ${ms(times[Math.floor(times.length / 2)])} ms |
| The longest of them (aim: 2 s) | ${ms(times.at(-1))} ms |
| Bare: asking ${ruleCount} rules of one person, a statement each | ${ms(bare)} ms |
| ${filed.toLocaleString('en')} rows come in by a file | ${came} s |
| From then until the rules have acted on ${actedOn.toLocaleString('en')} people | ${acted} s |
`;
  await writeFile(path.join(root, 'docs/performance-rules.md'), text);
  return text;
}

/** A file of 200,000 new people comes in, and is undone. */
export async function measureUndo(url: string, root: string, password: string): Promise<string> {
  const pool = new pg.Pool({ connectionString: url, max: 1 });
  pool.on('error', () => undefined);
  const web = await start(url, root, 'web');
  const worker = await start(url, root, 'worker', web.url);
  const admin = new Client(web.url);
  await admin.call('signIn', { body: { signInName: 'p1', password } });
  const { rows } = await pool.query<{ id: string }>(
    `select b.ancestor_id as id from set_in_branch b join membership_set s on s.id = b.set_id where b.ancestor_id <> 1 group by 1 order by abs(sum(s.counted) - 5000) limit 1`,
  );
  const fileFrom = performance.now();
  const changeId = await bringIn(admin, Number(rows[0]?.id), undone);
  const came = seconds(fileFrom);
  const undoFrom = performance.now();
  await asJob(admin, { kind: 'undo', changeId });
  const took = seconds(undoFrom);
  const memory = Math.round((await metric(worker, 'process_resident_memory_bytes')) / 1_000_000);
  for (const { child } of [web, worker]) child.kill('SIGTERM');
  await pool.end();
  const text = `# The undo of a large file

Measured by \`npm run bench -- --undo\` on ${new Date().toISOString().slice(0, 10)}: Node ${process.version}, two cores for client, a web process, a worker and the database together. 100,000 people, 2,000 groups.

| What | |
|---|---|
| ${undone.toLocaleString('en')} rows come in by a file | ${came} s |
| Undoing that, with its preview | ${took} s |
| Memory of the worker afterwards | ${memory} MB |
`;
  await writeFile(path.join(root, 'docs/performance-undo.md'), text);
  return text;
}
