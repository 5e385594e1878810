import { nameKey, tidyName } from '../groups/group-name.ts';
import { type GroupId, type GroupNode, Tree } from '../groups/tree.ts';
import { splitPath } from './find-group.ts';

/** A group that a file names and that would be made; ids are below zero. */
export interface WishedGroup {
  id: GroupId;
  parentId: GroupId;
  name: string;
}

/**
 * The tree with groups that paths name and that do not stand yet. Of a path as much as stands is kept: it begins at the
 * branch's top or right below it, and what is missing is made below.
 * @example extendTree(tree, gullhaven, ['Harbour crew > Night watch']).made // two groups, one in the other
 */
export function extendTree(tree: Tree, into: GroupId, paths: readonly string[]): { tree: Tree; made: WishedGroup[] } {
  const made: WishedGroup[] = [];
  const children = new Map<string, GroupId>();
  const childOf = (parent: GroupId, key: string): GroupId | undefined =>
    children.get(`${parent}/${key}`) ?? (parent > 0 ? tree.children(parent).find(({ name }) => nameKey(name) === key)?.id : undefined);
  for (const path of paths) {
    const segments = splitPath(path);
    if (segments.includes('')) continue;
    let at = into;
    for (const [index, segment] of segments.entries()) {
      const key = nameKey(segment);
      if (index === 0 && key === nameKey(tree.node(into).name)) continue;
      const known = childOf(at, key) ?? (index === 0 ? onlyOneCalled(tree, into, key) : undefined);
      const id = known ?? -(made.length + 1);
      if (known === undefined) {
        made.push({ id, parentId: at, name: tidyName(segment) });
        children.set(`${at}/${key}`, id);
      }
      at = id;
    }
  }
  if (made.length === 0) return { tree, made };
  const nodes = made.map(({ id, parentId, name }): [GroupId, GroupNode] => [
    id,
    { id, parentId, name, state: 'active', firstDay: null, lastDay: null },
  ]);
  return { tree: tree.with(new Map(nodes)), made };
}

/** A path may begin further down, where its first name stands once in the branch. */
function onlyOneCalled(tree: Tree, into: GroupId, key: string): GroupId | undefined {
  const found = tree.branch(into).filter((id) => nameKey(tree.node(id).name) === key);
  return found.length === 1 ? found[0] : undefined;
}
