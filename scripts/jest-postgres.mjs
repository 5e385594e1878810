// A PostgreSQL of the tests' own, with the demo world as a template that each test file copies.
import { spawnSync } from 'node:child_process';
import fs from 'node:fs';
import path from 'node:path';
import { hash } from '@node-rs/argon2';
import pg from 'pg';
import { buildServer } from './build.mjs';
import { root } from './ensure.mjs';
import { startPostgres } from './pg.mjs';
import { seenFolder } from './sql/seen-folder.mjs';

export default async function start() {
  fs.rmSync(seenFolder, { recursive: true, force: true });
  fs.mkdirSync(seenFolder, { recursive: true });
  await buildServer();
  const postgres = await startPostgres(path.join(root, '.local/test'), { isDurable: false });
  globalThis.gateRosterPostgres = postgres;
  process.env.TEST_POSTGRES = postgres.url('postgres');
  await dropEarlier(postgres.url('postgres'));
  for (const [name, flag] of [
    ['demo_template', '--fresh'],
    ['empty_template', '--empty'],
  ]) {
    const loaded = spawnSync(process.execPath, ['--enable-source-maps', path.join(root, 'demo/dist/load.js'), flag], {
      env: { ...process.env, DATABASE_URL: postgres.url(name) },
      stdio: ['ignore', 'ignore', 'inherit'],
    });
    if (loaded.status !== 0) throw new Error(`${name} could not be loaded`);
  }
  await cheapPasswords(postgres.url('demo_template'));
}

/** Tests sign in some thousand times: their passwords are hashed with as little work as Argon2 allows. What is hashed anew has its full cost. */
async function cheapPasswords(url) {
  const client = new pg.Client({ connectionString: url });
  await client.connect();
  await client.query('update credential set password_hash = $1', [await hash('lantern-over-water', { memoryCost: 8, timeCost: 1 })]);
  await client.end();
}

/** Each test file has a database of its own; those of earlier runs go. */
async function dropEarlier(url) {
  const client = new pg.Client({ connectionString: url });
  await client.connect();
  const { rows } = await client.query("select datname from pg_database where datname like 'test\\_%'");
  for (const { datname } of rows) await client.query(`drop database "${datname}" with (force)`);
  await client.end();
}
