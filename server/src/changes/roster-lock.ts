import { AsyncLocalStorage } from 'node:async_hooks';
import { sql } from 'drizzle-orm';
import PQueue from 'p-queue';
import type pg from 'pg';
import { type Database, drizzleOver, type Transaction, withConnection } from '../database/connect.ts';
import { postgresCode, ProblemError } from '../http/problem.ts';

/**
 * How a change holds the roster lock. `shared`: it only adds memberships, requests and seats, so that any number may run at once.
 * `long`: the same for a whole file. `alone`: everything else; nothing else changes the roster meanwhile.
 */
export type LockMode = 'shared' | 'long' | 'alone';

const rosterLock = 7_401_002;
/**
 * Held by a change that is alone, and by a file. PostgreSQL serves a lock in the order of asking, so a change that waited for a file at
 * the roster lock would keep every joiner waiting behind it; it waits here instead.
 */
const gateLock = 7_401_005;

/** Connections that changes may hold at once; the rest of the pool is for readers. */
const atOnce = { shared: 6, long: 2, alone: 2 };
const mostWaiting = 500;
const lockSeconds = 20;
const mostTries = 4;
const queues: Record<LockMode, PQueue> = {
  shared: new PQueue({ concurrency: atOnce.shared }),
  long: new PQueue({ concurrency: atOnce.long }),
  alone: new PQueue({ concurrency: atOnce.alone }),
};

/** Where the time of waiting for locks is added up; one for each request or job. */
export const lockWait = new AsyncLocalStorage<{ milliseconds: number }>();
/** Since the process began, for its metrics. */
export const lockTotals = { waits: 0, seconds: 0 };

/**
 * Runs a transaction while the roster lock is held. The transaction begins after the lock was given, so `now()` in it is later
 * than everything that was written before. Tried again when PostgreSQL ends it for a deadlock.
 * @throws ProblemError `busy` when too many wait already, or the lock is not given in time.
 */
export async function withRosterLock<T>(db: Database, mode: LockMode, work: (tx: Transaction) => Promise<T>): Promise<T> {
  if (queues[mode].size >= mostWaiting) throw new ProblemError('busy', { retryAfter: 2 });
  const asked = performance.now();
  const run = async (client: pg.PoolClient, drop: () => void): Promise<T> => {
    try {
      await client.query(
        `set lock_timeout = '${mode === 'long' ? 0 : lockSeconds}s'; set statement_timeout = ${mode === 'shared' ? "'60s'" : 0}`,
      );
      if (mode !== 'shared') await client.query('select pg_advisory_lock($1)', [gateLock]);
      await client.query(`select pg_advisory_lock${mode === 'alone' ? '' : '_shared'}($1)`, [rosterLock]);
      noteWait(performance.now() - asked);
      return await triedAgain(() =>
        drizzleOver(client).transaction(async (tx) => {
          const done = await work(tx);
          if (mode !== 'shared') await tx.execute(sql`update roster_version set version = version + 1`);
          return done;
        }),
      );
    } catch (error) {
      if (postgresCode(error) === '55P03') throw new ProblemError('busy', { retryAfter: 2 }, { cause: error });
      throw error;
    } finally {
      // With the connection its locks go, too.
      await client.query('select pg_advisory_unlock_all(); reset lock_timeout; reset statement_timeout').catch(drop);
    }
  };
  return queues[mode].add(() => withConnection(db.$client, run));
}

/** How many changes wait in this process, for its metrics. */
export const changesWaiting = (): number => Object.values(queues).reduce((sum, queue) => sum + queue.size, 0);

/** Adds to what the metrics and the line of the log tell. */
export function noteWait(milliseconds: number): void {
  lockTotals.waits++;
  lockTotals.seconds += milliseconds / 1000;
  const own = lockWait.getStore();
  if (own) own.milliseconds += milliseconds;
}

/** Deadlocks pass by themselves; so does a sign-in name that another took in that moment, and the same request sent twice at once. */
const passing = new Set(['40P01', '40001']);
const passingNames = new Set(['personal_sign_in_name', 'outside_request_pkey', 'change_log_requestId_unique']);

async function triedAgain<T>(run: () => Promise<T>): Promise<T> {
  for (let tries = 1; ; tries++) {
    try {
      return await run();
    } catch (error) {
      const code = postgresCode(error);
      const isPassing = code !== null && (passing.has(code) || (code === '23505' && passingNames.has(constraintOf(error))));
      if (!isPassing || tries === mostTries) throw error;
    }
  }
}

function constraintOf(error: unknown): string {
  for (let at = error; at instanceof Error; at = at.cause) {
    const { constraint } = at as { constraint?: unknown };
    if (typeof constraint === 'string') return constraint;
  }
  return '';
}
