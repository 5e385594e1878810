import { randomBytes } from 'node:crypto';
import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { eq } from 'drizzle-orm';
import { pino } from 'pino';
import { connect, type Database, firstOf, onlyOne } from './database/connect.ts';
import * as tables from './database/schema.ts';
import { rebuildWhenOld } from './database/rebuild.ts';
import { watchDays } from './day-turn.ts';
import { makeApp, playerKey } from './http/app.ts';
import type { Environment } from './environment.ts';
import type { Deps, Settings } from './http/deps.ts';
import { startGiving } from './certificates/give-due.ts';
import { answerBell } from './jobs/bell.ts';
import { startJobs } from './jobs/run-jobs.ts';
import { startMailStandIn } from './letters/mail-stand-in.ts';
import { startPost } from './letters/post.ts';
import { startRemindingPeople } from './messages/remind.ts';
import { startTelling } from './messages/tell.ts';
import { Streams } from './live/streams.ts';
import { startReportLetters } from './progress/report-letters.ts';
import { LargeChanges } from './changes/large-changes.ts';
import { Thread } from './threads/thread.ts';
import { SiteSize } from './people/site-size.ts';
import { ColumnsOfSite } from './progress/columns/columns-of-site.ts';
import { PastDays } from './progress/past-days.ts';
import { standingsKeeper } from './progress/standings.ts';
import { paymentKey } from './payment-service/service.ts';
import { sweep } from './retention.ts';
import { startRules } from './rules/run-rules.ts';
import { startEndingHolds } from './entry/hold-place.ts';
import { startRefunding } from './seats/pay.ts';
import { startTellingSeats } from './seats/tell-seats.ts';
import { startRenewing } from './seats/renew-due.ts';
import { startReminding } from './work/remind-markers.ts';
import { sourceSecret } from './http/signed-source.ts';

const keepAliveMilliseconds = 75_000;

export interface Running {
  deps: Deps;
  url: string;
  port: number;
  stop: () => Promise<void>;
}

/** Starts a server on a migrated database. `now` can be set by tests. */
export async function serve(environment: Environment, { now: clock }: { now?: () => Date } = {}): Promise<Running> {
  const now = clock ?? (() => new Date());
  const settings = settingsOf(environment);
  const log = pino({ level: environment.LOG_LEVEL, redact: ['req.headers', '*.password', '*.secret'] });
  const isWeb = environment.ROLE !== 'worker';
  const isWorker = environment.ROLE !== 'web';
  const { pool, db } = connect(settings.databaseUrl);
  const streams = new Streams(db, settings.databaseUrl, log);
  const requestKey = await sharedSecret(db, 'requests', randomBytes(32).toString('base64url'));
  const pastDays = new PastDays(db, settings.databaseUrl, log);
  const site = new SiteSize(db);
  const columns = new ColumnsOfSite(db, site, settings.databaseUrl, log);
  // The thread knows no clock but the real one.
  const largeChanges = clock ? null : new LargeChanges(site, new Thread('changes-thread', settings));
  const deps: Deps = { db, pool, log, settings, streams, requestKey, now, pastDays, columns, largeChanges };
  const secrets = {
    session: await sharedSecret(db, 'session', randomBytes(32).toString('base64url')),
    payments: await paymentSecret(db, environment.PAYMENT_KEY),
    player: await sourceSecret(db, playerKey, 'Course player (stand-in)', randomBytes(32).toString('base64url')),
  };
  await rebuildWhenOld(db, now());
  const server = createServer(
    makeApp(deps, secrets, { playerPages: environment.PLAYER_PAGES, isWeb, metricsKey: environment.METRICS_KEY }),
  );
  // Longer than a balancer or a browser keeps a connection that is not used: else the next request meets one that is just being closed.
  server.keepAliveTimeout = keepAliveMilliseconds;
  await listen(server, settings.port, settings.host);
  const { port } = server.address() as AddressInfo;
  if (settings.port === 0 && environment.PUBLIC_URL === undefined)
    Object.assign(settings, addressedAt(settings, `http://${settings.host}:${port}`));
  if (isWeb) {
    await streams.start();
    columns.keepReady(now);
  }
  const stopWorking = isWorker ? await startWork(deps) : null;
  return {
    deps,
    url: settings.publicUrl,
    port,
    async stop() {
      await stopWorking?.();
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
      await largeChanges?.stop();
      await columns.stop();
      await pastDays.stop();
      await pool.end();
    },
  };
}

/** A port that was only given when the server listened: addresses of our own are known only then. */
const addressedAt = (settings: Settings, publicUrl: string): Partial<Settings> => ({
  publicUrl,
  paymentUrl: settings.paymentUrl?.startsWith(settings.publicUrl) ? `${publicUrl}/payment-service` : settings.paymentUrl,
});

