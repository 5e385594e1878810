import { type Conflict, type GroupId, type GroupNode, longestGroupName, may, nameKey, tidyName, type Tree } from '@gate-roster/core';
import type { PlanContext } from '../changes/plan.ts';
import { notFound } from '../http/problem.ts';

/** What several acts on the tree ask of it. */

/** @throws ProblemError `not-found` when there is no such group, or the actor may not shape what it hangs on. */
export function shapableFrom(context: PlanContext, groupId: GroupId): GroupNode {
  const { tree, actor } = context;
  if (!tree.has(groupId)) throw notFound();
  const node = tree.node(groupId);
  // The top of the tree stays; a leader's own top hangs on what is not theirs.
  if (node.parentId === null || !may(actor, 'shapeGroups', { path: tree.path(node.parentId) })) throw notFound();
  return node;
}

/** @throws ProblemError `not-found` when the actor may not shape subgroups there. */
export function mayShapeIn({ tree, actor }: PlanContext, groupId: GroupId): void {
  if (!tree.has(groupId) || !may(actor, 'shapeGroups', { path: tree.path(groupId) })) throw notFound();
}

/** Without those that lie below another of the list: they go along. */
export function topsOf(tree: Tree, groupIds: readonly GroupId[]): GroupId[] {
  const wanted = new Set(groupIds);
  return [...wanted].filter(
    (id) =>
      !tree
        .path(id)
        .slice(0, -1)
        .some((step) => wanted.has(step)),
  );
}

export function nameConflicts(name: string): Conflict[] {
  const tidy = tidyName(name);
  if (tidy === '') return [{ code: 'name empty', blocks: true, count: 1 }];
  return tidy.length > longestGroupName ? [{ code: 'name too long', blocks: true, count: 1 }] : [];
}

/** How many of these groups have a sibling of the same name in the tree as it would be. */
export function takenNames(tree: Tree, groupIds: readonly GroupId[]): Conflict[] {
  const taken = groupIds.filter((id) => {
    const node = tree.node(id);
    return tree.children(node.parentId).some((other) => other.id !== id && nameKey(other.name) === nameKey(node.name));
  });
  return taken.length > 0 ? [{ code: 'name taken', blocks: true, count: taken.length }] : [];
}
