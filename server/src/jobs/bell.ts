import { sql } from 'drizzle-orm';
import type { Logger } from 'pino';
import type { Queryable } from '../database/connect.ts';
import { listenTo } from '../database/listen.ts';

const channel = 'gate_roster_work';
/** Work that is due later, and what a lost connection did not hear of, is looked for this often. */
const lookMilliseconds = 5000;

/** Says that there is work; heard when the transaction commits. */
export const ringForWork = async (db: Queryable): Promise<void> => {
  await db.execute(sql`select pg_notify(${channel}, '')`);
};

/**
 * Calls `work` at start, when the bell rings, and every few seconds. Never twice at once: what rings meanwhile is
 * looked at afterwards. @returns How to stop; it waits for what is under way.
 */
export function answerBell(url: string, log: Logger, work: () => Promise<void>): () => Promise<void> {
  let isStopped = false;
  let isWanted = false;
  let underWay: Promise<void> | null = null;

  const run = (): void => {
    isWanted = true;
    if (underWay || isStopped) return;
    underWay = (async () => {
      while (isWanted && !isStopped) {
        isWanted = false;
        await work().catch((error: unknown) => {
          log.warn({ err: error }, 'work could not be done; trying again');
        });
      }
    })().finally(() => {
      underWay = null;
    });
  };
  const listening = listenTo({ url, channel, log }, run, run);
  void listening.begun.then(run);
  const timer = setInterval(run, lookMilliseconds);
  return async () => {
    isStopped = true;
    clearInterval(timer);
    await listening.stop();
    await underWay;
  };
}

/** The same for work that is looked for only now and then, since it is due by the day or the hour. */
export function lookNowAndThen(url: string, log: Logger, milliseconds: number, work: () => Promise<unknown>): () => Promise<void> {
  let next = 0;
  return answerBell(url, log, async () => {
    if (Date.now() < next) return;
    next = Date.now() + milliseconds;
    await work();
  });
}
