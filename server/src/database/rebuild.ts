import { type Day, dayOfMoment } from '@gate-roster/core';
import { eq, sql } from 'drizzle-orm';
import { refreshEntitlements } from '../access/entitlements.ts';
import { withRosterLock } from '../changes/roster-lock.ts';
import { rebuildBranches } from '../groups/branches.ts';
import { rebuildSetBranches, refreshSets } from '../people/membership-sets.ts';
import { forgetStandings } from '../progress/standings.ts';
import { type Database, firstOf, type Queryable, type Transaction } from './connect.ts';
import * as tables from './schema.ts';

/** Raised whenever what is derived gets other columns or another meaning. */
const derivedVersion = 5;

/** Was everything that is derived made by this version of the code? */
export const isDerivedCurrent = async (db: Queryable): Promise<boolean> =>
  (await firstOf(
    db
      .select({ version: tables.derivedVersion.version })
      .from(tables.derivedVersion)
      .where(eq(tables.derivedVersion.version, derivedVersion)),
  )) !== null;

/** Makes everything derived from scratch when another version of the code made it. Of several processes one does it, and the others wait. */
export async function rebuildWhenOld(db: Database, now: Date): Promise<void> {
  const site = await firstOf(db.select({ time_zone: tables.organisation.timeZone }).from(tables.organisation));
  if (!site || (await isDerivedCurrent(db))) return;
  await withRosterLock(db, 'alone', async (tx) => {
    if (!(await isDerivedCurrent(tx))) await rebuildDerived(tx, dayOfMoment(now, site.time_zone));
  });
}

/** Makes everything that is derived from scratch from the truth; tallies are cached again as soon as somebody looks for them. Reads and writes wait meanwhile. */
export async function rebuildDerived(tx: Transaction, today: Day): Promise<void> {
  // At a million people some steps take minutes, in the database and here.
  await tx.execute(sql`set local statement_timeout = 0`);
  await tx.execute(sql`set local idle_in_transaction_session_timeout = 0`);
  await tx.execute(sql`lock table person, membership_set, entitlement in exclusive mode`);
  await rebuildBranches(tx);
  await rebuildSetBranches(tx);
  const { count } = await refreshSets(tx, 'all', today);
  await count();
  await refreshEntitlements(tx, { sets: 'all', persons: 'all', courses: 'all' });
  await forgetStandings(tx);
  await tx.execute(sql`delete from derived_version`);
  await tx.insert(tables.derivedVersion).values({ version: derivedVersion });
  await tx.execute(
    sql`analyze group_branch, membership_set, membership_set_group, set_in_branch, person, entitlement, entitlement_due, enrolment, membership, personal`,
  );
}
