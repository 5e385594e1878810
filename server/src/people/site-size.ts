import { sql } from 'drizzle-orm';
import { type Queryable, oneRow } from '../database/connect.ts';

/** With fewer counted learners the database answers reports as fast as memory does, and no change keeps others waiting. */
const fewLearners = 10_000;
const countMilliseconds = 60_000;

/** Is this a large site? Counted once a minute. */
export class SiteSize {
  readonly #db: Queryable;
  #isLarge = false;
  #countedAt = -Infinity;

  constructor(db: Queryable) {
    this.#db = db;
  }

  async isLarge(): Promise<boolean> {
    if (performance.now() - this.#countedAt < countMilliseconds) return this.#isLarge;
    this.#countedAt = performance.now();
    const { learners } = await oneRow<{ learners: number }>(
      this.#db,
      sql`select coalesce(sum(counted), 0)::int as learners from membership_set`,
    );
    this.#isLarge = learners >= fewLearners;
    return this.#isLarge;
  }
}
