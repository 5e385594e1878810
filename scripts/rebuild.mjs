// npm run rebuild: makes everything that is derived (closure, membership sets, entitlements) anew from the truth. Needs DATABASE_URL.
import path from 'node:path';
import { buildServer } from './build.mjs';
import { ensurePackages, root, run } from './ensure.mjs';

ensurePackages();
await buildServer();
run(process.execPath, ['--enable-source-maps', path.join(root, 'server/dist/rebuild.js')]);
