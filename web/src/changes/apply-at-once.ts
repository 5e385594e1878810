import type { AskedChange } from '@gate-roster/contract';
import { call } from '../api/call.ts';
import { queryClient } from '../api/queries.ts';
import { failureWords } from '../ui/failure-words.ts';
import { tell } from '../ui/notice.ts';
import * as words from '../words.ts';

/**
 * Looks and applies in one go, for acts whose name says all that they do; each can be undone from the message.
 * @returns Whether it was done; when not, the message says why.
 */
export async function applyAtOnce(change: AskedChange, said: string): Promise<boolean> {
  try {
    const seen = await call('look', { body: { change } });
    const stop = seen.conflicts.find(({ blocks }) => blocks);
    if (stop) {
      tell(words.changes.conflicts[stop.code](stop.count));
      return false;
    }
    const { changeId } = await call('apply', { body: { change, digest: seen.digest, requestId: crypto.randomUUID() } });
    await queryClient.invalidateQueries();
    tell(said, { label: words.changes.undo, run: () => void undoAtOnce(changeId) });
    return true;
  } catch (error) {
    tell(failureWords(error));
    return false;
  }
}

/** Undoes what was applied a moment ago, when nothing stands in the way; else says to look in the log. @returns Whether it was. */
export async function undoAtOnce(changeId: number): Promise<boolean> {
  try {
    const change: AskedChange = { kind: 'undo', changeId };
    const seen = await call('look', { body: { change } });
    if (seen.conflicts.length > 0) {
      tell(words.changes.undoInLog);
      return false;
    }
    await call('apply', { body: { change, digest: seen.digest, requestId: crypto.randomUUID() } });
    await queryClient.invalidateQueries();
    tell(words.changes.undone);
    return true;
  } catch (error) {
    tell(failureWords(error));
    return false;
  }
}
