import type { GroupId } from '../groups/tree.ts';
import type { Day } from '../time/day.ts';
import type { Learner } from './grant.ts';
import { type Access, type CourseRules, resolve } from './resolve.ts';
import { opensLater } from './windows.ts';

/** Somebody who is in this group and nowhere else, without an end. */
export const memberOf = (groupId: GroupId): Learner => ({
  personId: null,
  active: true,
  firstDay: null,
  lastDay: null,
  memberships: [{ groupId, firstDay: null, lastDay: null }],
});

export interface GroupAccess extends Pick<Access, 'units' | 'paths' | 'chain'> {
  /** The day on which the same rules open a course that is closed. */
  opensOn: Day | null;
}

/**
 * How a course is open to members of each group on a day. Groups where nothing is said, and that have no days of their own, are as
 * the group above them, so that thousands of groups cost as much as the few that say something. Paths and chain name that group.
 */
export function accessByGroup(rules: CourseRules, day: Day): (groupId: GroupId) => GroupAccess {
  const known = new Map<GroupId, GroupAccess>();
  const speaking = speakingGroups(rules);
  const find = (groupId: GroupId): GroupAccess => {
    const kept = known.get(groupId);
    if (kept) return kept;
    const above = rules.tree.node(groupId).parentId;
    const found = above !== null && isAsAbove(rules, speaking, groupId, above) ? find(above) : work(rules, groupId, day);
    known.set(groupId, found);
    return found;
  };
  return find;
}

function work(rules: CourseRules, groupId: GroupId, day: Day): GroupAccess {
  const member = memberOf(groupId);
  const { units, paths, chain } = resolve(rules, member, day);
  return { units, paths, chain, opensOn: units.length > 0 ? null : opensLater(rules, member, day) };
}

/** Groups at which something is said, in whose name it is said, or where the course is at home. */
function speakingGroups({ course, atGroup }: CourseRules): Set<GroupId> {
  const speaking = new Set<GroupId>(atGroup.keys());
  if (course.home != null) speaking.add(course.home);
  for (const grants of atGroup.values()) for (const { makerBranch } of grants) if (makerBranch !== null) speaking.add(makerBranch);
  return speaking;
}

function isAsAbove({ tree, atGroup }: CourseRules, speaking: ReadonlySet<GroupId>, groupId: GroupId, above: GroupId): boolean {
  const { state, firstDay, lastDay } = tree.node(groupId);
  return (
    tree.has(above) &&
    state === 'active' &&
    firstDay === null &&
    lastDay === null &&
    !speaking.has(groupId) &&
    (atGroup.get(above) ?? []).every(({ at }) => 'group' in at && at.withSubgroups)
  );
}
