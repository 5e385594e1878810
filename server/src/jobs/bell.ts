import { sql } from 'drizzle-orm';
import type { Logger } from 'pino';
import type { Queryable } from '../database/connect.ts';
import { type Listening, listenTo } from '../database/listen.ts';

const channel = 'gate_roster_work';
/** Work that is due later, and what a lost connection did not hear of, is looked for this often. */
const lookMilliseconds = 5000;

/** Says that there is work; heard when the transaction commits. */
export const ringForWork = async (db: Queryable): Promise<void> => {
  await db.execute(sql`select pg_notify(${channel}, '')`);
};

interface Bell {
  listening: Listening;
  heardBy: Set<() => void>;
}
/** By database: all kinds of work of a process hear it on one connection. */
const bells = new Map<string, Bell>();

/** Calls `ring` when listening begins, and whenever there is work. @returns How to stop. */
function hearBell(url: string, log: Logger, ring: () => void): () => Promise<void> {
  const bell = bells.get(url) ?? hang(url, log);
  bell.heardBy.add(ring);
  void bell.listening.begun.then(ring);
  return async () => {
    bell.heardBy.delete(ring);
    if (bell.heardBy.size > 0) return;
    bells.delete(url);
    await bell.listening.stop();
  };
}

function hang(url: string, log: Logger): Bell {
  const heardBy = new Set<() => void>();
  const ringAll = (): void => {
    for (const ring of heardBy) ring();
  };
  const bell = { listening: listenTo({ url, channel, log }, ringAll, ringAll), heardBy };
  bells.set(url, bell);
  return bell;
}

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
  const stopHearing = hearBell(url, log, run);
  const timer = setInterval(run, lookMilliseconds);
  return async () => {
    isStopped = true;
    clearInterval(timer);
    await stopHearing();
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
