import { sql, type SQL } from 'drizzle-orm';
import { ids } from '../database/connect.ts';
import { mostBounces } from '../letters/post.ts';
import { isYoung } from '../letters/write-letters.ts';
import { scopeOf } from '../progress/tallies.ts';

/** People `p` who are counted in one of these groups now. */
export const inGroups = (groupIds: readonly number[], withSubgroups: boolean): SQL =>
  sql`(p.counted and p.set_id in (select set_id from (${scopeOf(groupIds, withSubgroups)}) scope))`;

/** People `p` whom the message `v` reaches now: those of its groups, or those it was written to by name. */
export const reachedBy = (v: { messageId: number; toGroups: readonly number[] | null; withSubgroups: boolean }): SQL =>
  v.toGroups === null
    ? sql`exists (select 1 from message_reader c where c.message_id = ${v.messageId} and c.person_id = p.id and c.is_chosen)`
    : inGroups(v.toGroups, v.withSubgroups);

/** How a letter finds `p` (with personal values `n`): a guardian for a young learner, a confirmed address, a question first, or not at all. */
export const wayOfLetter = sql`case
  when exists (select 1 from address_bounce o where o.in_a_row >= ${mostBounces} and o.address = case when ${isYoung(sql`p.id`)} then n.guardian_email else n.email end) then 'none'
  when ${isYoung(sql`p.id`)} then case when n.guardian_email is null then 'none' else 'guardian' end
  when n.confirmed_email is not null then 'letter'
  when n.email is not null and not n.address_failed then 'asked'
  else 'none' end`;

/** The standing messages `v` that reach a person now, or that they have done or answered. */
export const writtenTo = (personId: number, today: string): SQL => sql`(
  exists (select 1 from message_reader r where r.message_id = v.message_id and r.person_id = ${personId} and (r.is_chosen or r.done_at is not null or r.choices is not null))
  or exists (select 1 from message_answer a where a.message_id = v.message_id and a.person_id = ${personId})
  or exists (select 1 from membership m join group_branch b on b.group_id = m.group_id join person p on p.id = m.person_id
    where m.person_id = ${personId} and p.counted and m.until_at is null and coalesce(m.first_day <= ${today}, true) and coalesce(m.last_day >= ${today}, true)
      and b.ancestor_id = any(v.to_groups) and (v.with_subgroups or b.depth = 0))
)`;

/** Only these ids, as a condition on `p`. */
export const oneOf = (people: readonly number[]): SQL => sql`p.id = any(${ids(people)})`;
