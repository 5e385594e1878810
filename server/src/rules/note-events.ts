import type { RuleOccasion } from '@gate-roster/core';
import { sql } from 'drizzle-orm';
import type { Queryable } from '../database/connect.ts';
import { ringForWork } from '../jobs/bell.ts';

/** Something that may set rules off: to a person, to a group’s people, or (neither) perhaps to everybody. */
export interface RuleEvent {
  personId?: number | null;
  groupId?: number | null;
  what: RuleOccasion;
}

/** Puts down what happened, for the rules that are on; they are asked when it has committed. */
export async function noteForRules(
  tx: Queryable,
  events: readonly RuleEvent[],
  { depth = 0, isQuiet = false, changeId = null }: { depth?: number; isQuiet?: boolean; changeId?: number | null } = {},
): Promise<void> {
  if (events.length === 0) return;
  const noted = await tx.execute(sql`
    insert into rule_event (person_id, group_id, what, depth, is_quiet, change_id)
    select distinct "personId", "groupId", what, ${depth}::smallint, ${isQuiet}::boolean, ${changeId}::bigint from jsonb_to_recordset(${JSON.stringify(events)}::jsonb) as r("personId" bigint, "groupId" bigint, what text)
    where exists (select 1 from rule_version v where v.until_at is null and v.is_on)`);
  if ((noted.rowCount ?? 0) > 0) await ringForWork(tx);
}
