import { randomInt } from 'node:crypto';
import { sql } from 'drizzle-orm';
import { type Queryable, rows } from '../database/connect.ts';

/** How long a number that was read out leads to somebody. */
const numberMinutes = 60;

/** Keeps that a sign-in failed, under a short number which the person can read out. @returns Six digits. */
export async function noteTrouble(db: Queryable, personId: number | null): Promise<string> {
  for (;;) {
    const number = String(randomInt(1_000_000)).padStart(6, '0');
    const kept = await rows(
      db,
      sql`
      insert into sign_in_trouble (number, person_id, ends_at) values (${number}, ${personId}, now() + make_interval(mins => ${numberMinutes}::int))
      on conflict (number) do nothing returning 1`,
    );
    if (kept.length > 0) return number;
  }
}
