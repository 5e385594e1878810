import type { Look } from '@gate-roster/contract';
import { sql } from 'drizzle-orm';
import PQueue from 'p-queue';
import { maybeActor, type SignedIn } from '../accounts/actor.ts';
import { type Database, ids, oneRow, type Queryable, type Transaction } from '../database/connect.ts';
import { ProblemError } from '../http/problem.ts';
import { horizonOf, markedSince } from '../progress/marks.ts';
import type { Plan } from './plan.ts';

/*
 * A change to a large branch takes long to work out. That is done before the roster lock is asked for, so that nobody waits for it, and
 * what was worked out is taken under the lock when nothing has changed since of what it speaks of. Changes that hold the lock alone raise
 * the roster version; the others only add people, seats and places in line, so that their numbers tell whether any came,
 * and who of the branch came into another group besides.
 */

/** A plan that was made ahead, with what was true then. */
export interface PlannedAhead {
  plan: Plan;
  seen: Look;
  within: readonly number[];
  today: string;
  situation: string;
  /** As `performance.now()` tells it. */
  madeAt: number;
  /** Work by transactions that had not ended then is not in it. */
  horizon: number;
}

/** So many at once in a process: the rest of its connections are for readers. */
const queue = new PQueue({ concurrency: 2 });

/** @returns Null when it cannot be made ahead; what is in its way is then said under the lock. */
export function planAhead(
  db: Database,
  actorId: number,
  now: () => Date,
  plan: (tx: Transaction, actor: SignedIn) => Promise<{ plan: Plan; seen: Look }>,
): Promise<PlannedAhead | null> {
  const make = (): Promise<PlannedAhead | null> =>
    db.transaction(
      async (tx) => {
        const madeAt = performance.now();
        const horizon = await horizonOf(tx);
        const actor = await maybeActor(tx, actorId, now());
        if (!actor) return null;
        const made = await plan(tx, actor);
        const { within } = made.plan;
        // A plan that does not say of whom it speaks cannot be held against what holds later.
        return within ? { ...made, within, today: actor.today, situation: await situationOf(tx, within), madeAt, horizon } : null;
      },
      // All of it is read as of one moment.
      { isolationLevel: 'repeatable read', accessMode: 'read only' },
    );
  return queue.add(make).catch((error: unknown) => {
    if (error instanceof ProblemError) return null;
    throw error;
  });
}

/**
 * Work of learners goes on without the roster lock, and may turn a status that the plan tells of. An older plan holds only if nobody of its
 * branches has worked since, and not for long.
 */
const freshMilliseconds = 5000;
const mostAgeMilliseconds = 60_000;

/** Would the plan be the same if it was made now? */
export async function stillHolds(
  tx: Transaction,
  actor: SignedIn,
  { within, today, situation, madeAt, horizon }: PlannedAhead,
): Promise<boolean> {
  const age = performance.now() - madeAt;
  if (age > mostAgeMilliseconds || actor.today !== today || (await situationOf(tx, within)) !== situation) return false;
  return age < freshMilliseconds || !(await hasWork(tx, within, horizon));
}

/** Has somebody of these branches worked since? */
const hasWork = async (tx: Transaction, within: readonly number[], horizon: number): Promise<boolean> =>
  (
    await oneRow<{ hasWork: boolean }>(
      tx,
      sql`select exists (select 1 from set_in_branch where ancestor_id = any(${ids(within)}) and set_id in (${markedSince(horizon)})) as "hasWork"`,
    )
  ).hasWork;

/** What a plan depends on, besides the day: who is in its branches now or later, in which set, and active or not. */
async function situationOf(db: Queryable, within: readonly number[]): Promise<string> {
  const found = await oneRow<{ situation: string }>(
    db,
    sql`
    select jsonb_build_array((select version from roster_version), (select max(row_id) from seat), (select max(row_id) from seat_line),
      (select max(row_id) from membership where group_id in (select group_id from group_branch where ancestor_id = any(${ids(within)}))),
      (select jsonb_build_array(count(*), bit_xor(hashint8extended(id, set_id * 2 + counted::int))) from person
        where set_id in (select set_id from set_in_branch where ancestor_id = any(${ids(within)}))))::text as situation`,
  );
  return found.situation;
}
