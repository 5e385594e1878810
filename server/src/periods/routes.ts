import type { Deps } from '../http/deps.ts';
import type { Handlers } from '../http/handle.ts';
import { periodOf } from './read-period.ts';

export function periodHandlers({ db }: Deps): Handlers {
  return {
    async period({ actor, params: { groupId } }) {
      return periodOf(db, actor, groupId);
    },
  };
}
