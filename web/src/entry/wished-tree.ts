import { extendTree, type GroupId, type GroupNode, nameKey, Tree } from '@gate-roster/core';

/** One group of the tree as it would be: groups that are there lead down to the new ones. */
export interface WishedLine {
  id: number;
  name: string;
  depth: number;
  isNew: boolean;
  /** Names from the root down, folded: a group that is not made yet has no number. */
  key: string;
}

const keyOf = (of: Tree, id: GroupId): string =>
  of
    .path(id)
    .map((step) => nameKey(of.node(step).name))
    .join('>');

/** What would be made inside a group, as the tree it would be. `paths` as a file names them. */
export function wishedTree(nodes: readonly GroupNode[], into: GroupId, paths: readonly string[]): WishedLine[] {
  if (paths.length === 0) return [];
  const { tree, made } = extendTree(new Tree(nodes), into, paths);
  const shown = new Set(made.flatMap(({ id }) => tree.path(id)).filter((id) => tree.isInBranch(id, into)));
  const top = tree.path(into).length;
  return tree
    .branch(into)
    .filter((id) => shown.has(id))
    .map((id) => ({ id, name: tree.node(id).name, depth: tree.path(id).length - top, isNew: id < 0, key: keyOf(tree, id) }));
}

/** The paths that would still make something when a new group is struck out: with it go all that lead to it or through it. */
export function pathsWithout(nodes: readonly GroupNode[], into: GroupId, paths: readonly string[], key: string): string[] {
  const standing = new Tree(nodes);
  return paths.filter((path) => {
    const { tree, made } = extendTree(standing, into, [path]);
    return !made.some(({ id }) => keyOf(tree, id) === key);
  });
}
