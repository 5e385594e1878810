import type { NewGroup } from '@gate-roster/contract';
import type { Power } from '@gate-roster/core';
import { readOutline, readWho, splitLedBy } from '@gate-roster/core';
import type { ShownTree } from './tree-query.ts';

/** Groups as pasted lines say them: nested by indentation, with leaders after “led by”. */
export function groupsOfOutline(text: string, powers: readonly Power[]): NewGroup[] {
  return readOutline(text).map((line) => {
    const { name, leaders } = splitLedBy(line.text);
    return {
      name,
      within: line.within,
      like: null,
      leaders: leaders.map((leader) => ({ who: readWho(leader), powers: [...powers], firstDay: null, lastDay: null })),
    };
  });
}

/** The shape of a branch under another name: its groups, with nobody in them. */
export function shapeOf(tree: ShownTree, top: number, name: string): NewGroup[] {
  const groups: NewGroup[] = [];
  const walk = (id: number, within: number | null): void => {
    const row = tree.row(id);
    if (!row) return;
    const index = groups.push({ name: within === null ? name : row.name, within, like: id, leaders: [] }) - 1;
    for (const child of tree.children(id)) walk(child.id, index);
  };
  walk(top, null);
  return groups;
}

/** How deep each new group stands, for showing. */
export function depthsOf(groups: readonly NewGroup[]): number[] {
  const depths: number[] = [];
  for (const { within } of groups) depths.push(within === null ? 0 : (depths[within] ?? 0) + 1);
  return depths;
}
