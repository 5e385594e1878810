import path from 'node:path';
import { migrate } from './database/connect.ts';
import { serve } from './serve.ts';

/*
 * Environment: DATABASE_URL (needed), PORT (3000), HOST (127.0.0.1), PUBLIC_URL (http://HOST:PORT), TRUST_PROXY (a number of proxies),
 * WEB_FOLDER, MIGRATIONS_FOLDER, SMTP_URL (the mail server letters leave by), MAIL_FROM, POST_OFFICE (`open`: letters go to a stand-in and can be read at /post), LOG_LEVEL.
 */
const env = process.env;
const databaseUrl = env['DATABASE_URL'];
if (!databaseUrl) throw new Error('DATABASE_URL is not set');
const here = import.meta.dirname;
const port = Number(env['PORT'] ?? 3000);
const host = env['HOST'] ?? '127.0.0.1';
const publicUrl = (env['PUBLIC_URL'] ?? `http://${host}:${port}`).replace(/\/$/u, '');

await migrate(databaseUrl, env['MIGRATIONS_FOLDER'] ?? path.join(here, '../drizzle'));
const running = await serve(
  {
    databaseUrl,
    port,
    host,
    publicUrl,
    isSecure: publicUrl.startsWith('https:'),
    trustProxy: env['TRUST_PROXY'] ? Number(env['TRUST_PROXY']) : false,
    postOffice: env['POST_OFFICE'] === 'open',
    smtpUrl: env['SMTP_URL'] ?? null,
    mailSender: env['MAIL_FROM'] ?? 'Gate Roster <roster@gate-roster.example>',
    webFolder: env['WEB_FOLDER'] ?? path.join(here, '../../web/dist'),
  },
  env['PLAYER_PAGES'] ?? path.join(here, '../src/player/page'),
);
process.send?.({ listening: running.url, port: running.port });

let stopping = false;
for (const signal of ['SIGINT', 'SIGTERM'] as const) {
  process.on(signal, () => {
    if (stopping) return;
    stopping = true;
    void running.stop().then(() => process.exit(0));
  });
}
