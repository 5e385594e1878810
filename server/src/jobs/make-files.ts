import { type FileName, routes, type SentFile } from '@gate-roster/contract';
import { sql } from 'drizzle-orm';
import { maybeActor, type SignedIn } from '../accounts/actor.ts';
import * as tables from '../database/schema.ts';
import type { Deps } from '../http/deps.ts';
import { ProblemError } from '../http/problem.ts';
import { type Taking, takenFiles } from '../progress/taken-files.ts';
import { ringForWork } from './bell.ts';

/* Files of many rows are made as jobs: the person who asked may close the page and finds the file later. */

/** What is to be made, as it was asked for. */
export interface GivenFile {
  file: FileName;
  groupId: number;
  query: Record<string, string>;
}

/** What the route for this file would be asked. @throws ProblemError `bad-request` */
function askedOf({ file, query }: GivenFile): unknown {
  const read = routes[file].query.safeParse(query);
  if (!read.success)
    throw new ProblemError('bad-request', {
      where: read.error.issues.slice(0, 20).map(({ path, message }) => ({ place: ['body', 'query', ...path].join('.'), what: message })),
    });
  return read.data;
}

/** Puts a file into the queue. The same request id is one job. @returns Its number. @throws ProblemError `bad-request` */
export async function queueFile({ db }: Deps, actor: SignedIn, given: GivenFile, requestId: string): Promise<string> {
  askedOf(given);
  await db.execute(
    sql`insert into job (id, kind, given, made_by) values (${requestId}, 'make-file', ${JSON.stringify(given)}::jsonb, ${actor.personId}) on conflict (id) do nothing`,
  );
  await ringForWork(db);
  return requestId;
}

/** Makes it with the powers that its maker has by then. @throws ProblemError */
export async function makeFileOfJob(
  { db, pastDays, columns, now }: Deps,
  { id, given, madeBy }: { id: string; given: GivenFile; madeBy: number },
  told: (share: number) => Promise<void>,
): Promise<{ fileName: string }> {
  const actor = await maybeActor(db, madeBy, now());
  if (!actor) throw new ProblemError('not-signed-in');
  const make = takenFiles[given.file] as (taking: Taking, asked: unknown) => Promise<SentFile>;
  const made = await make({ deps: { db, pastDays, columns }, actor, groupId: given.groupId, told }, askedOf(given));
  await told(0.95);
  await db
    .insert(tables.madeFile)
    .values({ jobId: id, fileName: made.fileName, mimeType: made.mimeType, content: Buffer.from(made.content) })
    .onConflictDoUpdate({ target: tables.madeFile.jobId, set: { content: sql`excluded.content`, madeAt: sql`now()` } });
  return { fileName: made.fileName };
}
