import { randomUUID } from 'node:crypto';
import { sql } from 'drizzle-orm';
import { ids, type Queryable } from '../database/connect.ts';
import { summaryOf } from './plan.ts';

/** Acts that change no roster and so cannot be undone, but stand in the log. */
export const notedActs = [
  'edit-site',
  'see-as',
  'send-sign-in',
  'one-time-sign-in',
  'end-sessions',
  'export-person',
  'print-cards',
  'let-in-now',
  'remind',
  'hide-answer',
  'close-thread',
] as const;
export type NotedAct = (typeof notedActs)[number];

/** Kinds that nobody undoes: acts, and orders, which are given up, what was paid, of which a credit note takes back what is free, and ways in that were paid or given up. */
export const neverUndone: readonly string[] = [
  ...notedActs,
  'order-seats',
  'order-renewal',
  'decide-order',
  'give-up-order',
  'credit-order',
  'seats-paid',
  'join-paid',
  'join-given-up',
];

/** Puts an act on somebody's account into the log. */
export async function noteAct(
  db: Queryable,
  /** null: the application, by itself. */
  actorId: number | null,
  kind: NotedAct,
  people: number | readonly number[],
  groups: readonly number[],
): Promise<void> {
  const about = typeof people === 'number' ? [people] : people;
  const summary = summaryOf({ groups: groups.slice(0, 3), people: about.slice(0, 3), counts: { people: about.length } });
  await db.execute(sql`
    with made as (
      insert into change_log (request_id, kind, actor_id, summary)
      values (${randomUUID()}, ${kind}, ${actorId}, ${JSON.stringify(summary)}::jsonb) returning id
    ), about as (
      insert into change_subject (change_id, kind, person_id, after_row) select made.id, 'act', p, p from made, unnest(${ids(about)}) p
    )
    insert into change_group (change_id, group_id) select made.id, g from made, unnest(${ids(new Set(groups))}) g`);
}
