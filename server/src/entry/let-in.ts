import type { Day } from '@gate-roster/core';
import { and, eq, isNull, sql } from 'drizzle-orm';
import type { PlanContext, Touched } from '../changes/plan.ts';
import type { ChangeWriter } from '../changes/writer.ts';
import { firstOf, type Transaction } from '../database/connect.ts';
import * as tables from '../database/schema.ts';
import { ProblemError } from '../http/problem.ts';
import { beginTags, ensureTags } from '../people/tagging.ts';
import type { StandingCode } from './codes.ts';

/* What every way through a code ends with: by itself, by a decision, or when it is paid. */

/** Puts somebody where the code opens, with its tags; by a leaders' code, in charge. */
export async function letIn(
  tx: Transaction,
  writer: ChangeWriter,
  code: Pick<StandingCode, 'id' | 'powers' | 'tags'>,
  groupIds: readonly number[],
  personId: number,
  today: Day,
): Promise<Touched> {
  if (code.powers === null) {
    await writer.beginMemberships(
      groupIds.map((groupId) => ({ personId, groupId, firstDay: null, lastDay: null })),
      'join code',
      code.id,
    );
  } else
    await writer.begin(
      'leadership',
      groupIds.map((groupId) => ({ person_id: personId, group_id: groupId, powers: code.powers, first_day: today })),
    );
  if (code.tags.length > 0 && groupIds[0] !== undefined) {
    const tags = await ensureTags(tx, writer, code.tags, groupIds[0]);
    await beginTags(
      tx,
      writer,
      [...tags.values()].map((tagId) => ({ personId, tagId })),
    );
  }
  return { people: [personId], sessions: [personId], entry: true };
}

/** Counts one use, as the last thing: others who come by the same code at the same time wait from here on. @throws ProblemError `code-over` when it is full. */
export async function useUp(tx: Transaction, { id, use_limit }: Pick<StandingCode, 'id' | 'use_limit'>): Promise<void> {
  const used = await tx.execute(
    sql`update join_code set uses = uses + 1 where id = ${id} and (${use_limit}::int is null or uses < ${use_limit}::int)`,
  );
  if (used.rowCount !== 1) throw new ProblemError('code-over');
}

/** The account works from now on, under the ID number that was given, unless that is somebody's. */
export async function beginAccount(
  tx: Transaction,
  writer: ChangeWriter,
  { tree }: Pick<PlanContext, 'tree'>,
  { person_id, group_id, id_number }: { person_id: number; group_id: number; id_number: string | null },
): Promise<void> {
  const [state] = await tx
    .select({ row_id: tables.personState.rowId })
    .from(tables.personState)
    .where(and(eq(tables.personState.personId, person_id), isNull(tables.personState.untilAt)));
  if (state) await writer.replace('person state', [{ rowId: state.row_id, values: { state: 'active' } }]);
  if (id_number === null) return;
  const issuer = tree.path(group_id)[0] ?? group_id;
  const [row] = await tx
    .select({ row_id: tables.personalNow.rowId })
    .from(tables.personalNow)
    .where(and(eq(tables.personalNow.personId, person_id), isNull(tables.personalNow.idNumber)));
  const taken = await firstOf(
    tx
      .select({ rowId: tables.personalNow.rowId })
      .from(tables.personalNow)
      .where(and(eq(tables.personalNow.idIssuer, issuer), eq(tables.personalNow.idNumber, id_number))),
  );
  if (row && !taken) await writer.replace('personal', [{ rowId: row.row_id, values: { id_number, id_issuer: issuer } }]);
}
