// Builds the web application, the server and the demo world into their dist folders.
import fs from 'node:fs';
import path from 'node:path';
import { root, tool } from './ensure.mjs';

/** Bundles our own packages; everything from the registry stays outside. */
const ownPackagesOnly = {
  name: 'own-packages-only',
  setup(build) {
    build.onResolve({ filter: /^[^./]/ }, ({ path: name, kind }) =>
      kind === 'entry-point' || name.startsWith('@gate-roster/') ? undefined : { external: true },
    );
  },
};

export async function buildServer() {
  const { build } = await import('esbuild');
  const options = {
    bundle: true,
    format: 'esm',
    platform: 'node',
    target: 'node20',
    sourcemap: true,
    splitting: true,
    logLevel: 'warning',
    absWorkingDir: root,
    plugins: [ownPackagesOnly],
  };
  await build({
    ...options,
    entryPoints: {
      main: 'server/src/main.ts',
      'columns-thread': 'server/src/progress/columns/columns-thread.ts',
      'changes-thread': 'server/src/changes/changes-thread.ts',
      'files-thread': 'server/src/print/files-thread.ts',
      rebuild: 'server/src/database/rebuild-command.ts',
      'serve-at': 'server/src/testing/serve-at.ts',
    },
    outdir: 'server/dist',
  });
  await build({ ...options, entryPoints: { load: 'demo/src/load.ts' }, outdir: 'demo/dist' });
  await build({ ...options, entryPoints: { main: 'bench/src/main.ts' }, outdir: 'bench/dist' });
}

const newest = (folder) =>
  fs
    .readdirSync(folder, { withFileTypes: true, recursive: true })
    .reduce(
      (latest, entry) => (entry.isFile() ? Math.max(latest, fs.statSync(path.join(entry.parentPath, entry.name)).mtimeMs) : latest),
      0,
    );

/** The web takes seconds to build, so it is left alone while nothing it is made of has changed. */
export async function buildAll() {
  await buildServer();
  const page = path.join(root, 'web/dist/index.html');
  const sources = ['core/src', 'contract/src', 'web/src', 'web/public']
    .map((folder) => path.join(root, folder))
    .filter((folder) => fs.existsSync(folder));
  const changed = Math.max(
    ...sources.map(newest),
    fs.statSync(path.join(root, 'package-lock.json')).mtimeMs,
    fs.statSync(path.join(root, 'web/index.html')).mtimeMs,
    fs.statSync(path.join(root, 'web/vite.config.ts')).mtimeMs,
  );
  if (fs.existsSync(page) && fs.statSync(page).mtimeMs > changed) return;
  tool('vite/bin/vite.js', ['build', '--logLevel', 'warn'], { cwd: path.join(root, 'web') });
}

if (process.argv[1] === import.meta.filename) await buildAll();
