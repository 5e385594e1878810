import { dayOfMoment } from '@gate-roster/core';
import { sql } from 'drizzle-orm';
import { type Database, maybeRow } from './database/connect.ts';
import { isDerivedCurrent } from './database/rebuild.ts';

/** May requests be sent here? What is derived is of this version, and the day has turned; an empty site has neither yet. */
export async function readiness(db: Database, now: Date): Promise<{ migrated: boolean; dayTurned: boolean }> {
  const site = await maybeRow<{ time_zone: string }>(db, sql`select time_zone from organisation`);
  if (!site) return { migrated: true, dayTurned: true };
  const turned = await maybeRow(db, sql`select 1 from day_turn where day = ${dayOfMoment(now, site.time_zone)}`);
  return { migrated: await isDerivedCurrent(db), dayTurned: turned !== null };
}
