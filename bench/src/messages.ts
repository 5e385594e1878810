import { plainValues } from '@gate-roster/contract';
import { writeFile } from 'node:fs/promises';
import path from 'node:path';
import pg from 'pg';
import { Client } from './client.ts';
import { start } from './processes.ts';

/* npm run bench -- --messages: one message to some 50,000 people with an address each. */

const wanted = 50_000;
const seconds = (from: number): number => Math.round((performance.now() - from) / 100) / 10;

export async function measureMessages(url: string, root: string, password: string): Promise<string> {
  const pool = new pg.Pool({ connectionString: url, max: 2 });
  pool.on('error', () => undefined);
  const one = async (text: string, values: unknown[] = []): Promise<number> =>
    Number(Object.values(((await pool.query(text, values)).rows[0] ?? {}) as object)[0] ?? 0);
  // Branches right below the top, the largest first, until they hold so many.
  const branches = await pool.query<{ id: string; people: string }>(
    `select g.id, sum(s.counted) as people from group_now g join set_in_branch b on b.ancestor_id = g.id join membership_set s on s.id = b.set_id where g.parent_id = 1 group by 1 order by 2 desc`,
  );
  const groupIds: number[] = [];
  for (let sum = 0, at = 0; sum < wanted && at < branches.rows.length; at++) {
    groupIds.push(Number(branches.rows[at]?.id));
    sum += Number(branches.rows[at]?.people);
  }
  const groupId = 1;
  await pool.query(
    `update personal set email = 'p' || person_id || '@bench.example', confirmed_email = 'p' || person_id || '@bench.example' where until_at is null`,
  );
  const web = await start(url, root, 'web');
  const worker = await start(url, root, 'worker', web.url);
  const admin = new Client(web.url);
  await admin.call('signIn', { body: { signInName: 'p1', password } });
  const reader = new Client(web.url);
  await reader.call('signIn', { body: { signInName: 'p1', password } });
  const values = { ...plainValues, title: 'Wind warning', body: 'No boats out on Thursday.' };
  const change = {
    kind: 'send-message' as const,
    groupId,
    audience: { to: 'groups' as const, groupIds, withSubgroups: true },
    values,
  };

  const lookFrom = performance.now();
  const { reached } = await admin.call('look', { body: { change } });
  const looked = seconds(lookFrom);
  const writeFrom = performance.now();
  await admin.apply(change);
  const wrote = seconds(writeFrom);

  // Somebody opens pages and moves people meanwhile.
  const waits: number[] = [];
  const changes: number[] = [];
  let isOver = false;
  const others = (async () => {
    for (let turn = 0; !isOver; turn++) {
      const from = performance.now();
      await reader.call('tree', {});
      waits.push(performance.now() - from);
      const changed = performance.now();
      await reader.apply({
        kind: 'tag-people',
        groupId,
        personIds: [await one(`select id from person where counted order by id offset $1 limit 1`, [turn])],
        add: ['told'],
        remove: [],
      });
      changes.push(performance.now() - changed);
      await new Promise((resolve) => setTimeout(resolve, 200));
    }
  })();
  const tellFrom = performance.now();
  let letters = 0;
  for (let still = 0; still < 20;) {
    await new Promise((resolve) => setTimeout(resolve, 250));
    const now = await one(`select count(*) from letter where kind = 'messages'`);
    still = now === letters && now > 0 ? still + 1 : 0;
    letters = now;
  }
  const told = Math.max(0, seconds(tellFrom) - 5);
  isOver = true;
  await others;
  const bareFrom = performance.now();
  await pool.query(`create table bare_letter as select * from letter where kind = 'messages'`);
  const bare = seconds(bareFrom);
  for (const { child } of [web, worker]) child.kill('SIGTERM');
  await pool.end();
  const most = (list: number[]): number => Math.round(Math.max(0, ...list));
  const middle = (list: number[]): number => Math.round([...list].sort((a, b) => a - b)[Math.floor(list.length / 2)] ?? 0);
  const text = `# One message to many

Measured by \`npm run bench -- --messages\` on ${new Date().toISOString().slice(0, 10)}: Node ${process.version}, two cores for client, a web process, a worker and the database together. 100,000 people, 2,000 groups, each person with an address.

| What | |
|---|---|
| People whom it reaches | ${reached.toLocaleString('en')} |
| The writer waits for the preview | ${looked} s |
| and for the message to be written | ${wrote} s |
| From then until ${letters.toLocaleString('en')} letters are in the outbox, one to each person | ${told} s |
| Bare: the same rows of letters by one statement | ${bare} s |
| Meanwhile others open the tree: median, longest | ${middle(waits)} ms, ${most(waits)} ms |
| and tag somebody, with the preview: median, longest | ${middle(changes)} ms, ${most(changes)} ms |
`;
  await writeFile(path.join(root, 'docs/performance-messages.md'), text);
  return text;
}
