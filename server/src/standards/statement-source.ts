import { and, eq, isNull } from 'drizzle-orm';
import { type Request, raw, type Response, type Router } from 'express';
import { timingSafeEqual } from 'node:crypto';
import { hashOf } from '../accounts/tokens.ts';
import { firstOf } from '../database/connect.ts';
import * as tables from '../database/schema.ts';
import type { Deps } from '../http/deps.ts';
import { ProblemError } from '../http/problem.ts';
import { bodyLimits, parseJson } from '../http/read-body.ts';

/* Who sends statements: each platform with its own name and password (RFC 7617), known before a body is read. */

export interface StatementSource {
  id: number;
  key: string;
  name: string;
}

export interface StatementRequest extends Request {
  statementSource?: StatementSource;
}

export const xapiVersion = '1.0.3';

/** Reads requests for statements: the version of the standard, the source, and only then the body. */
export function statementBodies(router: Router, deps: Pick<Deps, 'db'>): void {
  const body = raw({ type: 'application/json', limit: bodyLimits.wide, inflate: false });
  router.use('/xapi', (_request, response, next) => {
    response.setHeader('X-Experience-API-Version', xapiVersion);
    next();
  });
  router.use('/xapi/statements', async (request: StatementRequest, response: Response, next) => {
    const version = request.get('x-experience-api-version') ?? '';
    if (!/^1\.0(\.\d+)?$/u.test(version))
      throw new ProblemError('bad-request', { where: [{ place: 'X-Experience-API-Version', what: `${xapiVersion}, please` }] });
    request.statementSource = await sourceByPassword(deps, request, response);
    if (request.method !== 'GET' && request.is('application/json') === false)
      throw new ProblemError('bad-request', {
        where: [{ place: 'Content-Type', what: 'application/json; bodies of attachments are not taken' }],
      });
    body(request, response, (error?: unknown) => {
      if (error) return next(error);
      try {
        request.body = Buffer.isBuffer(request.body) ? parseJson(request.body) : undefined;
        next();
      } catch (problem) {
        next(problem);
      }
    });
  });
}

/** @throws ProblemError `bad-signature` unless name and password are those of a platform that may send. */
async function sourceByPassword({ db }: Pick<Deps, 'db'>, request: Request, response: Response): Promise<StatementSource> {
  const [, encoded = ''] = /^Basic +(\S+)$/iu.exec(request.get('authorization') ?? '') ?? [];
  const [, key = '', password = ''] = /^([^:]*):([\s\S]*)$/u.exec(Buffer.from(encoded, 'base64').toString('utf8')) ?? [];
  const source = key.includes('\0')
    ? null
    : await firstOf(
        db
          .select({ id: tables.source.id, key: tables.source.key, name: tables.source.name, hash: tables.source.passwordHash })
          .from(tables.source)
          .where(and(eq(tables.source.key, key), isNull(tables.source.endedAt))),
      );
  const [given, kept] = [Buffer.from(hashOf(password)), Buffer.from(source?.hash ?? hashOf(''))];
  const fits = given.length === kept.length && timingSafeEqual(given, kept);
  if (!source?.hash || !fits) {
    response.setHeader('WWW-Authenticate', 'Basic realm="statements", charset="UTF-8"');
    throw new ProblemError('bad-signature');
  }
  return source;
}
