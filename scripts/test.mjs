// npm test: installs what is missing, then lock file, structure, type check, lint, unit and server tests, the statements that these ran, browser tests. Each says how long it took.
import { spawn, spawnSync } from 'node:child_process';
import path from 'node:path';
import { chromium, chromiumFile, ensureDebian, ensurePackages, postgresql, root } from './ensure.mjs';

ensureDebian([postgresql, chromium]);
ensurePackages();
const { buildAll } = await import('./build.mjs');

const env = { ...process.env, NODE_ENV: 'test', LOG_LEVEL: process.env.LOG_LEVEL ?? 'silent', CHROMIUM: chromiumFile() };
const node =
  (file, args, options = []) =>
  () =>
    spawnSync(process.execPath, [...options, path.join(root, 'node_modules', file), ...args], { cwd: root, stdio: 'inherit', env })
      .status ?? 1;

const runQuietly = ([file, ...args]) =>
  new Promise((resolve) => {
    const said = [];
    const child = spawn(process.execPath, [path.join(root, 'node_modules', file), ...args], { cwd: root, env });
    for (const stream of [child.stdout, child.stderr]) stream.on('data', (part) => said.push(part));
    child.on('close', (status) => resolve({ status: status ?? 1, said: Buffer.concat(said).toString() }));
  });

/** Rows of commands side by side, for each keeps one core busy; in a row one after the other. What they say is told when all are done. */
const together =
  (...lanes) =>
  async () => {
    const results = await Promise.all(
      lanes.map(async (lane) => {
        for (const command of lane) {
          const result = await runQuietly(command);
          if (result.status !== 0) return result;
        }
        return { status: 0, said: '' };
      }),
    );
    for (const { said } of results) process.stdout.write(said);
    return Math.max(...results.map(({ status }) => status));
  };

// The types of the web floor, whose .vue files only vue-tsc can read; oxlint checks those of all other floors while it lints by types.
const typesOfWeb = ['vue-tsc/bin/vue-tsc.js', '-b', 'web'];
const lintByTypes = ['oxlint/bin/oxlint'];
const lint = ['eslint/bin/eslint.js', '.', '--cache', '--cache-location', '.local/eslint', '--max-warnings', '0'];

const steps = [
  ['lock file', () => spawnSync(process.execPath, [path.join(root, 'scripts/check-lock.mjs')], { stdio: 'inherit' }).status ?? 1],
  ['structure', () => spawnSync(process.execPath, [path.join(root, 'scripts/check-structure.mjs')], { stdio: 'inherit' }).status ?? 1],
  ['types and lint', together([typesOfWeb], [lintByTypes, lint])],
  [
    'build',
    async () => {
      await buildAll();
      return 0;
    },
  ],
  // One more than there are cores: while PostgreSQL works for one, it waits.
  ['unit and server', node('jest/bin/jest.js', ['--maxWorkers=3'], ['--experimental-vm-modules', '--disable-warning=ExperimentalWarning'])],
  [
    'statements',
    () => spawnSync(process.execPath, [path.join(root, 'scripts/sql/check-sql.mjs')], { cwd: root, stdio: 'inherit' }).status ?? 1,
  ],
  ['browser', node('@playwright/test/cli.js', ['test', '--config', 'e2e/playwright.config.ts'])],
];

for (const [name, step] of steps) {
  const from = Date.now();
  console.log(`\n== ${name}`);
  const status = await step();
  console.log(`== ${name}: ${status === 0 ? 'passed' : 'FAILED'} in ${((Date.now() - from) / 1000).toFixed(0)} s`);
  if (status !== 0) process.exit(status);
}
console.log(`\n${steps.length} passed, 0 failed`);
