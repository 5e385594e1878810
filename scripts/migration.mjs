// npm run migration -- NAME: writes the migration for what changed in the schema.
import path from 'node:path';
import { ensurePackages, root, tool } from './ensure.mjs';

ensurePackages();
tool('drizzle-kit/bin.cjs', ['generate', '--name', process.argv[2] ?? 'change'], { cwd: path.join(root, 'server') });
