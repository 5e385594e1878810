// npm test: installs what is missing, then type check, lint, unit and server tests, browser tests. Each says how long it took.
import { spawn, spawnSync } from 'node:child_process';
import path from 'node:path';
import { chromium, ensureDebian, ensurePackages, postgresql, root } from './ensure.mjs';

ensureDebian([postgresql, chromium]);
ensurePackages();
const { buildAll } = await import('./build.mjs');

const env = { ...process.env, NODE_ENV: 'test', LOG_LEVEL: process.env.LOG_LEVEL ?? 'silent' };
const node =
  (file, args, options = []) =>
  () =>
    spawnSync(process.execPath, [...options, path.join(root, 'node_modules', file), ...args], { cwd: root, stdio: 'inherit', env })
      .status ?? 1;

/** Types and lint keep one core busy each, so they run side by side; what they say is told when they are done. */
const together =
  (...commands) =>
  async () => {
    const results = await Promise.all(
      commands.map(
        ([file, ...args]) =>
          new Promise((resolve) => {
            const said = [];
            const child = spawn(process.execPath, [path.join(root, 'node_modules', file), ...args], { cwd: root, env });
            for (const stream of [child.stdout, child.stderr]) stream.on('data', (part) => said.push(part));
            child.on('close', (status) => resolve({ status: status ?? 1, said: Buffer.concat(said).toString() }));
          }),
      ),
    );
    for (const { said } of results) process.stdout.write(said);
    return Math.max(...results.map(({ status }) => status));
  };

const steps = [
  ['lock file', () => spawnSync(process.execPath, [path.join(root, 'scripts/check-lock.mjs')], { stdio: 'inherit' }).status ?? 1],
  [
    'types and lint',
    together(
      ['vue-tsc/bin/vue-tsc.js', '-b'],
      ['eslint/bin/eslint.js', '.', '--cache', '--cache-location', '.local/eslint', '--concurrency', '2', '--max-warnings', '0'],
    ),
  ],
  [
    'build',
    async () => {
      await buildAll();
      return 0;
    },
  ],
  [
    'unit and server',
    node('jest/bin/jest.js', ['--maxWorkers=2', '--forceExit'], ['--experimental-vm-modules', '--disable-warning=ExperimentalWarning']),
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
