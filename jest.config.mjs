import path from 'node:path';

const root = import.meta.dirname;
const project = (name) => ({
  displayName: name,
  rootDir: path.join(root, name),
  testMatch: ['<rootDir>/src/**/*.test.ts'],
  testEnvironment: 'node',
  setupFiles: [path.join(root, 'scripts/jest-seed.mjs'), ...(name === 'server' ? [path.join(root, 'scripts/sql/jest-watch-sql.mjs')] : [])],
  // What Vite makes of the contract for the browser (web/route-table.ts); here the contract itself will do.
  moduleNameMapper: { '^virtual:route-table$': path.join(root, 'contract/src/routes.ts') },
  extensionsToTreatAsEsm: ['.ts'],
  transform: {
    '^.+\\.ts$': [
      '@swc/jest',
      { jsc: { target: 'es2022', parser: { syntax: 'typescript' }, transform: {} }, module: { type: 'es6' }, sourceMaps: 'inline' },
    ],
  },
});

export default {
  projects: ['core', 'contract', 'server', 'web', 'demo'].map(project),
  globalSetup: './scripts/jest-postgres.mjs',
  globalTeardown: './scripts/jest-postgres-stop.mjs',
  testTimeout: 180_000,
  // What a test file loaded is not all let go of: a worker that has grown is slow to collect, so another one goes on.
  workerIdleMemoryLimit: '1200MB',
};
