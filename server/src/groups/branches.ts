import { sql } from 'drizzle-orm';
import type { Transaction } from '../database/connect.ts';

/** Makes the closure anew from the parents. */
export async function rebuildBranches(tx: Transaction): Promise<void> {
  await tx.execute(sql`delete from group_branch`);
  await tx.execute(sql`
    with recursive up as (
      select id as ancestor_id, id as group_id, 0 as depth from group_now
      union all
      select up.ancestor_id, g.id, up.depth + 1 from up join group_now g on g.parent_id = up.group_id
    )
    insert into group_branch select ancestor_id, group_id, depth from up`);
}
