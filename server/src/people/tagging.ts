import { nameKey, tidyName } from '@gate-roster/core';
import { and, isNull, sql } from 'drizzle-orm';
import type { ChangeWriter } from '../changes/writer.ts';
import { isAmong, onlyOne, rows, texts, type Transaction } from '../database/connect.ts';
import * as tables from '../database/schema.ts';

const tagLock = 7_401_006;

/**
 * Tags by name, as a branch has them: its own, or of a group above it; the nearest wins. Missing ones are made for the branch.
 * @returns Ids by name key.
 */
export async function ensureTags(
  tx: Transaction,
  writer: ChangeWriter,
  names: readonly string[],
  branch: number,
  isLocked = false,
): Promise<Map<string, number>> {
  const wanted = new Map(names.map((name) => [nameKey(name), tidyName(name)]));
  const found = await rows<{ id: number; name_key: string }>(
    tx,
    sql`
    select t.id, t.name_key from tag_now t join group_branch b on b.ancestor_id = t.branch_id and b.group_id = ${branch}
    where t.name_key = any(${texts(wanted.keys())}) order by b.depth desc`,
  );
  // Tags are made by one at a time: two files may bring the same new one.
  if (found.length < wanted.size && !isLocked) {
    await tx.execute(sql`select pg_advisory_xact_lock(${tagLock})`);
    return ensureTags(tx, writer, names, branch, true);
  }
  const known = new Map(found.map(({ id, name_key }) => [name_key, id]));
  for (const [key, name] of wanted) {
    if (known.has(key)) continue;
    const { id } = await onlyOne(tx.insert(tables.tag).values({ branchId: branch }).returning({ id: tables.tag.id }));
    await writer.begin('tag', [{ tag_id: id, branch_id: branch, name, name_key: key }]);
    known.set(key, id);
  }
  return known;
}

/** Tags that people do not have yet. */
export async function beginTags(
  tx: Transaction,
  writer: ChangeWriter,
  list: readonly { personId: number; tagId: number }[],
): Promise<void> {
  if (list.length === 0) return;
  const missing = await rows<{ person_id: number; tag_id: number }>(
    tx,
    sql`
    select distinct r."personId" as person_id, r."tagId" as tag_id from jsonb_to_recordset(${JSON.stringify(list)}::jsonb) as r("personId" bigint, "tagId" bigint)
    where not exists (select 1 from person_tag t where t.person_id = r."personId" and t.tag_id = r."tagId" and t.until_at is null)`,
  );
  await writer.begin('person tag', missing);
}

/** Rows in which people have these tags. */
export async function tagRows(tx: Transaction, personIds: readonly number[], tagIds: readonly number[]): Promise<number[]> {
  return (
    await tx
      .select({ row_id: tables.personTag.rowId })
      .from(tables.personTag)
      .where(and(isNull(tables.personTag.untilAt), isAmong(tables.personTag.personId, personIds), isAmong(tables.personTag.tagId, tagIds)))
  ).map(({ row_id }) => row_id);
}
