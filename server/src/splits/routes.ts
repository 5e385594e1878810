import type { Deps } from '../http/deps.ts';
import type { Handlers } from '../http/handle.ts';
import { splitsOf } from './read-splits.ts';

export function splitHandlers({ db }: Deps): Handlers {
  return {
    async splits({ actor, params: { groupId } }) {
      return splitsOf(db, actor, groupId);
    },
  };
}
