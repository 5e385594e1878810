import { createHash, randomBytes } from 'node:crypto';
import { sql } from 'drizzle-orm';
import type { Queryable } from '../database/connect.ts';

/** A secret for an address's fragment, and what of it is kept. */
export function makeToken(): { token: string; hash: string } {
  const token = randomBytes(24).toString('base64url');
  return { token, hash: hashOf(token) };
}

export const hashOf = (token: string): string => createHash('sha256').update(token).digest('base64url');

/** A sign-in that works once, for so many hours. @returns The token; it is not kept. */
export async function makeOneTimeLink(
  db: Queryable,
  personId: number,
  hours: number,
  { byLetter = false, madeBy = null }: { byLetter?: boolean; madeBy?: number | null } = {},
): Promise<string> {
  const { token, hash } = makeToken();
  await db.execute(
    sql`insert into one_time_link (hash, person_id, ends_at, by_letter, made_by) values (${hash}, ${personId}, now() + make_interval(secs => ${hours * 3600}::int), ${byLetter}, ${madeBy})`,
  );
  return token;
}
