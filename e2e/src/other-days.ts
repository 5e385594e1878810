import { type ChildProcess, fork } from 'node:child_process';
import fs from 'node:fs';
import path from 'node:path';

const root = path.join(import.meta.dirname, '../..');

/** A server of its own on a second copy of the demo world, under a clock that begins at a given moment. */
export async function serveAt(moment: Date): Promise<{ url: string; stop: () => Promise<void> }> {
  const { databaseUrl } = JSON.parse(fs.readFileSync(path.join(root, '.local/e2e-data/other-days.json'), 'utf8')) as {
    databaseUrl: string;
  };
  const server: ChildProcess = fork(path.join(root, 'server/dist/serve-at.js'), [moment.toISOString()], {
    env: { ...process.env, DATABASE_URL: databaseUrl, PORT: '0', POST_OFFICE: 'open', LOG_LEVEL: 'warn' },
  });
  const url = await new Promise<string>((resolve, reject) => {
    server.once('message', (message: { url: string }) => {
      resolve(message.url);
    });
    server.once('exit', () => {
      reject(new Error('The server did not start'));
    });
  });
  return {
    url,
    stop: () =>
      new Promise((resolve) => {
        server.once('exit', () => {
          resolve();
        });
        server.kill('SIGTERM');
      }),
  };
}
