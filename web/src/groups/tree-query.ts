import type { Answer, Routes, TreeRow as Row } from '@gate-roster/contract';
import { addTo, emptyTally, type GroupNode, type Tally } from '@gate-roster/core';
import { useQuery } from '@tanstack/vue-query';
import { computed, type ComputedRef } from 'vue';
import { call } from '../api/call.ts';
import { useSession } from '../shell/session.ts';

/** A group with the progress of its branch, which comes a moment after the tree. */
export type TreeRow = Row & { tally: Tally };

/** The groups a reader may see, with the questions screens ask of them. */
export class ShownTree {
  readonly #rows: ReadonlyMap<number, TreeRow>;
  readonly #children = new Map<number | null, TreeRow[]>();

  constructor(rows: readonly TreeRow[]) {
    this.#rows = new Map(rows.map((row) => [row.id, row]));
    for (const row of rows) addTo(this.#children, row.parentId, row);
  }

  row(id: number): TreeRow | undefined {
    return this.#rows.get(id);
  }

  /** In the order of names; null gives the tops. */
  children(id: number | null): readonly TreeRow[] {
    return this.#children.get(id) ?? [];
  }

  path(id: number): TreeRow[] {
    const path: TreeRow[] = [];
    for (let row = this.#rows.get(id); row; row = row.parentId === null ? undefined : this.#rows.get(row.parentId)) path.unshift(row);
    return path;
  }

  /** As the core's rules want them. */
  nodes(): GroupNode[] {
    return [...this.#rows.values()].map(({ id, parentId, name, state }) => ({ id, parentId, name, state, firstDay: null, lastDay: null }));
  }

  branchSize(id: number): number {
    return 1 + this.children(id).reduce((sum, child) => sum + this.branchSize(child.id), 0);
  }

  /**
   * Rows to show, parents before children: what is open; with a filter every match with the path to it.
   * `from` is where the tree starts; null: at the tops.
   */
  visible(isOpen: (id: number) => boolean, filter: TreeFilter = {}, from: number | null = null): ShownRow[] {
    const fits = fitting(filter);
    const matching = fits && new Set([...this.#rows.values()].filter(fits).flatMap(({ id }) => this.path(id).map((step) => step.id)));
    const shown: ShownRow[] = [];
    const walk = (rows: readonly TreeRow[], depth: number): void => {
      for (const row of rows) {
        if (matching && !matching.has(row.id)) continue;
        shown.push({ row, depth, isMatch: fits === null || fits(row) });
        if (matching || isOpen(row.id)) walk(this.children(row.id), depth + 1);
      }
    };
    const top = from === null ? undefined : this.#rows.get(from);
    walk(top ? [top] : this.children(null), 0);
    return shown;
  }
}

export interface ShownRow {
  row: TreeRow;
  depth: number;
  isMatch: boolean;
}

/** What a row must be; all that is said must hold. */
export interface TreeFilter {
  name?: string;
  tag?: number | null;
  leader?: number | null;
  overdue?: boolean;
  noLeader?: boolean;
  empty?: boolean;
  archived?: boolean;
}

/** What a row can have or lack, yes or no. */
export const treeMarks = ['overdue', 'noLeader', 'empty', 'archived'] as const;

/** Does a row fit? null when nothing is asked. */
function fitting({ name = '', tag = null, leader = null, ...asked }: TreeFilter): ((row: TreeRow) => boolean) | null {
  const wanted = name.trim().toLowerCase();
  const parts: ((row: TreeRow) => boolean)[] = [];
  if (wanted !== '') parts.push((row) => row.name.toLowerCase().includes(wanted));
  if (tag !== null) parts.push((row) => row.tags.includes(tag));
  if (leader !== null) parts.push((row) => row.leaders.includes(leader));
  if (asked.overdue) parts.push((row) => row.tally.overdue > 0);
  if (asked.noLeader) parts.push((row) => row.leaders.length === 0);
  if (asked.empty) parts.push((row) => row.people === 0);
  if (asked.archived) parts.push((row) => row.state === 'archived');
  return parts.length === 0 ? null : (row) => parts.every((part) => part(row));
}

const question = { queryKey: ['tree'], queryFn: ({ signal }: { signal: AbortSignal }) => call('tree', {}, signal) };

export function useTree(): ComputedRef<ShownTree | undefined> {
  const session = useSession();
  const { data } = useQuery({ ...question, enabled: () => session.isLeader });
  const { data: progress } = useQuery({
    queryKey: ['tree-progress'],
    queryFn: ({ signal }) => call('treeProgress', {}, signal),
    enabled: () => session.isLeader,
  });
  return computed(() => data.value && shownTree(data.value.groups, progress.value?.groups));
}

type Progress = Answer<Routes['treeProgress']>['groups'];
let latest: { groups: readonly Row[]; progress: Progress | undefined; tree: ShownTree } | null = null;

/** One tree for all who show it. */
function shownTree(groups: readonly Row[], progress: Progress | undefined): ShownTree {
  if (latest?.groups === groups && latest.progress === progress) return latest.tree;
  const tallies = new Map(progress?.map(({ id, tally }) => [id, tally]));
  const tree = new ShownTree(groups.map((row) => ({ ...row, tally: tallies.get(row.id) ?? emptyTally })));
  latest = { groups, progress, tree };
  return tree;
}

/** Tags and leaders by which the tree can be narrowed. */
export function useTreeNames(): ComputedRef<{ tags: { id: number; name: string }[]; leaders: { id: number; name: string }[] }> {
  const { data } = useQuery(question);
  return computed(() => ({ tags: data.value?.tags ?? [], leaders: data.value?.leaders ?? [] }));
}
