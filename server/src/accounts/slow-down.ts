import type pg from 'pg';
import { RateLimiterPostgres, RateLimiterRes } from 'rate-limiter-flexible';
import { ProblemError } from '../http/problem.ts';

const failuresPerAccountAndAddress = 5;
const failuresPerAddress = 50;
const windowSeconds = 60;

/**
 * Slows down failing sign-ins per account and address, and per address. Counted in PostgreSQL, so for all
 * processes together; never locks an account, since another address is not slowed down.
 */
export function signInBrake(pool: pg.Pool): {
  check: (name: string, address: string) => Promise<void>;
  failed: (name: string, address: string) => Promise<void>;
  passed: (name: string, address: string) => Promise<void>;
} {
  const limiter = (keyPrefix: string, points: number) =>
    new RateLimiterPostgres({
      storeClient: pool,
      storeType: 'pool',
      tableName: 'rate_limit',
      tableCreated: true,
      keyPrefix,
      points,
      duration: windowSeconds,
    });
  const byBoth = limiter('sign-in', failuresPerAccountAndAddress);
  const byAddress = limiter('sign-in-address', failuresPerAddress);
  const both = (name: string, address: string): string => `${name.toLowerCase()}|${address}`;
  return {
    async check(name, address) {
      const [one, all] = await Promise.all([byBoth.get(both(name, address)), byAddress.get(address)]);
      const isOver = (result: RateLimiterRes | null, points: number): boolean => result !== null && result.consumedPoints >= points;
      const waits = [isOver(one, failuresPerAccountAndAddress) ? one : null, isOver(all, failuresPerAddress) ? all : null].flatMap(
        (result) => result?.msBeforeNext ?? [],
      );
      if (waits.length > 0) throw new ProblemError('too-many-tries', { retryAfter: Math.ceil(Math.max(...waits) / 1000) });
    },
    async failed(name, address) {
      // Going over is not an error here: `check` refuses the next try.
      const count = async (consuming: Promise<RateLimiterRes>): Promise<void> => {
        await consuming.catch((reason: unknown) => {
          if (!(reason instanceof RateLimiterRes)) throw reason;
        });
      };
      await Promise.all([count(byBoth.consume(both(name, address))), count(byAddress.consume(address))]);
    },
    async passed(name, address) {
      await byBoth.delete(both(name, address));
    },
  };
}
