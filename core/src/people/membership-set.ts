import type { GroupId } from '../groups/tree.ts';
import type { Day } from '../time/day.ts';

/** A membership that is in force, as far as the rules weigh it. */
export interface Held {
  groupId: GroupId;
  lastDay: Day | null;
}

/** Until when an account works: a last day, for ever, or not at all. */
export type AccountWorks = { lastDay: Day | null } | 'off';

/**
 * Learners with the same key are in exactly the same groups, until the same days, and their accounts work until the same day: so
 * they follow the same rules.
 * @example membershipSetKey([{ groupId: 7, lastDay: null }, { groupId: 3, lastDay: '2026-12-31' }]) // '3@2026-12-31,7'
 * @example membershipSetKey([{ groupId: 7, lastDay: null }], { lastDay: '2027-06-30' }) // '7;2027-06-30'
 * @example membershipSetKey([{ groupId: 7, lastDay: null }], 'off') // '7;off'
 */
export function membershipSetKey(held: Iterable<Held>, account: AccountWorks = { lastDay: null }): string {
  const days = new Map([...held].map(({ groupId, lastDay }) => [groupId, lastDay]));
  const groups = [...days]
    .sort(([a], [b]) => a - b)
    .map(([groupId, until]) => (until === null ? String(groupId) : `${groupId}@${until}`))
    .join(',');
  const until = account === 'off' ? 'off' : account.lastDay;
  return until === null ? groups : `${groups};${until}`;
}

/** The other way round: the groups, and until when the account works. */
export function ofSetKey(key: string): { held: Held[]; account: AccountWorks } {
  const [groups = '', until = null] = key.split(';');
  const held = groups === '' ? [] : groups.split(',').map(heldOfPart);
  return { held, account: until === 'off' ? 'off' : { lastDay: until } };
}

function heldOfPart(part: string): Held {
  const [groupId, lastDay = null] = part.split('@');
  return { groupId: Number(groupId), lastDay };
}
