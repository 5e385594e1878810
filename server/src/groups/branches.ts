import { sql } from 'drizzle-orm';
import { ids, rows, type Transaction } from '../database/connect.ts';

/** Makes the closure anew from the parents. */
export async function rebuildBranches(tx: Transaction): Promise<void> {
  await tx.execute(sql`delete from group_branch`);
  await insertPaths(tx, null);
}

/** The closure of groups whose place is new, or that are gone or back, with all below them; and of the sets that touch them. */
export async function refreshBranches(tx: Transaction, placed: readonly number[]): Promise<void> {
  const affected = (
    await rows<{ id: number }>(
      tx,
      sql`select group_id as id from group_branch where ancestor_id = any(${ids(placed)}) union select unnest(${ids(placed)})`,
    )
  ).map(({ id }) => id);
  await tx.execute(sql`delete from group_branch where group_id = any(${ids(affected)})`);
  await insertPaths(tx, affected);
  await tx.execute(sql`
    delete from set_in_branch where set_id in (select set_id from membership_set_group where group_id = any(${ids(affected)}))`);
  await tx.execute(sql`
    insert into set_in_branch select distinct b.ancestor_id, g.set_id from membership_set_group g join group_branch b on b.group_id = g.group_id
    where g.set_id in (select set_id from membership_set_group where group_id = any(${ids(affected)}))`);
}

async function insertPaths(tx: Transaction, groups: readonly number[] | null): Promise<void> {
  await tx.execute(sql`
    with recursive up as (
      select id as group_id, id as ancestor_id, parent_id, 0 as depth from group_now where ${groups === null ? sql`true` : sql`id = any(${ids(groups)})`}
      union all
      select up.group_id, g.id, g.parent_id, up.depth + 1 from up join group_now g on g.id = up.parent_id
    )
    insert into group_branch (ancestor_id, group_id, depth) select ancestor_id, group_id, depth from up`);
}
