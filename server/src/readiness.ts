import { dayOfMoment } from '@gate-roster/core';
import { eq } from 'drizzle-orm';
import { type Database, firstOf } from './database/connect.ts';
import * as tables from './database/schema.ts';
import { isDerivedCurrent } from './database/rebuild.ts';

/** May requests be sent here? What is derived is of this version, and the day has turned; an empty site has neither yet. */
export async function readiness(db: Database, now: Date): Promise<{ migrated: boolean; dayTurned: boolean }> {
  const site = await firstOf(db.select({ time_zone: tables.organisation.timeZone }).from(tables.organisation));
  if (!site) return { migrated: true, dayTurned: true };
  const turned = await firstOf(
    db
      .select({ day: tables.dayTurn.day })
      .from(tables.dayTurn)
      .where(eq(tables.dayTurn.day, dayOfMoment(now, site.time_zone))),
  );
  return { migrated: await isDerivedCurrent(db), dayTurned: turned !== null };
}
