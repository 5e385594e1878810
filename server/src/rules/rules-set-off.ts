import type { Look } from '@gate-roster/contract';
import type { Effects, RuleWhen, Tree, Who } from '@gate-roster/core';
import { sql } from 'drizzle-orm';
import type { SignedIn } from '../accounts/actor.ts';
import { seenGroups } from '../accounts/reach.ts';
import type { Queryable } from '../database/connect.ts';
import { wholeTree } from '../groups/queries.ts';
import { onlyGroups } from '../people/scope.ts';
import { standingRules } from './standing-rules.ts';

/**
 * Rules that a change may set off in its first step, and on how many at most: who fits their filter is found out when they act.
 * @param count How many people these are together.
 */
export async function rulesSetOff(
  db: Queryable,
  actor: SignedIn,
  effects: Effects,
  count: (list: readonly { who: Who }[]) => Promise<number>,
): Promise<Look['rules']> {
  if (effects.isUndo || effects.joins.length + effects.leaves.length + effects.gains.length === 0) return [];
  const rules = await standingRules(
    db,
    sql`v.is_on and r.paused_for is null and v.set_off ->> 'when' in ('enters', 'leaves', 'gets') and ${onlyGroups(sql`v.group_id`, await seenGroups(db, actor))}`,
  );
  if (rules.length === 0) return [];
  const tree = await wholeTree(db);
  const found: Look['rules'] = [];
  for (const { id, name, when } of rules) {
    const people = await count(concerned(effects, when, tree));
    if (people > 0) found.push({ id, name, people });
  }
  return found;
}

function concerned({ joins, leaves, gains }: Effects, when: RuleWhen, tree: Tree): { who: Who }[] {
  const isIn = (groupId: number, top: number): boolean => tree.has(groupId) && tree.isInBranch(groupId, top);
  switch (when.when) {
    case 'enters':
      return joins.filter(({ groupId }) => isIn(groupId, when.groupId));
    case 'leaves':
      return leaves.filter(({ groupId }) => isIn(groupId, when.groupId));
    case 'gets':
      return gains.filter(({ courseId, day }) => day === null && when.courses.includes(courseId));
    default:
      return [];
  }
}
