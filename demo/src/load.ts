import { readFileSync } from 'node:fs';
import path from 'node:path';
import { connect, hasSite, migrate } from '@gate-roster/server';
import { loadDemoWorld } from './load-world.ts';

/*
 * Called by `npm run demo` before the server starts: makes the database when it is missing, brings it to this version, and
 * loads the demo world once. Says on its standard output whether the site is the demo world.
 */
const url = new URL(process.env['DATABASE_URL'] ?? '');
const wish = { fresh: process.argv.includes('--fresh'), empty: process.argv.includes('--empty'), own: process.argv.includes('--own') };
const database = decodeURIComponent(url.pathname.slice(1));
const emptyMark = 'Gate Roster, begun empty';
const root = path.resolve(import.meta.dirname, '../..');

if (!wish.own) await makeDatabase();
else if (wish.fresh || wish.empty) await emptyOwnDatabase();
await migrate(url.href, path.join(root, 'server/drizzle'));
if (wish.empty) await query(url, `comment on database ${quoted(database)} is '${emptyMark}'`);
const [mark] = await query<{ mark: string | null }>(
  url,
  `select shobj_description(oid, 'pg_database') as mark from pg_database where datname = current_database()`,
);
const isEmptySite = mark?.mark === emptyMark;
if (!isEmptySite && !(await hasSite(url.href))) {
  const from = Date.now();
  console.error('Loading the demo world.');
  const counts = await loadDemoWorld(url.href, new Date(), readFileSync(path.join(root, 'demo/samples/autumn-intake-north.csv')));
  console.error(
    `Loaded ${counts.people} people in ${counts.groups} groups, ${counts.courses} courses, ${counts.results} activity results in ${((Date.now() - from) / 1000).toFixed(1)} s.`,
  );
}
console.log(JSON.stringify({ isDemoWorld: !isEmptySite }));

async function makeDatabase(): Promise<void> {
  const system = new URL(url);
  system.pathname = '/postgres';
  if (wish.fresh || wish.empty) await query(system, `drop database if exists ${quoted(database)} with (force)`);
  const there = await query(system, `select 1 from pg_database where datname = '${database.replaceAll("'", "''")}'`);
  if (there.length === 0) await query(system, `create database ${quoted(database)}`);
}

/** In a database of the user's own we drop only what is ours: a site of the demo world, or nothing but our tables. */
async function emptyOwnDatabase(): Promise<void> {
  const tables = await query<{ name: string }>(
    url,
    `select table_name as name from information_schema.tables where table_schema = 'public' and table_type = 'BASE TABLE'`,
  );
  const isOurs =
    tables.length === 0 || (tables.some(({ name }) => name === 'change_log') && tables.some(({ name }) => name === 'access_grant'));
  if (!isOurs) {
    console.error('DATABASE_URL names a database that holds other things. Give an empty one, or leave --fresh and --empty out.');
    process.exit(1);
  }
  await query(url, 'drop schema if exists drizzle cascade; drop schema public cascade; create schema public');
}

async function query<T extends object>(at: URL, text: string): Promise<T[]> {
  const { pool } = connect(at.href);
  try {
    const result = await pool.query(text);
    return result.rows as T[];
  } finally {
    await pool.end();
  }
}

function quoted(name: string): string {
  return `"${name.replaceAll('"', '""')}"`;
}
