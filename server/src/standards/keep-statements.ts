import { joinStatement } from '@gate-roster/core';
import { sql } from 'drizzle-orm';
import { ids, iso, maybeRow, type Queryable, type Transaction } from '../database/connect.ts';

/** A statement in two parts (core, partStatement), and whom it is about; null: the source itself, of whom nothing is personal. */
export interface SaidStatement {
  personId: number | null;
  plain: Record<string, unknown>;
  personal: Record<string, unknown>;
}

/** Keeps what was said, its personal part apart. */
export async function keepStatements(
  tx: Transaction,
  sourceId: number,
  list: readonly { id: string; said: SaidStatement | null }[],
  now: Date,
): Promise<void> {
  const said = list.flatMap(({ id, said: each }) =>
    each ? [{ id, person: each.personId, plain: each.plain, personal: each.personal }] : [],
  );
  if (said.length === 0) return;
  const plain = JSON.stringify(said.map(({ id, person, plain: part }) => ({ id, person, said: part })));
  await tx.execute(sql`
    insert into statement (source_id, id, received_at, person_id, said)
    select ${sourceId}, r.id, ${now.toISOString()}, r.person, r.said from jsonb_to_recordset(${plain}::jsonb) as r(id uuid, person bigint, said jsonb)`);
  const personal = JSON.stringify(said.flatMap(({ id, person, personal: part }) => (person === null ? [] : [{ id, person, said: part }])));
  await tx.execute(sql`
    insert into statement_personal (source_id, id, person_id, said)
    select ${sourceId}, r.id, r.person, r.said from jsonb_to_recordset(${personal}::jsonb) as r(id uuid, person bigint, said jsonb)`);
}

export interface KeptStatement {
  statement: Record<string, unknown>;
  receivedAt: string;
  isVoided: boolean;
}

/** One statement that a source sent, with its actor while the person stands; without personal parts once they were erased. */
export async function keptStatement(db: Queryable, sourceId: number, id: string, publicUrl: string): Promise<KeptStatement | null> {
  const found = await maybeRow<{
    plain: Record<string, unknown>;
    personal: Record<string, unknown> | null;
    personId: number | null;
    receivedAt: string;
    isVoided: boolean;
  }>(
    db,
    sql`
    select s.said as plain, p.said as personal, s.person_id as "personId", s.received_at as "receivedAt",
      exists (select 1 from report_void v where v.source_id = s.source_id and v.report_id = s.id) and s.said #>> '{object,objectType}' is distinct from 'StatementRef' as "isVoided"
    from report r join statement s on s.source_id = r.source_id and s.id = r.id and s.received_at = r.received_at
    left join statement_personal p on p.source_id = s.source_id and p.id = s.id
    where r.source_id = ${sourceId} and r.id = ${id}`,
  );
  if (!found) return null;
  // A number is all that is left of somebody who was erased.
  const nobody = { actor: { objectType: 'Agent', account: { homePage: publicUrl, name: `learner ${found.personId ?? ''}` } } };
  return {
    statement: joinStatement(found.plain, found.personal ?? (found.personId === null ? {} : nobody)),
    receivedAt: iso(found.receivedAt),
    isVoided: found.isVoided,
  };
}

/** What was said of an account that joins another is said of that one. */
export async function statementsFollow(tx: Transaction, personId: number, goneId: number): Promise<void> {
  for (const table of ['report', 'statement', 'statement_personal'])
    await tx.execute(sql`update ${sql.identifier(table)} set person_id = ${personId} where person_id = ${goneId}`);
}

/** What was said of enrolments that belong to another again. */
export async function statementsOfEnrolments(tx: Transaction, enrolmentIds: readonly number[]): Promise<void> {
  const theirs = sql`r.enrolment_id = e.id and e.id = any(${ids(enrolmentIds)})`;
  for (const table of ['statement', 'statement_personal'])
    await tx.execute(sql`
      update ${sql.identifier(table)} s set person_id = e.person_id from report r, enrolment e where r.source_id = s.source_id and r.id = s.id and ${theirs} and r.person_id <> e.person_id`);
  await tx.execute(sql`update report r set person_id = e.person_id from enrolment e where ${theirs}`);
}
