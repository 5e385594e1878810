// npm run demo [-- --fresh | --empty]: everything from a bare machine to a running site.
import { fork, spawnSync } from 'node:child_process';
import fs from 'node:fs';
import net from 'node:net';
import path from 'node:path';
import { buildAll } from './build.mjs';
import { ensureDebian, ensurePackages, postgresql, root } from './ensure.mjs';
import { startPostgres } from './pg.mjs';

const wish = process.argv.slice(2);
const unknown = wish.filter((word) => !['--fresh', '--empty'].includes(word));
if (unknown.length > 0) {
  console.error(
    `Not known: ${unknown.join(' ')}. There are --fresh (the demo world from its beginning) and --empty (nothing, you make the first administrator).`,
  );
  process.exit(1);
}

const ownDatabase = process.env.DATABASE_URL;
if (!ownDatabase) ensureDebian([postgresql]);
ensurePackages();
await buildAll();

const home = path.resolve(process.env.GATE_ROSTER_DATA ?? path.join(root, '.local'));
const postgres = ownDatabase ? null : await startPostgres(home, { isDurable: true });
const url = ownDatabase ?? postgres.url('gate_roster');

const port = await wantedPort(Number(process.env.PORT ?? 3000), process.env.PORT !== undefined);
let server = null;
let isStopping = false;
function stop(code) {
  if (isStopping) return;
  isStopping = true;
  const end = () => {
    postgres?.stop();
    process.exit(code);
  };
  if (server && server.exitCode === null) {
    server.once('exit', end);
    server.kill('SIGTERM');
  } else end();
}
process.on('SIGINT', () => stop(0));
process.on('SIGTERM', () => stop(0));
process.on('SIGHUP', () => stop(0));

const env = {
  ...process.env,
  DATABASE_URL: url,
  PORT: String(port),
  POST_OFFICE: 'open',
  LOG_LEVEL: process.env.LOG_LEVEL ?? 'warn',
  NODE_OPTIONS: '--enable-source-maps',
};
const loaded = spawnSync(process.execPath, [path.join(root, 'demo/dist/load.js'), ...wish, ...(ownDatabase ? ['--own'] : [])], {
  cwd: root,
  env,
  stdio: ['inherit', 'pipe', 'inherit'],
  encoding: 'utf8',
});
if (loaded.status !== 0) stop(loaded.status ?? 1);
else {
  server = fork(path.join(root, 'server/dist/main.js'), { cwd: root, env, detached: true });
  server.on('message', ({ listening }) => {
    const { isDemoWorld } = JSON.parse(loaded.stdout);
    const signIns = !isDemoWorld
      ? '  A site of your own: the first page makes the first administrator.'
      : fs.readFileSync(path.join(root, 'demo/sign-ins.txt'), 'utf8').trimEnd();
    console.log(
      `\nGate Roster is at ${listening}\n\n${signIns}\n\n  Letters go to a stand-in: ${listening}/post\n\nCtrl-C stops it. The data stays${ownDatabase ? '' : ` in ${home}`}.`,
    );
  });
  server.on('exit', (code) => stop(code ?? 1));
}

/** The port that was asked for; when nobody asked, the next free one from 3000 on. */
async function wantedPort(first, isAsked) {
  for (let candidate = first; candidate < first + 50; candidate++) {
    if (await isFree(candidate)) return candidate;
    if (isAsked) {
      console.error(`Port ${candidate} is taken. Choose another with PORT=…, or leave PORT out.`);
      postgres?.stop();
      process.exit(1);
    }
  }
  throw new Error(`no free port from ${first} on`);
}

function isFree(candidate) {
  return new Promise((resolve) => {
    const probe = net.createServer();
    probe.once('error', () => resolve(false));
    probe.listen(candidate, '127.0.0.1', () => probe.close(() => resolve(true)));
  });
}
