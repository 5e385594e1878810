import type { Given, Routes } from '@gate-roster/contract';
import { call } from '../api/call.ts';
import { tell } from '../ui/notice.ts';
import type { Selection } from '../ui/selection.ts';
import * as words from '../words.ts';

/**
 * Chooses all who match, fetched or not: as many as a change takes at once. Where there are more, that is said.
 * @param matching How many there are.
 */
export async function chooseAll(
  selection: Pick<Selection, 'set'>,
  groupId: number,
  query: NonNullable<Given<Routes['allPeople']>['query']>,
  matching: number,
): Promise<void> {
  const { ids } = await call('allPeople', { params: { groupId }, query });
  selection.set(ids);
  if (ids.length < matching) tell(words.people.mostChosen(ids.length, matching));
}
