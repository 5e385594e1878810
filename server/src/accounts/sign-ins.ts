import { sql } from 'drizzle-orm';
import { ids, planFor, type Queryable, rows } from '../database/connect.ts';

/**
 * Cards, links and words of these people sign nobody in any more. Letters that ask about the address go on: a person who got into the
 * account must not be able to keep its owner out.
 * @param butNew Those that this very transaction made stay.
 */
export async function dropSignIns(db: Queryable, people: readonly number[], { butNew = false } = {}): Promise<void> {
  if (people.length === 0) return;
  const old = butNew ? sql`made_at < now()` : sql`true`;
  await db.execute(sql`delete from one_time_link where person_id = any(${ids(people)}) and used_at is null and ${old}`);
  await db.execute(sql`delete from session where sess ? 'card' and (sess ->> 'personId')::bigint = any(${ids(people)})`);
}

/** Of people who come into groups, the cards and links that a leader made who does not manage people there. */
export async function dropOthersSignIns(db: Queryable, membershipRows: readonly number[]): Promise<void> {
  if (membershipRows.length === 0) return;
  await rows(
    db,
    sql`
    delete from one_time_link l using membership m, person maker
    where m.row_id = any(${ids(membershipRows)}) and l.person_id = m.person_id and l.used_at is null and maker.id = l.made_by and maker.role = 'none'
      and not exists (select 1 from group_branch b join leadership x on x.group_id = b.ancestor_id and x.person_id = maker.id and x.until_at is null and 'managePeople' = any(x.powers) where b.group_id = m.group_id)`,
    planFor(membershipRows.length),
  );
}
