import { createHmac } from 'node:crypto';
import { eq, sql } from 'drizzle-orm';
import { maybeRow, type Queryable, type Transaction } from '../database/connect.ts';
import * as tables from '../database/schema.ts';
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

/** Kept while somebody's request is worked on, and with its answer afterwards. */
type Kept = { answer: unknown } | { since: 'begun' };
const lookAgainMilliseconds = 200;
/** A request of a process that died is worked on again after so long. */
const abandonedSeconds = 60;
const mostLooks = 50;

/**
 * Does once what comes with a key of its own (the draft standard Idempotency-Key), and gives the first answer again; what failed
 * can be sent again. Should the process die between doing it and keeping the answer, it may take place twice.
 * @throws ProblemError `request-id-reused` with other content, `busy` while the first is still worked on.
 */
export async function onceByKey<T>(db: Queryable, { requestId, sentHash }: OutsideRequest, run: () => Promise<T>): Promise<T> {
  for (let looks = 0; looks < mostLooks; looks++) {
    const begun = await db.execute(sql`
      insert into outside_request (request_id, sent_hash, outcome) values (${requestId}, ${sentHash}, '{"since": "begun"}')
      on conflict (request_id) do update set made_at = now()
        where outside_request.sent_hash = excluded.sent_hash and outside_request.outcome = '{"since": "begun"}' and outside_request.made_at < now() - make_interval(secs => ${abandonedSeconds}::int)`);
    if (begun.rowCount === 1) return keepAnswer(db, requestId, run);
    const earlier = await maybeRow<{ sent_hash: string; outcome: Kept }>(
      db,
      sql`select sent_hash, outcome from outside_request where request_id = ${requestId}`,
    );
    if (earlier && earlier.sent_hash !== sentHash) throw new ProblemError('request-id-reused');
    if (earlier && 'answer' in earlier.outcome) return (earlier.outcome.answer ?? undefined) as T;
    await new Promise((resolve) => setTimeout(resolve, lookAgainMilliseconds));
  }
  throw new ProblemError('busy', { retryAfter: 1 });
}

async function keepAnswer<T>(db: Queryable, requestId: string, run: () => Promise<T>): Promise<T> {
  try {
    const answer = await run();
    await db.execute(
      sql`update outside_request set outcome = ${JSON.stringify({ answer: answer ?? null })}::jsonb where request_id = ${requestId}`,
    );
    return answer;
  } catch (error) {
    await db.delete(tables.outsideRequest).where(eq(tables.outsideRequest.requestId, requestId));
    throw error;
  }
}

export async function dropOldRequests(db: Queryable): Promise<void> {
  await db.execute(sql`delete from outside_request where made_at < now() - make_interval(hours => ${keptHours}::int)`);
}
