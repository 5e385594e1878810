import { randomUUID } from 'node:crypto';
import { sql } from 'drizzle-orm';
import { ids, type Queryable } from '../database/connect.ts';
import { summaryOf } from './plan.ts';

/** Acts that change no roster and so cannot be undone, but stand in the log. */
export const notedActs = ['see-as', 'send-sign-in', 'one-time-sign-in', 'end-sessions', 'export-person'] as const;
export type NotedAct = (typeof notedActs)[number];

/** Puts an act on somebody's account into the log. */
export async function noteAct(db: Queryable, actorId: number, kind: NotedAct, personId: number, groups: readonly number[]): Promise<void> {
  await db.execute(sql`
    with made as (
      insert into change_log (request_id, kind, actor_id, summary)
      values (${randomUUID()}, ${kind}, ${actorId}, ${JSON.stringify(summaryOf({ groups: groups.slice(0, 3), people: [personId] }))}::jsonb) returning id
    ), about as (
      insert into change_subject (change_id, kind, person_id, after_row) select id, 'act', ${personId}::bigint, ${personId}::bigint from made
    )
    insert into change_group (change_id, group_id) select made.id, g from made, unnest(${ids(new Set(groups))}) g`);
}
