import { branchesWith, type Day } from '@gate-roster/core';
import { sql } from 'drizzle-orm';
import { historySince } from '../access/world-at.ts';
import type { SignedIn } from '../accounts/actor.ts';
import { type Database, ids } from '../database/connect.ts';
import { type FilterReader, filterReader } from '../filters/conditions.ts';
import type { Deps } from '../http/deps.ts';
import { ProblemError } from '../http/problem.ts';

/** Where a report is read: today's tables or those of a past day, by a reader whose today is that day. */
export interface AskedDay {
  db: Database;
  reader: FilterReader;
}

/**
 * What a leader may know stays what it is today. People who are in none of their groups any more are counted, and not named.
 * @param day Undefined: today.
 * @throws ProblemError `bad-request` for a day to come, or before the first of which anything is known.
 */
export async function askedOn(
  { db, pastDays, columns }: Pick<Deps, 'db' | 'pastDays' | 'columns'>,
  actor: SignedIn,
  day?: Day,
): Promise<AskedDay> {
  const reader = await filterReader(db, actor, columns);
  if (day === undefined || day === actor.today) return { db, reader };
  const since = await historySince(db, actor);
  if (day > actor.today || day < since)
    throw new ProblemError('bad-request', { where: [{ place: 'query.day', what: `From ${since} to ${actor.today}` }] });
  const tops = branchesWith(actor, 'see');
  const named =
    tops === null
      ? sql`true`
      : sql`exists (select 1 from public.membership m join public.group_branch b on b.group_id = m.group_id where m.person_id = p.id and m.until_at is null and b.ancestor_id = any(${ids(tops)}))`;
  const past = await pastDays.at(day, actor.timeZone);
  return { db: past.db, reader: { ...reader, columns: null, kept: past.kept, actor: { ...actor, today: day }, named } };
}
