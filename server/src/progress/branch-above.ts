import type { BranchAbove } from '@gate-roster/contract';
import { emptyTally, type Filter, may } from '@gate-roster/core';
import { sql } from 'drizzle-orm';
import { type Database, rows } from '../database/connect.ts';
import type { FilterReader } from '../filters/conditions.ts';
import { reportFigures } from './report.ts';

/** What the branch above a group did in the same weeks, as far as the reader sees progress there. */
export async function branchAbove(db: Database, reader: FilterReader, groupId: number, filter: Filter): Promise<BranchAbove> {
  const path = await rows<{ id: number; name: string }>(
    db,
    sql`select g.id, g.name from group_branch b join group_now g on g.id = b.ancestor_id where b.group_id = ${groupId} and b.depth > 0 order by b.depth desc`,
  );
  const above = path.at(-1);
  if (!above || !may(reader.actor, 'seeProgress', { path: path.map(({ id }) => id) })) return null;
  const { totals, weeks } = await reportFigures(db, reader, { groupId: above.id, withSubgroups: true, filter }, [above.id]);
  const { all, exempt } = totals.get(above.id) ?? emptyTally;
  return { ...above, enrolments: all - exempt, weeks };
}
