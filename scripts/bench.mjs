// npm run bench: makes data at scale once, measures, writes docs/performance.md. `-- --fresh` makes the data anew.
import { spawnSync } from 'node:child_process';
import fs from 'node:fs';
import path from 'node:path';
import { chromium, chromiumFile, ensureDebian, ensurePackages, postgresql, root } from './ensure.mjs';

ensureDebian([postgresql, chromium]);
ensurePackages();
const { buildAll } = await import('./build.mjs');
const { startPostgres } = await import('./pg.mjs');
await buildAll();
const data = path.join(root, '.local/bench-data');
if (process.argv.includes('--fresh')) fs.rmSync(data, { recursive: true, force: true });
const postgres = await startPostgres(data, { isDurable: false });
const { status } = spawnSync(process.execPath, ['--enable-source-maps', path.join(root, 'bench/dist/main.js'), ...process.argv.slice(2)], {
  cwd: root,
  env: { ...process.env, DATABASE_URL: postgres.url('bench'), BENCH_ROOT: root, CHROMIUM: chromiumFile() },
  stdio: 'inherit',
});
postgres.stop();
process.exit(status ?? 1);
