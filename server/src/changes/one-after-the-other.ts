import { sql } from 'drizzle-orm';
import PQueue from 'p-queue';
import type { Database, Transaction } from '../database/connect.ts';

/** Changes take place one after the other: each is looked at again with nothing moving under it. */
const changeLock = 7_401_002;

/**
 * Changes of this process wait here rather than in the database, where each would hold a connection that readers need.
 * One is at work while the next makes ready; between processes the lock decides.
 */
const waiting = new PQueue({ concurrency: 2 });

/** Runs a transaction in which nobody else changes the roster. */
export function oneAfterTheOther<T>(db: Database, work: (tx: Transaction) => Promise<T>): Promise<T> {
  return waiting.add(() =>
    db.transaction(async (tx) => {
      await tx.execute(sql`select pg_advisory_xact_lock(${changeLock})`);
      return work(tx);
    }),
  );
}
