import { sql } from 'drizzle-orm';
import type { PersonLearner } from '../access/load-rules.ts';
import { ids, isAmong, rows } from '../database/connect.ts';
import * as tables from '../database/schema.ts';
import type { PlanContext } from './plan.ts';
import type { Subject } from './writer.ts';

/* People as they will be when what a change did to them is undone. */

/** Memberships that come back, with their days. */
export async function membershipsOf(
  { db }: PlanContext,
  rowIds: readonly number[],
): Promise<(PersonLearner['memberships'][number] & { personId: number })[]> {
  return db
    .select({
      personId: tables.membership.personId,
      groupId: tables.membership.groupId,
      firstDay: tables.membership.firstDay,
      lastDay: tables.membership.lastDay,
    })
    .from(tables.membership)
    .where(isAmong(tables.membership.rowId, rowIds));
}

/** The states of their accounts that come back. */
export async function statesBefore(
  { db }: PlanContext,
  subjects: readonly Subject[],
): Promise<Map<number, Pick<PersonLearner, 'active' | 'firstDay' | 'lastDay' | 'ended'>>> {
  const found = await rows<{ id: number; active: boolean; ended: boolean; firstDay: string | null; lastDay: string | null }>(
    db,
    sql`
    select person_id as id, state = 'active' as active, state = 'ended' as ended, first_day as "firstDay", last_day as "lastDay" from person_state
    where row_id = any(${ids(subjects.flatMap(({ kind, before_row }) => (kind === 'person state' ? (before_row ?? []) : [])))})`,
  );
  return new Map(found.map(({ id, ...state }) => [id, state]));
}
