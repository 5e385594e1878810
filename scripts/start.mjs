// npm start: serves from the environment (docs/guide.md lists it). Builds what has changed; needs a PostgreSQL of yours.
import { fork } from 'node:child_process';
import path from 'node:path';
import { buildAll } from './build.mjs';
import { ensurePackages, root } from './ensure.mjs';

ensurePackages();
await buildAll();
const server = fork(path.join(root, 'server/dist/main.js'), { env: { ...process.env, NODE_OPTIONS: '--enable-source-maps' } });
server.on('message', ({ listening }) => console.log(`Gate Roster is at ${listening}`));
for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP']) process.on(signal, () => server.kill('SIGTERM'));
server.on('exit', (code) => process.exit(code ?? 1));
