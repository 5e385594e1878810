import { types } from 'node:util';
import { type Problem, type ProblemCode, problems } from '@gate-roster/contract';

/** A failure with a name. Whatever else is thrown is `failed`, or `database-away`. */
export class ProblemError extends Error {
  readonly code: ProblemCode;
  readonly details: Pick<Problem, 'where' | 'retryAfter' | 'look' | 'number'>;

  constructor(code: ProblemCode, details: ProblemError['details'] = {}, options?: ErrorOptions) {
    super(problems[code].title, options);
    this.code = code;
    this.details = details;
  }

  toJson(): Problem {
    const { status, title } = problems[this.code];
    return { type: `about:blank#${this.code}`, title, status, code: this.code, ...this.details };
  }
}

export const notFound = (): ProblemError => new ProblemError('not-found');

/** Outside one's branches a thing does not exist. */
export function found<T>(value: T | null | undefined): T {
  if (value === null || value === undefined) throw notFound();
  return value;
}

const connectionCodes = new Set([
  ...['ECONNREFUSED', 'ECONNRESET', 'ENOTFOUND', 'EPIPE', 'ETIMEDOUT', 'ERR_STREAM_DESTROYED', 'ERR_STREAM_WRITE_AFTER_END'],
  ...['57P01', '57P02', '57P03', '08000', '08003', '08006'],
]);

/** What `pg` says of a connection that ended, with no code of its own; one statement may meet it at several moments. */
const connectionLost =
  /connection terminated|timeout exceeded when trying to connect|encountered a connection error|client was closed|timeout expired/iu;

/** An error, what caused it, and so on. Errors of Node's own modules may be of another realm: `instanceof` does not know them. */
export function* chainOf(error: unknown): Generator<Error & { code?: unknown; type?: unknown; status?: unknown }> {
  for (let at = error; types.isNativeError(at); at = at.cause) yield at;
}

/** The SQLSTATE with which PostgreSQL refused; null when it was something else. */
export function postgresCode(error: unknown): string | null {
  for (const { code } of chainOf(error)) {
    if (typeof code === 'string' && /^[0-9A-Z]{5}$/u.test(code)) return code;
  }
  return null;
}

/** Locks that were not given in time, statements that took too long, deadlocks: the same may pass a moment later. */
const busyCodes = new Set(['55P03', '57014', '40P01', '40001', '25P03']);

/** Translates whatever a handler threw; the cause is kept for the log. */
export function asProblem(error: unknown): ProblemError {
  if (error instanceof ProblemError) return error;
  const codes: unknown[] = [];
  const messages: string[] = [];
  for (const at of chainOf(error)) {
    codes.push(at.code, at.type, at.status);
    messages.push(at.message);
    if ('errors' in at && Array.isArray(at.errors)) for (const inner of at.errors) codes.push((inner as { code?: unknown }).code);
  }
  if (
    messages.some((message) => connectionLost.test(message)) ||
    codes.some((code) => typeof code === 'string' && connectionCodes.has(code))
  )
    return new ProblemError('database-away', { retryAfter: 2 }, { cause: error });
  if (codes.some((code) => typeof code === 'string' && busyCodes.has(code)))
    return new ProblemError('busy', { retryAfter: 2 }, { cause: error });
  if (codes.some((code) => code === '53100' || code === 'ENOSPC'))
    return new ProblemError('disk-full', { retryAfter: 60 }, { cause: error });
  // A unique rule of the database is the last word when two writers want the same name or address.
  if (codes.includes('23505')) return new ProblemError('blocked', {}, { cause: error });
  if (codes.includes('entity.too.large')) return new ProblemError('too-large', {}, { cause: error });
  if (codes.includes(404)) return new ProblemError('not-found', {}, { cause: error });
  // A path that leads out of its folder is none.
  if (codes.includes(403)) return new ProblemError('not-found', {}, { cause: error });
  if (codes.includes(415)) return new ProblemError('bad-request', {}, { cause: error });
  if (codes.includes(400)) return new ProblemError('bad-request', {}, { cause: error });
  return new ProblemError('failed', {}, { cause: error });
}
