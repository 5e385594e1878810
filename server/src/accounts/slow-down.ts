import type pg from 'pg';
import { RateLimiterPostgres, RateLimiterRes } from 'rate-limiter-flexible';
import { ProblemError } from '../http/problem.ts';

export interface SlowDown {
  /**
   * Uses up one try of a key. It is counted before anything is checked, so that of many at once no more are checked than there are.
   * @throws ProblemError `too-many-tries` with the seconds to wait, when the tries of this key are used up.
   */
  take: (key: string) => Promise<void>;
  /** The tries of a key begin again. */
  forget: (key: string) => Promise<void>;
  /** One try is given back: it was a right one. */
  giveBack: (key: string) => Promise<void>;
}

/** So many tries in so many seconds for each key. Counted in PostgreSQL, so for all processes together. */
export function slowDown(pool: pg.Pool, name: string, { points, seconds }: { points: number; seconds: number }): SlowDown {
  const limiter = new RateLimiterPostgres({
    storeClient: pool,
    storeType: 'pool',
    tableName: 'rate_limit',
    tableCreated: true,
    keyPrefix: name,
    points,
    duration: seconds,
  });
  return {
    async take(key) {
      await limiter.consume(key).catch((reason: unknown) => {
        if (reason instanceof RateLimiterRes)
          throw new ProblemError('too-many-tries', { retryAfter: Math.ceil(reason.msBeforeNext / 1000) });
        throw reason;
      });
    },
    async forget(key) {
      await limiter.delete(key);
    },
    async giveBack(key) {
      await limiter.reward(key);
    },
  };
}

const failuresPerAccountAndAddress = 5;
const failuresPerAddress = 50;
const windowSeconds = 60;

/**
 * Slows down sign-ins that fail, by account and network address and by network address; never locks an account, since another
 * address is not slowed down. `account` is the same whether somebody types the sign-in name or the email address.
 */
export function signInLimiter(pool: pg.Pool): {
  take: (account: string, address: string) => Promise<void>;
  passed: (account: string, address: string) => Promise<void>;
} {
  const byBoth = slowDown(pool, 'sign-in', { points: failuresPerAccountAndAddress, seconds: windowSeconds });
  const byAddress = slowDown(pool, 'sign-in-address', { points: failuresPerAddress, seconds: windowSeconds });
  return {
    async take(account, address) {
      await byBoth.take(`${account}|${address}`);
      await byAddress.take(address);
    },
    async passed(account, address) {
      await byBoth.forget(`${account}|${address}`);
      await byAddress.giveBack(address);
    },
  };
}
