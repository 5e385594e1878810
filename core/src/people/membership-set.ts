import type { GroupId } from '../groups/tree.ts';

/**
 * Learners with the same key are in exactly the same groups, and so follow the same rules.
 * @example membershipSetKey([7, 3, 7]) // '3,7'
 */
export function membershipSetKey(groups: Iterable<GroupId>): string {
  return [...new Set(groups)].sort((a, b) => a - b).join(',');
}

export function groupsOfKey(key: string): GroupId[] {
  return key === '' ? [] : key.split(',').map(Number);
}
