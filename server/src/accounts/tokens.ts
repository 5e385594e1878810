import { joinCodeAlphabet, joinCodeKey } from '@gate-roster/core';
import { createHash, randomBytes, randomInt } from 'node:crypto';
import { sql } from 'drizzle-orm';
import type { Queryable } from '../database/connect.ts';

/** A secret for an address's fragment, and what of it is kept. */
export function makeToken(): { token: string; hash: string } {
  const token = randomBytes(24).toString('base64url');
  return { token, hash: hashOf(token) };
}

/** A short word that stands on a card or is read out: eight of the letters that nobody mistakes for one another. */
export const makeWord = (): string => Array.from({ length: 8 }, () => joinCodeAlphabet[randomInt(joinCodeAlphabet.length)]).join('');

export const showWord = (word: string): string => `${word.slice(0, 4)}-${word.slice(4)}`;

/** Typed in any case, with or without dashes and spaces. */
export const wordHash = (typed: string): string => hashOf(`word ${joinCodeKey(typed)}`);

export const hashOf = (token: string): string => createHash('sha256').update(token).digest('base64url');

/**
 * A sign-in that works once, for so many hours.
 * @param address It goes there by letter, and works only while that is the account's address.
 * @param madeBy The leader who makes it: it works only while they may act on the account.
 * @param word What does the same together with the sign-in name.
 * @returns The token; it is not kept.
 */
export async function makeOneTimeLink(
  db: Queryable,
  personId: number,
  hours: number,
  { address = null, madeBy = null, word = null }: { address?: string | null; madeBy?: number | null; word?: string | null } = {},
): Promise<string> {
  const { token, hash } = makeToken();
  await db.execute(
    sql`insert into one_time_link (hash, person_id, ends_at, by_letter, address, made_by, word_hash)
      values (${hash}, ${personId}, now() + make_interval(secs => ${hours * 3600}::int), ${address !== null}, ${address}, ${madeBy}, ${word === null ? null : wordHash(word)})`,
  );
  return token;
}

/** A sign-in by letter for each of many, in one statement: it works once, while that is the account's address. @returns Tokens by person. */
export async function makeLetterLinks(
  db: Queryable,
  to: readonly { personId: number; address: string }[],
  hours: number,
): Promise<Map<number, string>> {
  const made = to.map(({ personId, address }) => ({ person_id: personId, address, ...makeToken() }));
  const stored = made.map(({ person_id, address, hash }) => ({ person_id, address, hash }));
  await db.execute(sql`
    insert into one_time_link (hash, person_id, ends_at, by_letter, address)
    select hash, person_id, now() + make_interval(secs => ${hours * 3600}::int), true, address
    from jsonb_to_recordset(${JSON.stringify(stored)}::jsonb) as r(hash text, person_id bigint, address text)`);
  return new Map(made.map(({ person_id, token }) => [person_id, token]));
}
