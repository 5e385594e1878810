import { sql } from 'drizzle-orm';
import { type Queryable, oneRow } from '../database/connect.ts';

/** With fewer people the database answers reports as fast as memory does, and no change keeps others waiting. */
const fewPeople = 10_000;
const countMilliseconds = 60_000;

/** Is this a large site? Counted once a minute. */
export class SiteSize {
  readonly #db: Queryable;
  #isLarge: Promise<boolean> = Promise.resolve(false);
  #countedAt = -Infinity;

  constructor(db: Queryable) {
    this.#db = db;
  }

  async isLarge(): Promise<boolean> {
    if (performance.now() - this.#countedAt >= countMilliseconds) {
      this.#countedAt = performance.now();
      this.#isLarge = this.#count();
      // What failed is counted again by the next who asks.
      this.#isLarge.catch(() => (this.#countedAt = -Infinity));
    }
    return this.#isLarge;
  }

  async #count(): Promise<boolean> {
    const { people } = await oneRow<{ people: number }>(this.#db, sql`select count(*)::int as people from person`);
    return people >= fewPeople;
  }
}
