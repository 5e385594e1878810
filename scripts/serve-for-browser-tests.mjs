// The demo world on a PostgreSQL of the browser tests' own, until told to stop.
import { fork, spawnSync } from 'node:child_process';
import fs from 'node:fs';
import path from 'node:path';
import pg from 'pg';
import { root } from './ensure.mjs';
import { startPostgres } from './pg.mjs';

const postgres = await startPostgres(path.join(root, '.local/e2e-data'), { isDurable: false });
const env = { ...process.env, POST_OFFICE: 'open', LOG_LEVEL: process.env.LOG_LEVEL ?? 'warn', DATABASE_URL: postgres.url('gate_roster') };
const loaded = spawnSync(process.execPath, [path.join(root, 'demo/dist/load.js'), '--fresh'], {
  cwd: root,
  env,
  stdio: ['ignore', 'ignore', 'inherit'],
});
if (loaded.status !== 0) {
  postgres.stop();
  process.exit(1);
}
// A second copy, for a test that goes on to other days.
const otherDays = postgres.url('other_days');
const pool = new pg.Pool({ connectionString: postgres.url('postgres') });
await pool.query('drop database if exists other_days with (force)');
await pool.query('create database other_days template gate_roster');
await pool.end();
fs.writeFileSync(path.join(root, '.local/e2e-data/other-days.json'), JSON.stringify({ databaseUrl: otherDays }), { mode: 0o600 });
const server = fork(path.join(root, 'server/dist/main.js'), { cwd: root, env });
const stop = () => server.kill('SIGTERM');
process.on('SIGTERM', stop);
process.on('SIGINT', stop);
server.on('exit', (code) => {
  postgres.stop();
  process.exit(code ?? 0);
});
