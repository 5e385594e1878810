import type { Day } from '@gate-roster/core';
import { sql } from 'drizzle-orm';
import { refreshEntitlements } from '../access/entitlements.ts';
import { rebuildBranches } from '../groups/branches.ts';
import { rebuildSetBranches, refreshSets } from '../people/membership-sets.ts';
import { forgetStandings } from '../progress/standings.ts';
import type { Transaction } from './connect.ts';

/** Makes everything that is derived anew from the truth; standings are kept again as soon as somebody looks for them. Reads and writes wait meanwhile. */
export async function rebuildDerived(tx: Transaction, today: Day): Promise<void> {
  await tx.execute(sql`lock table person, membership_set, entitlement in exclusive mode`);
  await rebuildBranches(tx);
  await rebuildSetBranches(tx);
  await refreshSets(tx, 'all', today);
  await refreshEntitlements(tx, { sets: 'all', persons: 'all', courses: 'all' });
  await forgetStandings(tx);
  await tx.execute(
    sql`analyze group_branch, membership_set, membership_set_group, set_in_branch, person, entitlement, entitlement_due, enrolment, membership, personal`,
  );
}
