import { randomUUID } from 'node:crypto';
import type { RosterRow } from '@gate-roster/core';
import { type Client, execute, type Site, startSite } from '../testing/site.ts';

/* Jobs that do not come to their end at once. How they go on after a kill is tested with processes of their own. */

let site: Site;
let mirela: Client;
beforeAll(async () => {
  site = await startSite();
  mirela = await site.as('mirela');
});
afterAll(() => site.stop());

interface JobRow {
  state: string;
  tries: number;
  given: { change: { rows: unknown[] } };
  later: boolean;
}
const jobRow = async (id: string): Promise<JobRow | undefined> =>
  (await execute<JobRow>(site.databaseUrl, 'select state, tries, given, starts_at > now() as later from job where id = $1', [id]))[0];
async function until(holds: () => Promise<boolean>): Promise<void> {
  for (let tries = 0; !(await holds()); tries++) {
    if (tries > 1200) throw new Error('it did not come about');
    await new Promise((resolve) => setTimeout(resolve, 100));
  }
}
const people = (stem: string): RosterRow[] =>
  [2, 3].map((row) => ({ row, cells: { fullName: `${stem}${row} Queued`, password: 'a-password-in-a-file' } }));
async function start(stem: string): Promise<string> {
  const change = {
    kind: 'bring-in-roster' as const,
    into: 8,
    fileName: 'queued.csv',
    hasGroupColumn: false,
    dateOrder: 'yearFirst' as const,
    rows: people(stem),
  };
  const { digest } = await mirela.call('look', { body: { change } });
  return (await mirela.call('startJob', { body: { change, digest, requestId: randomUUID() } })).jobId;
}

test('a job holds no rows; they lie apart, without passwords as they were typed, and are gone when it has ended', async () => {
  const id = await start('Apart');
  expect((await jobRow(id))?.given.change.rows).toEqual([]);
  await until(async () => (await jobRow(id))?.state === 'done');
  expect(await execute(site.databaseUrl, 'select 1 from roster_file where id = $1', [id])).toEqual([]);
  const [kept] = await execute<{ text: string | null }>(
    site.databaseUrl,
    `select string_agg(j::text, '') || coalesce((select string_agg(p::text, '') from roster_part p), '') as text from job j`,
  );
  expect(kept?.text).not.toContain('a-password-in-a-file');
});

test('a job that finds the database busy waits, longer each time, and then ends; it is done once', async () => {
  // Somebody holds what it has to write, for longer than a change waits.
  await execute(
    site.databaseUrl,
    `create or replace function refuse_busy() returns trigger language plpgsql as $$ begin raise exception 'busy' using errcode = '55P03'; end $$;
     create trigger refuse_busy before insert on change_log for each row execute function refuse_busy()`,
  );
  const id = await start('Busy');
  await until(async () => ((await jobRow(id))?.tries ?? 0) >= 1 && ((await jobRow(id))?.later ?? false));
  expect((await jobRow(id))?.state).toBe('waiting');
  await execute(site.databaseUrl, 'drop trigger refuse_busy on change_log');
  await until(async () => (await jobRow(id))?.state === 'done');
  expect(
    await execute(site.databaseUrl, `select 1 from personal_now where given_name like 'Busy%' and family_name = 'Queued'`),
  ).toHaveLength(2);
});

test('a job whose process died each time is set aside, and those behind it go on', async () => {
  await execute(
    site.databaseUrl,
    `create or replace function refuse_busy() returns trigger language plpgsql as $$ begin raise exception 'busy' using errcode = '55P03'; end $$;
     create trigger refuse_busy before insert on change_log for each row execute function refuse_busy()`,
  );
  const poison = await start('Poison');
  // Only while it waits for its next try: one that is under way would still be done once the trigger is gone.
  const spent = 'update job set tries = 5, starts_at = now() where id = $1 and tries >= 1 and starts_at > now() returning 1';
  await until(async () => (await execute(site.databaseUrl, spent, [poison])).length === 1);
  await execute(site.databaseUrl, 'drop trigger refuse_busy on change_log');
  const behind = await start('Behind');
  await until(async () => (await jobRow(behind))?.state === 'done');
  await until(async () => (await jobRow(poison))?.state === 'failed');
  expect(await execute(site.databaseUrl, `select 1 from personal_now where given_name like 'Poison%'`)).toEqual([]);
});
