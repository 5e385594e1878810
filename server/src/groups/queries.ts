import { type GroupId, type GroupNode, may, type Power, Tree } from '@gate-roster/core';
import { sql } from 'drizzle-orm';
import type { SignedIn } from '../accounts/actor.ts';
import { ids, type Queryable, rows } from '../database/connect.ts';
import { type Standing, standsNow } from '../database/history.ts';
import { cachedByStructure } from '../database/structure-cache.ts';
import { notFound } from '../http/problem.ts';

/** The whole tree, for the rules; a reader sees only what `may` allows. */
export const wholeTree = (db: Queryable): Promise<Tree> => cachedByStructure('tree', db, loadTree);

/** The tree as it stands, or as it once stood. */
export async function loadTree(db: Queryable, stands: Standing = standsNow): Promise<Tree> {
  return new Tree(
    await rows<GroupNode>(
      db,
      sql`select g.group_id as id, g.parent_id as "parentId", g.name, g.state, g.first_day as "firstDay", g.last_day as "lastDay" from group_version g where ${stands('g')} order by g.name collate people_order, g.group_id`,
    ),
  );
}

export interface PathStep {
  id: GroupId;
  name: string;
}

/**
 * The groups from the root down to this one.
 * @throws ProblemError `not-found` when there is no such group, or the actor may not do that there.
 */
export async function pathTo(
  db: Queryable,
  actor: SignedIn,
  groupId: GroupId,
  act: Power | 'see' | 'administer' = 'see',
): Promise<PathStep[]> {
  const path = await rows<PathStep>(
    db,
    sql`
    select g.id, g.name from group_branch b join group_now g on g.id = b.ancestor_id where b.group_id = ${groupId} order by b.depth desc`,
  );
  if (path.length === 0 || !may(actor, act, { path: path.map(({ id }) => id) })) throw notFound();
  return path;
}

/** Of a path, what the actor may see: a leader's begins at the top of their own branch. */
export function seenPath(actor: SignedIn, path: readonly PathStep[]): PathStep[] {
  const from = path.findIndex((_, index) => may(actor, 'see', { path: path.slice(0, index + 1).map(({ id }) => id) }));
  return path.slice(Math.max(0, from));
}

/** All groups of some branches; null: of the whole tree. */
export async function groupsInBranches(db: Queryable, tops: readonly GroupId[] | null): Promise<Set<GroupId>> {
  const found = await rows<{ id: GroupId }>(
    db,
    tops === null
      ? sql`select id from groups`
      : sql`select distinct group_id as id from group_branch where ancestor_id = any(${ids(tops)})`,
  );
  return new Set(found.map(({ id }) => id));
}
