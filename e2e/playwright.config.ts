import { defineConfig, devices } from '@playwright/test';

/*
 * The real application, built, in Debian's Chromium. The server is started by src/start.ts on a database of its own.
 */
const port = Number(process.env['E2E_PORT'] ?? 4173 + (process.pid % 500));
process.env['E2E_PORT'] ??= String(port);

export default defineConfig({
  testDir: './src',
  testMatch: '**/*.spec.ts',
  outputDir: '../.local/e2e',
  workers: 2,
  // The machine is shared: a test that takes 20 s by itself may take a minute beside another.
  timeout: 180_000,
  expect: { timeout: 20_000 },
  reporter: [['list']],
  use: {
    ...devices['Desktop Chrome'],
    viewport: { width: 1280, height: 800 },
    baseURL: `http://127.0.0.1:${port}`,
    // Recording costs a third of the time; a failing test is run again by hand with --trace on.
    trace: 'off',
    contextOptions: { reducedMotion: 'reduce' },
    launchOptions: {
      executablePath: process.env['CHROMIUM'] ?? '/usr/bin/chromium-headless-shell',
      args: [
        '--no-sandbox',
        '--disable-gpu',
        '--disable-quic',
        '--no-first-run',
        '--disable-background-networking',
        '--disable-component-update',
        '--disable-sync',
      ],
    },
  },
  webServer: {
    command: 'node scripts/serve-for-browser-tests.mjs',
    cwd: '..',
    url: `http://127.0.0.1:${port}/api/health`,
    env: { PORT: String(port) },
    reuseExistingServer: false,
    timeout: 240_000,
    gracefulShutdown: { signal: 'SIGTERM', timeout: 10_000 },
  },
});