/** The key that is shared with the payment service: the one that is given, or for the stand-in one that is made once. */
async function paymentSecret(db: Database, given: string | undefined): Promise<string> {
  const kept = await sourceSecret(db, paymentKey, 'Payment service', given ?? randomBytes(32).toString('base64url'));
  if (given === undefined || given === kept) return kept;
  await db.update(tables.source).set({ secret: given }).where(eq(tables.source.key, paymentKey));
  return given;
}

const sweepMilliseconds = 3_600_000;

/** Jobs, letters, cached tallies, the turn of the day, and letting go of what is past its time. @returns How to stop; it waits for what is under way. */
async function startWork(deps: Deps): Promise<() => Promise<void>> {
  const { db, settings, log, now } = deps;
  const stopWatching = watchDays(db, now, log);
  const stopKeeping = answerBell(settings.databaseUrl, log, standingsKeeper(db, now));
  const standIn = settings.postOffice ? await startMailStandIn(db, { sender: settings.mailSender, publicUrl: settings.publicUrl }) : null;
  const smtpUrl = standIn?.url ?? settings.smtpUrl;
  const stopPost =
    smtpUrl === null
      ? null
      : startPost(db, { databaseUrl: settings.databaseUrl, smtpUrl, sender: settings.mailSender, publicUrl: settings.publicUrl, log });
  const stopTelling = startTelling({ db, now, publicUrl: settings.publicUrl }, settings.databaseUrl, log);
  const stopRemindingPeople = startRemindingPeople({ db, now }, settings.databaseUrl, log);
  const stopRules = startRules({ db, now, log, publicUrl: settings.publicUrl }, settings.databaseUrl);
  const stopGiving = startGiving({ db, now, log, databaseUrl: settings.databaseUrl });
  const stopReminding = startReminding({ db, now, log, publicUrl: settings.publicUrl }, settings.databaseUrl);
  const stopReportLetters = startReportLetters(deps, settings.databaseUrl);
  const stopTellingSeats = startTellingSeats({ db, publicUrl: settings.publicUrl }, settings.databaseUrl, log);
  const stopRefunding = startRefunding(deps);
  const stopEndingHolds = startEndingHolds(deps);
  const stopRenewing = startRenewing(deps);
  const stopJobs = startJobs(deps);
  const clean = (): Promise<void> =>
    sweep(db).catch((error: unknown) => {
      log.warn({ err: error }, 'what is past its time could not be deleted; trying again');
    });
  await clean();
  const sweeping = setInterval(() => void clean(), sweepMilliseconds);
  return async () => {
    clearInterval(sweeping);
    stopWatching();
    await stopKeeping();
    await stopRemindingPeople();
    await stopTelling();
    await stopTellingSeats();
    await stopReportLetters();
    await stopEndingHolds();
    await stopRules();
    await stopGiving();
    await stopReminding();
    await stopRefunding();
    await stopRenewing();
    await stopJobs();
    await stopPost?.();
    await standIn?.stop();
  };
}

function settingsOf(environment: Environment): Settings {
  const publicUrl = (environment.PUBLIC_URL ?? `http://${environment.HOST}:${environment.PORT}`).replace(/\/$/u, '');
  return {
    databaseUrl: environment.DATABASE_URL,
    port: environment.PORT,
    host: environment.HOST,
    publicUrl,
    isSecure: publicUrl.startsWith('https:'),
    trustProxy: environment.TRUST_PROXY ?? false,
    postOffice: environment.POST_OFFICE === 'open',
    smtpUrl: environment.SMTP_URL ?? null,
    paymentUrl: environment.PAYMENT_URL ?? (environment.POST_OFFICE === 'open' ? `${publicUrl}/payment-service` : null),
    courseFeed: { url: environment.COURSE_FEED_URL ?? null, key: environment.COURSE_FEED_KEY ?? null },
    mailSender: environment.MAIL_FROM,
    webFolder: environment.WEB_FOLDER === '' ? null : environment.WEB_FOLDER,
  };
}

/** Has this database a site? */
export async function hasSite(url: string): Promise<boolean> {
  const { pool, db } = connect(url);
  try {
    return (await firstOf(db.select({ id: tables.organisation.id }).from(tables.organisation))) !== null;
  } finally {
    await pool.end();
  }
}

/** The same for all processes of this site: whoever comes first makes it. */
async function sharedSecret(db: Database, name: string, fresh: string): Promise<string> {
  await db.insert(tables.siteSecret).values({ name, value: fresh }).onConflictDoNothing();
  return (await onlyOne(db.select({ value: tables.siteSecret.value }).from(tables.siteSecret).where(eq(tables.siteSecret.name, name))))
    .value;
}

function listen(server: Server, port: number, host: string): Promise<void> {
  return new Promise((resolve, reject) => {
    server.once('error', reject);
    server.listen(port, host, () => {
      resolve();
    });
  });
}
