import { spawnSync } from 'node:child_process';
import fs from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { derived, roster } from '../testing/derived.ts';
import { execute, type Site, startSite } from '../testing/site.ts';
import { connect } from './connect.ts';
import { rebuildDerived } from './rebuild.ts';

/* The two commands of the guide: dump, and restore into an empty server. */

let site: Site;
const folder = fs.mkdtempSync(path.join(os.tmpdir(), 'roster-backup-'));
beforeAll(async () => {
  site = await startSite();
});
afterAll(async () => {
  await site.stop();
  fs.rmSync(folder, { recursive: true });
});

function run(command: string, ...args: string[]): void {
  const versions = '/usr/lib/postgresql';
  const binary = fs
    .readdirSync(versions)
    .map((version) => `${versions}/${version}/bin/${command}`)
    .find((file) => fs.existsSync(file));
  const { status, stderr } = spawnSync(binary ?? command, args, { encoding: 'utf8' });
  expect([status, stderr]).toEqual([0, '']);
}

test('what was dumped and restored is the same site, with everything derived as a rebuild makes it', async () => {
  const admin = await site.as('mirela');
  await admin.apply({ kind: 'add-members', groupId: 8, personIds: [40, 41, 42], firstDay: null, lastDay: null });
  await admin.apply({ kind: 'edit-group', groupId: 8, values: { description: 'Kept in the dump' } });
  const file = path.join(folder, 'roster.dump');
  run('pg_dump', '--format=custom', '--exclude-schema=past_day_*', `--file=${file}`, site.databaseUrl);

  const url = new URL(site.databaseUrl);
  const name = `${url.pathname.slice(1)}_restored`;
  await execute(site.databaseUrl, `create database ${name}`);
  url.pathname = `/${name}`;
  run('pg_restore', '--no-owner', '--exit-on-error', `--dbname=${url.href}`, file);
  const restored = { ...site, databaseUrl: url.href };
  expect(await roster(restored)).toEqual(await roster(site));
  const asRestored = await derived(restored);
  expect(asRestored).toEqual(await derived(site));

  const { pool, db } = connect(url.href);
  const [{ day } = { day: '' }] = await execute<{ day: string }>(
    url.href,
    'select (now() at time zone time_zone)::date::text as day from organisation',
  );
  await db.transaction((tx) => rebuildDerived(tx, day));
  await pool.end();
  expect(await derived(restored)).toEqual(asRestored);
});
