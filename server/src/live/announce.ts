import type { LiveTopic } from '@gate-roster/contract';
import { sql } from 'drizzle-orm';
import type { Tree } from '@gate-roster/core';
import { type Queryable, texts } from '../database/connect.ts';
import { wholeTree } from '../groups/queries.ts';

/** What is said when something changed: about which groups, never what. */
export interface Announcement {
  topics: LiveTopic[];
  /** Groups that were touched; one that stands for its branch is enough. */
  groups: number[];
  /** With `progress`: whose; with `session`: whose streams end. */
  personId?: number;
}

export const channel = 'gate_roster';

/** PostgreSQL takes 8,000 bytes at once. */
const mostGroups = 500;

/** Said to all server processes when the transaction commits. Of very many groups, those above that have them in common. */
export const announce = (db: Queryable, announcement: Announcement): Promise<void> => announceAll(db, [announcement]);

/** Several at once. */
export async function announceAll(db: Queryable, list: readonly Announcement[]): Promise<void> {
  if (list.length === 0) return;
  const tree = list.some(({ groups }) => groups.length > mostGroups) ? await wholeTree(db) : null;
  const said = list.map((each) =>
    JSON.stringify(tree && each.groups.length > mostGroups ? { ...each, groups: commonAncestors(tree, each.groups) } : each),
  );
  await db.execute(sql`select pg_notify(${channel}, said) from unnest(${texts(said)}) said`);
}

/** The deepest level of the tree at which few enough groups have all of these in their branches; a group that is gone is left out. */
export function commonAncestors(tree: Tree, groups: readonly number[], most = mostGroups): number[] {
  const paths = groups.filter((id) => tree.has(id)).map((id) => tree.path(id));
  for (let level = Math.max(0, ...paths.map(({ length }) => length)) - 1; level >= 0; level--) {
    const at = new Set(paths.flatMap((path) => path[Math.min(level, path.length - 1)] ?? []));
    if (at.size <= most) return [...at];
  }
  return [];
}
