import type { Change } from '@gate-roster/contract';
import { writeFile } from 'node:fs/promises';
import path from 'node:path';
import pg from 'pg';
import { Client } from './client.ts';
import { asJob, start } from './processes.ts';

/* npm run bench -- --periods: the end of a period of a branch of 20,000 people, while others go on. */

const wanted = 20_000;
const seconds = (milliseconds: number): number => Math.round(milliseconds / 100) / 10;

export async function measurePeriods(url: string, root: string, password: string): Promise<string> {
  const pool = new pg.Pool({ connectionString: url, max: 2 });
  pool.on('error', () => undefined);
  const branches = await pool.query<{ id: number; parent: number; people: number }>(
    `select g.id::int, g.parent_id::int as parent, sum(s.counted)::int as people from group_now g join set_in_branch b on b.ancestor_id = g.id join membership_set s on s.id = b.set_id
     where g.parent_id is not null group by 1, 2 order by abs(sum(s.counted) - $1) limit 1`,
    [wanted],
  );
  const { id: groupId = 0, parent: parentId = 0, people = 0 } = branches.rows[0] ?? {};
  const outside = await pool.query<{ id: number }>(
    `select p.id::int from person p where p.counted and not exists (select 1 from membership m join group_branch b on b.group_id = m.group_id and b.ancestor_id = $1 where m.person_id = p.id and m.until_at is null) order by p.id limit 100`,
    [groupId],
  );
  const web = await start(url, root, 'web');
  const worker = await start(url, root, 'worker', web.url);
  const admin = new Client(web.url);
  await admin.call('signIn', { body: { signInName: 'p1', password } });
  const other = new Client(web.url);
  await other.call('signIn', { body: { signInName: 'p1', password } });
  const lines: string[] = [];
  let turn = 0;

  /** Looks at it and lets it run as a job, while somebody else tags people and opens the tree. */
  async function measure(what: string, change: Change): Promise<number> {
    const lookFrom = performance.now();
    await admin.call('look', { body: { change } });
    const looked = performance.now() - lookFrom;
    const waits = { changes: [] as number[], reads: [] as number[] };
    let isOver = false;
    const others = (async () => {
      for (; !isOver; turn++) {
        const changeFrom = performance.now();
        const personId = outside.rows[turn % outside.rows.length]?.id ?? 0;
        const tagged: Change = {
          kind: 'tag-people',
          groupId: 1,
          personIds: [personId],
          add: [`meanwhile ${Math.floor(turn / outside.rows.length)}`],
          remove: [],
        };
        // As the page does: told that too much is going on, it tries again.
        for (;;) {
          const isDone = await other.apply(tagged).then(
            () => true,
            (error: unknown) => {
              if (!String(error).includes('busy')) throw error;
              return false;
            },
          );
          if (isDone) break;
        }
        waits.changes.push(performance.now() - changeFrom);
        const readFrom = performance.now();
        await other.call('tree', {});
        waits.reads.push(performance.now() - readFrom);
      }
    })();
    const from = performance.now();
    const changeId = await asJob(admin, change);
    const took = performance.now() - from;
    isOver = true;
    await others;
    const most = (list: readonly number[]): number => seconds(Math.max(0, ...list));
    const line = `| ${what} | ${seconds(looked)} s | ${seconds(took)} s | ${most(waits.changes)} s | ${most(waits.reads)} s |`;
    console.log(line);
    lines.push(line);
    return changeId;
  }

  const closed = await measure('Close it', {
    kind: 'close-period',
    groupId,
    lastDay: new Date(Date.now() - 86_400_000).toISOString().slice(0, 10),
    codes: true,
    invitations: true,
    asking: null,
    rules: true,
    splits: true,
    reminders: true,
    seats: true,
    people: { do: 'end' },
  });
  await measure('Undo that', { kind: 'undo', changeId: closed });
  const { groups } = await admin.call('period', { params: { groupId } });
  const next = await measure('Make the next, everybody moves up into the same group of it', {
    kind: 'make-next-period',
    groupId,
    parentId,
    name: 'The next period',
    copies: { courses: true, leaders: true, codes: true, limits: true },
    shift: { years: 1 },
    moves: groups.map(({ id }) => ({ fromId: id, toCopyOf: id })),
  });
  await measure('Undo that as well', { kind: 'undo', changeId: next });

  const { rows: version } = await pool.query('show server_version');
  for (const { child } of [web, worker]) child.kill('SIGTERM');
  await pool.end();
  const text = `# The end of a period

Measured by \`npm run bench -- --periods\` on ${new Date().toISOString().slice(0, 10)}: Node ${process.version}, PostgreSQL ${String((version[0] as { server_version: string }).server_version)}, two cores for client, a web process, a worker and the database together. 100,000 people, 2,000 groups; the branch has ${people.toLocaleString('en')} people in ${groups.length.toLocaleString('en')} groups.

| What | Preview | The job, with a preview | Longest wait of somebody who tags a person outside it | of somebody who opens the tree |
|---|---|---|---|---|
${lines.join('\n')}
`;
  await writeFile(path.join(root, 'docs/performance-periods.md'), text);
  return text;
}
