import { sql } from 'drizzle-orm';
import { dropOldRequests } from './changes/outside-request.ts';
import type { Database } from './database/connect.ts';
import { dropOldPastDays } from './progress/past-days.ts';
import { dropOldFiles } from './entry/roster-files.ts';

/**
 * Nothing grows for ever: what each table keeps, and for how long (docs/guide.md has the same list). Results, statements and the
 * log stay as long as what they are about.
 */
export const kept = {
  letter: { days: 90, of: sql`state <> 'waiting' and made_at` },
  received_mail: { days: 30, of: sql`received_at` },
  job: { days: 30, of: sql`ended_at` },
  made_file: { days: 1, of: sql`made_at` },
  launch: { days: 1, of: sql`ends_at` },
  one_time_link: { days: 30, of: sql`ends_at` },
  address_link: { days: 30, of: sql`ends_at` },
  confirm_link: { days: 7, of: sql`ends_at` },
  course_feed: { days: 7, of: sql`at` },
  sign_in_trouble: { days: 14, of: sql`at` },
  standing_settled: { days: 1, of: sql`at` },
  day_turn: { days: 400, of: sql`done_at` },
} as const;

/** Deletes what is past its time. Any number of processes may; each statement is by itself. */
export async function sweep(db: Database): Promise<void> {
  for (const [table, { days, of }] of Object.entries(kept))
    await db.execute(sql`delete from ${sql.identifier(table)} where ${of} < now() - make_interval(days => ${days}::int)`);
  await dropOldFiles(db);
  await dropOldRequests(db);
  await dropOldPastDays(db);
}
