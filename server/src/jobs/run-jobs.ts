import type { Change } from '@gate-roster/contract';
import { and, eq, lte, sql } from 'drizzle-orm';
import pg from 'pg';
import { applyChange } from '../changes/apply.ts';
import { maybeRow } from '../database/connect.ts';
import * as tables from '../database/schema.ts';
import type { Deps } from '../http/deps.ts';
import { asProblem } from '../http/problem.ts';
import { keepPart } from '../entry/roster-files.ts';
import { answerBell, ringForWork } from './bell.ts';
import { type GivenFile, makeFileOfJob } from './make-files.ts';

/*
 * Jobs wait in PostgreSQL. Whoever works on one holds a lock of their database session: when the process dies the session
 * ends, the lock with it, and another takes the job up at once. A job may so begin more than once; its effect takes place
 * once, since the change's request id commits with it.
 */

const lockClass = 7_401_003;
const mostTries = 5;
const tellMilliseconds = 300;

interface Job {
  id: string;
  kind: string;
  given: unknown;
  made_by: number;
  tries: number;
}

/** How a kind of job is done, and what came of it. `told` takes how far it is, 0 to 1, and throws when it is to stop. */
type DoJob = (deps: Deps, job: Job, told: (share: number) => Promise<void>) => Promise<object>;

const kinds: Record<string, DoJob> = {
  async 'apply-change'(deps, { given, made_by }, told) {
    const { change, digest, requestId } = given as { change: Change; digest: string; requestId: string };
    const applied = await applyChange(deps, made_by, change, { digest, requestId, told });
    return { changeId: applied.changeId, newPeople: applied.newPeople };
  },
  'make-file': (deps, { id, given, made_by }, told) => makeFileOfJob(deps, { id, given: given as GivenFile, madeBy: made_by }, told),
};

/** Somebody stopped the job. */
class Stopped extends Error {}

/** Works on waiting jobs, one at a time in this process. @returns How to stop; what is under way is left for others. */
export function startJobs(deps: Deps): () => Promise<void> {
  let isStopping = false;
  const stop = answerBell(deps.settings.databaseUrl, deps.log, async () => {
    const waiting = await deps.db
      .select({ id: tables.job.id })
      .from(tables.job)
      .where(and(eq(tables.job.state, 'waiting'), lte(tables.job.startsAt, sql`now()`)))
      .orderBy(tables.job.startsAt);
    for (const { id } of waiting) if (!isStopping) await withLock(deps, id, () => work(deps, id, () => isStopping));
  });
  return async () => {
    isStopping = true;
    await stop();
  };
}

/** Puts a change that was looked at into the queue. The same request id is one job. @returns Its number. */
export async function queueChange(
  deps: Deps,
  madeBy: number,
  asked: { change: Change; digest: string; requestId: string },
): Promise<string> {
  const given = { ...asked, change: await staged(deps, madeBy, asked.requestId, asked.change) };
  await deps.db.execute(
    sql`insert into job (id, kind, given, made_by) values (${given.requestId}, 'apply-change', ${JSON.stringify(given)}::jsonb, ${madeBy}) on conflict (id) do nothing`,
  );
  await ringForWork(deps.db);
  return given.requestId;
}

/** A job holds ids only: what a change carries lies in rows of its own, which go when it is in, when somebody is erased, or after a week. */
async function staged(deps: Deps, madeBy: number, fileId: string, change: Change): Promise<Change> {
  if (change.kind !== 'bring-in-roster' || change.fileId !== undefined || change.rows.length === 0) return change;
  await keepPart(deps.db, madeBy, fileId, 0, change.rows);
  return { ...change, fileId, rows: [] };
}

async function withLock(deps: Deps, id: string, run: () => Promise<void>): Promise<void> {
  const client = new pg.Client({ connectionString: deps.settings.databaseUrl });
  client.on('error', () => undefined);
  await client.connect();
  try {
    const { rows: found } = await client.query<{ mine: boolean }>('select pg_try_advisory_lock($1, hashtext($2)) as mine', [lockClass, id]);
    if (found[0]?.mine) await run();
  } finally {
    await client.end();
  }
}

async function work(deps: Deps, id: string, isStopping: () => boolean): Promise<void> {
  const { db } = deps;
  const job = await maybeRow<Job>(
    db,
    sql`update job set tries = tries + 1 where id = ${id} and state = 'waiting' returning id, kind, given, made_by, tries`,
  );
  if (!job) return;
  // Each process that took it up died with it: it is set aside, so that the others go on.
  if (job.tries > mostTries) {
    deps.log.error({ job: id }, 'a job was begun too often without an end, and is set aside');
    await db.execute(
      sql`update job set state = 'failed', outcome = ${JSON.stringify({ problem: 'failed' })}::jsonb, ended_at = now() where id = ${id}`,
    );
    return;
  }
  const end = (state: 'done' | 'failed', outcome: object): Promise<unknown> =>
    db.execute(
      sql`update job set state = ${state}, outcome = ${JSON.stringify(outcome)}::jsonb, ended_at = now(), done = case when ${state} = 'done' then 1000 else done end where id = ${id}`,
    );
  let toldAt = 0;
  const told = async (share: number): Promise<void> => {
    if (isStopping()) throw new Stopped();
    if (Date.now() - toldAt < tellMilliseconds) return;
    toldAt = Date.now();
    const standing = await db
      .update(tables.job)
      .set({ done: Math.round(share * 1000), ofAll: 1000 })
      .where(and(eq(tables.job.id, id), eq(tables.job.state, 'waiting')))
      .returning({ id: tables.job.id });
    if (standing.length === 0) throw new Stopped();
  };
  try {
    const run = kinds[job.kind];
    if (!run) throw new RangeError(`no such kind of job: ${job.kind}`);
    await end('done', await run(deps, job, told));
  } catch (error) {
    if (error instanceof Stopped) return;
    const problem = asProblem(error);
    // What may pass by itself is tried again, later each time.
    if ((problem.code === 'database-away' || problem.code === 'busy') && job.tries < mostTries) {
      await db.execute(sql`update job set starts_at = now() + make_interval(secs => ${2 ** job.tries}::int) where id = ${id}`);
      return;
    }
    if (problem.code === 'failed') deps.log.error({ err: error, job: id }, 'a job failed');
    await end('failed', { problem: problem.code });
  }
}
