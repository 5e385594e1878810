import { sql } from 'drizzle-orm';
import { type Request, type Router, text } from 'express';
import { maybeRow, oneRow } from '../database/connect.ts';
import type { Deps } from './deps.ts';
import { ProblemError } from './problem.ts';
import { parseJson } from './read-body.ts';
import { isSigned } from './signature.ts';

/* Outside services that report to us: each has a key of its own, and signs what it sends. */

/** The body as it was signed, parsed only after the signature fits. */
export function sourceBodies(router: Router): void {
  router.use('/api/v1/source', text({ type: 'application/json', limit: '200kb', inflate: false }), (request, _response, next) => {
    const signed = typeof request.body === 'string' ? request.body : '';
    (request as SignedRequest).signedBody = signed;
    request.body = signed === '' ? undefined : parseJson(Buffer.from(signed));
    next();
  });
}

export interface SignedRequest extends Request {
  signedBody?: string;
}

/** @throws ProblemError `bad-signature` unless a known source signed the request within the last 5 minutes. */
export async function sourceOf({ db, now }: Pick<Deps, 'db' | 'now'>, request: SignedRequest): Promise<{ id: number; key: string }> {
  const [key, time, signature] = ['x-source', 'x-time', 'x-signature'].map((name) => request.get(name) ?? '');
  const source = await maybeRow<{ id: number; key: string; secret: string }>(
    db,
    sql`select id, key, secret from source where key = ${key} and ended_at is null`,
  );
  const parts = { method: request.method, path: request.originalUrl, time: time ?? '', body: request.signedBody ?? '' };
  if (!isSigned(source?.secret ?? 'nobody', parts, signature ?? '', now()) || !source) throw new ProblemError('bad-signature');
  return source;
}

/** The secret of a source, made when it is first asked for. */
export async function sourceSecret(db: Deps['db'], key: string, name: string, fresh: string): Promise<string> {
  await db.execute(sql`insert into source (key, secret, name) values (${key}, ${fresh}, ${name}) on conflict do nothing`);
  return (await oneRow<{ secret: string }>(db, sql`select secret from source where key = ${key}`)).secret;
}
