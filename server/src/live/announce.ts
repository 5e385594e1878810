import type { LiveTopic } from '@gate-roster/contract';
import { sql } from 'drizzle-orm';
import type { Queryable } from '../database/connect.ts';

/** What is said when something changed: about which groups, never what. */
export interface Announcement {
  topics: LiveTopic[];
  /** Groups that were touched; one that stands for its branch is enough. */
  groups: number[];
  /** With `progress`: whose; with `session`: whose streams end. */
  personId?: number;
}

export const channel = 'gate_roster';

/** Said to all server processes when the transaction commits. */
export async function announce(db: Queryable, announcement: Announcement): Promise<void> {
  await db.execute(sql`select pg_notify(${channel}, ${JSON.stringify({ ...announcement, groups: announcement.groups.slice(0, 500) })})`);
}
