// Finds optional packages that the lock file lacks, on which `npm ci` would die. Run after every change of dependencies.
import fs from 'node:fs';
import path from 'node:path';

const { packages } = JSON.parse(fs.readFileSync(path.join(import.meta.dirname, '../package-lock.json'), 'utf8'));
const missing = Object.entries(packages).flatMap(([at, { optionalDependencies }]) =>
  Object.keys(optionalDependencies ?? {})
    .filter((name) => !packages[`node_modules/${name}`] && !packages[`${at}/node_modules/${name}`])
    .map((name) => `${at} -> ${name}`),
);
for (const each of missing) console.error(`missing in package-lock.json: ${each}`);
process.exit(missing.length > 0 ? 1 : 0);
