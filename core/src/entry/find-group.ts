import { distance } from 'fastest-levenshtein';
import { nameKey } from '../groups/group-name.ts';
import type { GroupId, Tree } from '../groups/tree.ts';
import { addTo } from '../lists/add-to.ts';
import { quoteName, splitQuoted, unquoteName } from './quoted-names.ts';

export type FoundGroup = { groupId: GroupId } | { problem: 'unknown' | 'ambiguous'; near: string | null };

/**
 * Finds groups of one branch by the paths people write for them: `Gullhaven > Shore crew`.
 * A path may begin at any level below the branch's top; the shortest way down from the top wins.
 */
export function groupFinder(tree: Tree, top: GroupId): (path: string) => FoundGroup {
  const byLastName = new Map<string, { groupId: GroupId; keys: string[] }[]>();
  for (const groupId of tree.branch(top)) {
    const keys = tree.pathNames(groupId).map(nameKey);
    const last = keys.at(-1) ?? '';
    addTo(byLastName, last, { groupId, keys });
  }
  const namesByKey = new Map([...tree.nodes()].map((node) => [nameKey(node.name), node.name]));
  const known = [...new Set([...byLastName.keys()])];

  return (path) => {
    const segments = splitPath(path).map(nameKey);
    if (segments.includes('')) return { problem: 'unknown', near: nearWithoutEmpty(path) };
    const fitting = (byLastName.get(segments.at(-1) ?? '') ?? []).filter(({ keys }) => endsWith(keys, segments));
    const shortest = Math.min(...fitting.map(({ keys }) => keys.length));
    const nearest = fitting.filter(({ keys }) => keys.length === shortest);
    if (nearest.length === 1 && nearest[0]) return { groupId: nearest[0].groupId };
    if (nearest.length > 1) return { problem: 'ambiguous', near: null };
    const mended = segments.map((segment) => (byLastName.has(segment) ? segment : nearName(segment, known)));
    if (mended.some((segment) => segment === null)) return { problem: 'unknown', near: null };
    return { problem: 'unknown', near: joinPath(mended.map((segment) => namesByKey.get(segment ?? '') ?? '')) };
  };
}

/** Names from above down; an empty one means that a level is missing. */
export const splitPath = (path: string): string[] => splitQuoted(path, '>').map(unquoteName);

/** A path as it is written in a cell. */
export const joinPath = (names: readonly string[]): string => names.map(quoteName).join(' > ');

/** Several groups in one cell stand apart by `;` or a line end. */
export const splitGroups = (cell: string): string[] => splitQuoted(cell, ';\n').filter((part) => part !== '');

/** A level that was left empty by mistake. */
function nearWithoutEmpty(path: string): string | null {
  const names = splitPath(path).filter((name) => name !== '');
  return names.length === 0 ? null : joinPath(names);
}

const endsWith = (keys: readonly string[], tail: readonly string[]): boolean =>
  tail.length > 0 && tail.length <= keys.length && tail.every((segment, index) => keys[keys.length - tail.length + index] === segment);

/** The known name that is at most a third of its letters away. */
function nearName(segment: string, known: readonly string[]): string | null {
  let best: string | null = null;
  let least = Math.floor(segment.length / 3) + 1;
  for (const name of known) {
    const away = distance(segment, name);
    if (away < least) [best, least] = [name, away];
  }
  return best;
}
