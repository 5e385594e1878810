import type { MatchingPeople } from '@gate-roster/contract';

/** All counted learners of a group and its subgroups, or those of them who fit. */
export const everybodyIn = (groupId: number, more: Partial<MatchingPeople> = {}): MatchingPeople => ({
  groupId,
  subgroups: 'yes',
  counted: 'yes',
  countedOnly: false,
  filter: [],
  fits: 'yes',
  but: [],
  ...more,
});
