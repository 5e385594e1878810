import { and, eq, isNull } from 'drizzle-orm';
import { type Request, type Router, text } from 'express';
import { firstOf, onlyOne } from '../database/connect.ts';
import * as tables from '../database/schema.ts';
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
  const [key = '', time = '', signature = ''] = ['x-source', 'x-time', 'x-signature'].map((name) => request.get(name) ?? '');
  const source = await firstOf(
    db
      .select({ id: tables.source.id, key: tables.source.key, secret: tables.source.secret })
      .from(tables.source)
      .where(and(eq(tables.source.key, key), isNull(tables.source.endedAt))),
  );
  const parts = { method: request.method, path: request.originalUrl, time, body: request.signedBody ?? '' };
  if (!isSigned(source?.secret ?? 'nobody', parts, signature, now()) || !source) throw new ProblemError('bad-signature');
  return source;
}

/** The secret of a source, made when it is first asked for. */
export async function sourceSecret(db: Deps['db'], key: string, name: string, fresh: string): Promise<string> {
  await db.insert(tables.source).values({ key, secret: fresh, name }).onConflictDoNothing();
  return (await onlyOne(db.select({ secret: tables.source.secret }).from(tables.source).where(eq(tables.source.key, key)))).secret;
}
