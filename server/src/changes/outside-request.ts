import { createHmac } from 'node:crypto';
import { sql } from 'drizzle-orm';
import { maybeRow, type Queryable, type Transaction } from '../database/connect.ts';
import { ProblemError } from '../http/problem.ts';

const keptHours = 24;

/** A request id with a keyed hash of what was sent, which holds no password. */
export interface OutsideRequest {
  requestId: string;
  sentHash: string;
}

/** `sent` without the password: a request with the same id and other content is refused. */
export const outsideRequest = (key: string, requestId: string, sent: object): OutsideRequest => ({
  requestId,
  sentHash: createHmac('sha256', key).update(JSON.stringify(sent)).digest('base64url'),
});

/** The outcome of the first time, when there was one. @throws ProblemError `request-id-reused` when it came with other content. */
export async function replayOf<T extends object>(db: Queryable, { requestId, sentHash }: OutsideRequest): Promise<T | null> {
  const earlier = await maybeRow<{ sent_hash: string; outcome: T }>(
    db,
    sql`select sent_hash, outcome from outside_request where request_id = ${requestId}`,
  );
  if (earlier && earlier.sent_hash !== sentHash) throw new ProblemError('request-id-reused');
  return earlier?.outcome ?? null;
}

/**
 * Does once what somebody who may not be signed in asks for: the outcome is kept in the transaction that brings it about.
 * @returns The outcome of the first time, and whether this is another.
 * @throws ProblemError `request-id-reused` when the same id came with other content.
 */
export async function onceOutside<T extends object>(
  tx: Transaction,
  request: OutsideRequest,
  run: () => Promise<T>,
): Promise<{ outcome: T; isReplay: boolean }> {
  const earlier = await replayOf<T>(tx, request);
  if (earlier) return { outcome: earlier, isReplay: true };
  const outcome = await run();
  await tx.execute(
    sql`insert into outside_request (request_id, sent_hash, outcome) values (${request.requestId}, ${request.sentHash}, ${JSON.stringify(outcome)}::jsonb)`,
  );
  return { outcome, isReplay: false };
}

export async function dropOldRequests(db: Queryable): Promise<void> {
  await db.execute(sql`delete from outside_request where made_at < now() - make_interval(hours => ${keptHours}::int)`);
}
