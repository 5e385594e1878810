import type { CourseGrants } from '../changes/look-access.ts';
import type { CourseId } from '../access/grant.ts';
import type { GroupId, Tree } from '../groups/tree.ts';
import { nameKey } from '../groups/group-name.ts';
import type { RuleAct, RuleWhen } from './rule.ts';

export interface RuleInGraph {
  id: number;
  when: RuleWhen;
  then: readonly RuleAct[];
}

/** Where a rule's acts can lead: what opens where, and which tags a name stands for. */
export interface LoopWorld {
  tree: Tree;
  about: readonly CourseGrants[];
  /** Tags by id with their key. */
  tags: ReadonlyMap<number, string>;
}

/**
 * A circle in the graph from what a rule does to what sets rules off, with filters taken at their widest: through this rule,
 * shortest first. @returns The rules of the circle in their order, beginning with this one; null when there is none.
 */
export function loopThrough(start: RuleInGraph, others: readonly RuleInGraph[], world: LoopWorld): number[] | null {
  const rules = [start, ...others.filter(({ id }) => id !== start.id)];
  const cameFrom = new Map<number, number | null>([[start.id, null]]);
  const next: RuleInGraph[] = [start];
  for (let rule = next.shift(); rule; rule = next.shift())
    for (const follower of rules) {
      if (!rule.then.some((act) => canSetOff(act, follower.when, world))) continue;
      if (follower.id === start.id) return wayTo(rule.id, cameFrom);
      if (cameFrom.has(follower.id)) continue;
      cameFrom.set(follower.id, rule.id);
      next.push(follower);
    }
  return null;
}

function wayTo(last: number, cameFrom: ReadonlyMap<number, number | null>): number[] {
  const way: number[] = [];
  for (let at: number | null = last; at !== null; at = cameFrom.get(at) ?? null) way.push(at);
  return way.reverse();
}

/** Can an act make happen what a rule waits for, for somebody? */
export function canSetOff(act: RuleAct, when: RuleWhen, world: LoopWorld): boolean {
  const entered = act.act === 'put in' ? act.groupId : act.act === 'move' ? act.intoId : null;
  const left = act.act === 'take out' ? act.groupId : act.act === 'move' ? act.fromId : null;
  const isBelow = (group: GroupId | null, top: GroupId): boolean =>
    group !== null && world.tree.has(group) && world.tree.isInBranch(group, top);
  switch (when.when) {
    case 'enters':
      return isBelow(entered, when.groupId);
    case 'leaves':
      return isBelow(left, when.groupId);
    case 'tagged':
      return act.act === 'tag' && world.tags.get(when.tagId) === nameKey(act.name);
    case 'gets':
      return (
        (act.act === 'open' && when.courses.includes(act.courseId)) ||
        (entered !== null && when.courses.some((id) => opensAt(id, entered, world)))
      );
    default:
      return false;
  }
}

/** Does a statement on the way to a group open a course, whatever its days and whatever else is said? */
function opensAt(courseId: CourseId, groupId: GroupId, { tree, about }: LoopWorld): boolean {
  if (!tree.has(groupId)) return false;
  const path = tree.path(groupId);
  const found = about.find(({ course }) => course.id === courseId);
  return (
    found?.grants.some(
      ({ effect, at }) => effect === 'open' && 'group' in at && (at.withSubgroups ? path.includes(at.group) : at.group === groupId),
    ) ?? false
  );
}
