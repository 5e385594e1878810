import type { Filter, RuleAct, RuleWhen } from '@gate-roster/core';
import { sql, type SQL } from 'drizzle-orm';
import { type Queryable, rows } from '../database/connect.ts';

export interface StandingRule {
  id: number;
  row_id: number;
  group_id: number;
  name: string;
  when: RuleWhen;
  filter: Filter;
  then: RuleAct[];
  asks_first: boolean;
  is_on: boolean;
  /** Exact to the microsecond, for comparing in the database. */
  on_since: string | null;
  made_by: number;
  maker_branch_id: number | null;
  paused_for: 'powers' | 'gone' | null;
}

/** Rules as they stand, under a condition on `v`: from the root down, then by age, which is the order in which they act. */
export const standingRules = (db: Queryable, condition: SQL): Promise<StandingRule[]> =>
  rows<StandingRule>(
    db,
    sql`
    select v.rule_id as id, v.row_id, v.group_id, v.name, v.set_off as "when", v.filter, v.acts as "then", v.asks_first, v.is_on, v.on_since::text as on_since, v.made_by, v.maker_branch_id, r.paused_for
    from rule_version v join rule r on r.id = v.rule_id join group_now g on g.id = v.group_id
    where v.until_at is null and ${condition}
    order by (select count(*) from group_branch b where b.group_id = v.group_id), v.rule_id`,
  );
