import { randomBytes } from 'node:crypto';
import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { sql } from 'drizzle-orm';
import { pino } from 'pino';
import { connect, type Database, maybeRow, oneRow } from './database/connect.ts';
import { rebuildWhenOld } from './database/rebuild.ts';
import { watchDays } from './day-turn.ts';
import { makeApp, playerKey } from './http/app.ts';
import type { Deps, Settings } from './http/deps.ts';
import { answerBell } from './jobs/bell.ts';
import { startJobs } from './jobs/run-jobs.ts';
import { startMailStandIn } from './letters/mail-stand-in.ts';
import { startPost } from './letters/post.ts';
import { Streams } from './live/streams.ts';
import { keepStandings } from './progress/standings.ts';
import { sourceSecret } from './progress/source-routes.ts';

export interface Running {
  deps: Deps;
  url: string;
  port: number;
  stop: () => Promise<void>;
}

/** Starts a server on a migrated database. `now` can be set by tests. */
export async function serve(settings: Settings, playerPages: string, now: () => Date = () => new Date()): Promise<Running> {
  const log = pino({ level: process.env['LOG_LEVEL'] ?? 'warn', redact: ['req.headers', '*.password', '*.secret'] });
  const { pool, db } = connect(settings.databaseUrl);
  const streams = new Streams(db, settings.databaseUrl, log);
  const requestKey = await sharedSecret(db, 'requests', randomBytes(32).toString('base64url'));
  const deps: Deps = { db, pool, log, settings, streams, requestKey, now };
  const secrets = {
    session: await sharedSecret(db, 'session', randomBytes(32).toString('base64url')),
    player: await sourceSecret(db, playerKey, 'Course player (stand-in)', randomBytes(32).toString('base64url')),
  };
  await rebuildWhenOld(db, now());
  const server = createServer(makeApp(deps, secrets, playerPages));
  await listen(server, settings.port, settings.host);
  const { port } = server.address() as AddressInfo;
  if (settings.port === 0) settings.publicUrl = `http://${settings.host}:${port}`;
  await streams.start();
  const stopWatching = watchDays(db, now, log);
  const stopKeeping = answerBell(settings.databaseUrl, log, () => keepStandings(db, now()));
  const standIn = settings.postOffice ? await startMailStandIn(db) : null;
  const smtpUrl = standIn?.url ?? settings.smtpUrl;
  const stopPost =
    smtpUrl === null ? null : startPost(db, { databaseUrl: settings.databaseUrl, smtpUrl, sender: settings.mailSender, log });
  const stopJobs = startJobs(deps);
  await db.execute(sql`delete from launch where ends_at < now() - interval '1 day'`);
  return {
    deps,
    url: settings.publicUrl,
    port,
    async stop() {
      stopWatching();
      await stopKeeping();
      await stopJobs();
      await stopPost?.();
      await standIn?.stop();
      await streams.stop();
      await new Promise<void>((resolve) => {
        server.close(() => {
          resolve();
        });
        server.closeIdleConnections();
        // Requests under way get a moment to finish.
        setTimeout(() => {
          server.closeAllConnections();
        }, 5000).unref();
      });
      await pool.end();
    },
  };
}

/** Has this database a site? */
export async function hasSite(url: string): Promise<boolean> {
  const { pool, db } = connect(url);
  try {
    return (await maybeRow(db, sql`select 1 as yes from organisation`)) !== null;
  } finally {
    await pool.end();
  }
}

/** The same for all processes of this site: whoever comes first makes it. */
async function sharedSecret(db: Database, name: string, fresh: string): Promise<string> {
  await db.execute(sql`insert into site_secret (name, value) values (${name}, ${fresh}) on conflict do nothing`);
  return (await oneRow<{ value: string }>(db, sql`select value from site_secret where name = ${name}`)).value;
}

function listen(server: Server, port: number, host: string): Promise<void> {
  return new Promise((resolve, reject) => {
    server.once('error', reject);
    server.listen(port, host, () => {
      resolve();
    });
  });
}
