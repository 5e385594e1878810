import type { GroupId } from '../groups/tree.ts';
import type { Day } from '../time/day.ts';

/** A membership that is in force, as far as the rules weigh it. */
export interface Held {
  groupId: GroupId;
  lastDay: Day | null;
}

/**
 * Learners with the same key are in exactly the same groups, until the same days, and so follow the same rules.
 * @example membershipSetKey([{ groupId: 7, lastDay: null }, { groupId: 3, lastDay: '2026-12-31' }]) // '3@2026-12-31,7'
 */
export function membershipSetKey(held: Iterable<Held>): string {
  const days = new Map([...held].map(({ groupId, lastDay }) => [groupId, lastDay]));
  return [...days]
    .sort(([a], [b]) => a - b)
    .map(([groupId, lastDay]) => (lastDay === null ? String(groupId) : `${groupId}@${lastDay}`))
    .join(',');
}

/** The other way round. */
export function heldOfKey(key: string): Held[] {
  return key === ''
    ? []
    : key.split(',').map((part) => {
        const [groupId, lastDay = null] = part.split('@');
        return { groupId: Number(groupId), lastDay };
      });
}
