import type pg from 'pg';
import { RateLimiterPostgres, RateLimiterRes } from 'rate-limiter-flexible';
import { ProblemError } from '../http/problem.ts';

export interface SlowDown {
  /** @throws ProblemError `too-many-tries` with the seconds to wait, when this key has used up its tries. */
  check: (key: string) => Promise<void>;
  count: (key: string) => Promise<void>;
  forget: (key: string) => Promise<void>;
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
    async check(key) {
      const result = await limiter.get(key);
      if (result !== null && result.consumedPoints >= points)
        throw new ProblemError('too-many-tries', { retryAfter: Math.ceil(result.msBeforeNext / 1000) });
    },
    async count(key) {
      // Going over is not an error here: `check` refuses the next try.
      await limiter.consume(key).catch((reason: unknown) => {
        if (!(reason instanceof RateLimiterRes)) throw reason;
      });
    },
    async forget(key) {
      await limiter.delete(key);
    },
  };
}

const failuresPerAccountAndAddress = 5;
const failuresPerAddress = 50;
const windowSeconds = 60;

/**
 * Slows down failing sign-ins per account and address, and per address; never locks an account, since another address is
 * not slowed down.
 */
export function signInBrake(pool: pg.Pool): {
  check: (name: string, address: string) => Promise<void>;
  failed: (name: string, address: string) => Promise<void>;
  passed: (name: string, address: string) => Promise<void>;
} {
  const byBoth = slowDown(pool, 'sign-in', { points: failuresPerAccountAndAddress, seconds: windowSeconds });
  const byAddress = slowDown(pool, 'sign-in-address', { points: failuresPerAddress, seconds: windowSeconds });
  const both = (name: string, address: string): string => `${name.toLowerCase()}|${address}`;
  return {
    async check(name, address) {
      await Promise.all([byBoth.check(both(name, address)), byAddress.check(address)]);
    },
    async failed(name, address) {
      await Promise.all([byBoth.count(both(name, address)), byAddress.count(address)]);
    },
    async passed(name, address) {
      await byBoth.forget(both(name, address));
    },
  };
}
