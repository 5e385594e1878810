import { branchDays, type Placement } from '@gate-roster/core';
import { sql } from 'drizzle-orm';
import { ids, isAmong, type Queryable, rows, type Transaction } from '../database/connect.ts';
import * as tables from '../database/schema.ts';

/** Makes the closure from scratch from the parents. */
export async function rebuildBranches(tx: Transaction): Promise<void> {
  await tx.execute(sql`delete from group_branch`);
  await insertPaths(tx, null);
  await refreshBranchDays(tx, null);
}

/** The closure of groups whose place is new, or that are gone or back, with all below them; and of the sets that touch them. */
export async function refreshBranches(tx: Transaction, placed: readonly number[]): Promise<void> {
  const affected = (
    await rows<{ id: number }>(
      tx,
      sql`select group_id as id from group_branch where ancestor_id = any(${ids(placed)}) union select unnest(${ids(placed)})`,
    )
  ).map(({ id }) => id);
  const paths = (list: readonly Path[]): Set<string> => new Set(list.map(({ ancestorId, groupId }) => `${ancestorId}/${groupId}`));
  const before = await tx
    .delete(tables.groupBranch)
    .where(isAmong(tables.groupBranch.groupId, affected))
    .returning({ ancestorId: tables.groupBranch.ancestorId, groupId: tables.groupBranch.groupId });
  const after = await insertPaths(tx, affected);
  await refreshBranchDays(tx, affected);
  // Of a branch that moves most sets stay where they were: in its own groups, and at the root.
  const [was, is] = [paths(before), paths(after)];
  const otherwise = new Set(
    [...before, ...after].flatMap(({ ancestorId, groupId }) => {
      const path = `${ancestorId}/${groupId}`;
      return was.has(path) === is.has(path) ? [] : [ancestorId];
    }),
  );
  await tx.execute(sql`
    with concerned as materialized (select distinct set_id from membership_set_group where group_id = any(${ids(affected)})),
    wanted as materialized (
      select distinct b.ancestor_id, g.set_id from concerned c join membership_set_group g on g.set_id = c.set_id join group_branch b on b.group_id = g.group_id
      where b.ancestor_id = any(${ids(otherwise)})
    ),
    gone as (
      delete from set_in_branch s using concerned c
      where s.set_id = c.set_id and s.ancestor_id = any(${ids(otherwise)}) and not exists (select 1 from wanted w where w.ancestor_id = s.ancestor_id and w.set_id = s.set_id)
    )
    insert into set_in_branch (ancestor_id, set_id)
    select w.ancestor_id, w.set_id from wanted w
    where not exists (select 1 from set_in_branch s where s.ancestor_id = w.ancestor_id and s.set_id = w.set_id)`);
}

/** One line of the closure: a group and one of those above it, or itself. */
interface Path {
  ancestorId: number;
  groupId: number;
}

/** People who are in groups of these branches now. */
export async function membersBelow(db: Queryable, tops: readonly number[]): Promise<number[]> {
  if (tops.length === 0) return [];
  const found = await rows<{ id: number }>(
    db,
    sql`select distinct m.person_id as id from membership m join group_branch b on b.group_id = m.group_id where b.ancestor_id = any(${ids(tops)}) and m.until_at is null`,
  );
  return found.map(({ id }) => id);
}

/** Membership sets of which somebody is in these branches. */
export async function setsInBranches(db: Queryable, tops: readonly number[]): Promise<number[]> {
  if (tops.length === 0) return [];
  const found = await db
    .selectDistinct({ set_id: tables.setInBranch.setId })
    .from(tables.setInBranch)
    .where(isAmong(tables.setInBranch.ancestorId, tops));
  return found.map(({ set_id }) => set_id);
}

async function insertPaths(tx: Transaction, groups: readonly number[] | null): Promise<Path[]> {
  return rows<Path>(
    tx,
    sql`
    with recursive up as (
      select id as group_id, id as ancestor_id, parent_id, 0 as depth from group_now where ${groups === null ? sql`true` : sql`id = any(${ids(groups)})`}
      union all
      select up.group_id, g.id, g.parent_id, up.depth + 1 from up join group_now g on g.id = up.parent_id
    )
    insert into group_branch (ancestor_id, group_id, depth) select ancestor_id, group_id, depth from up returning ancestor_id as "ancestorId", group_id as "groupId"`,
  );
}

/** On which days groups lay below which others, from the whole history of the tree; `groups` null: of all. */
async function refreshBranchDays(tx: Transaction, groups: readonly number[] | null): Promise<void> {
  await tx.execute(sql`delete from branch_day where ${groups === null ? sql`true` : sql`group_id = any(${ids(groups)})`}`);
  const placements = await rows<Placement>(
    tx,
    sql`
    select v.group_id as "groupId", v.parent_id as "parentId", (v.from_at at time zone o.time_zone)::date as "from", (v.until_at at time zone o.time_zone)::date as until
    from group_version v cross join organisation o order by v.row_id`,
  );
  const found = branchDays(placements, groups ?? new Set(placements.map(({ groupId }) => groupId)));
  await tx.execute(sql`
    insert into branch_day (ancestor_id, group_id, from_day, until_day) select "ancestorId", "groupId", "from", until
    from jsonb_to_recordset(${JSON.stringify(found)}::jsonb) as r("ancestorId" bigint, "groupId" bigint, "from" date, until date)`);
}
