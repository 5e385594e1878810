import type { Power } from '@gate-roster/core';
import { sql, type SQL } from 'drizzle-orm';

/** Who decides about what is asked in a group: of the nearest group up whose leaders may; of young learners' groups nobody is named. */
export const decidersOf = (groupId: SQL, power: Power): SQL => sql`
  (select coalesce(jsonb_agg(n.given_name || ' ' || n.family_name order by n.family_name collate people_order), '[]') from leadership l join personal_now n on n.person_id = l.person_id
    where l.until_at is null and ${power} = any(l.powers)
      and not exists (select 1 from group_branch y join group_now a on a.id = y.ancestor_id where y.group_id = ${groupId} and a.young_learners)
      and l.group_id = (select b.ancestor_id from group_branch b join leadership x on x.group_id = b.ancestor_id and x.until_at is null and ${power} = any(x.powers)
        where b.group_id = ${groupId} order by b.depth limit 1))`;
