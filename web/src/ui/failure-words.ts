import { Failure } from '../api/call.ts';
import * as words from '../words.ts';

/** What happened and what to do, in the interface's words. */
export function failureWords(error: unknown): string {
  if (!(error instanceof Failure)) return words.failures.failed;
  if (error.code === 'too-many-tries') return words.failures.tooManyTries(error.problem?.retryAfter ?? 60);
  return words.failures[error.code];
}
