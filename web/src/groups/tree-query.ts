import type { TreeRow } from '@gate-roster/contract';
import { useQuery } from '@tanstack/vue-query';
import { computed, type ComputedRef } from 'vue';
import { call } from '../api/call.ts';
import { useSession } from '../shell/session.ts';

/** The groups a reader may see, with the questions screens ask of them. */
export class ShownTree {
  readonly #rows: ReadonlyMap<number, TreeRow>;
  readonly #children = new Map<number | null, TreeRow[]>();

  constructor(rows: readonly TreeRow[]) {
    this.#rows = new Map(rows.map((row) => [row.id, row]));
    for (const row of rows) {
      const list = this.#children.get(row.parentId);
      if (list) list.push(row);
      else this.#children.set(row.parentId, [row]);
    }
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

  branchSize(id: number): number {
    return 1 + this.children(id).reduce((sum, child) => sum + this.branchSize(child.id), 0);
  }

  /** Rows to show, parents before children: what is open, and with a filter every match with the path to it. */
  visible(isOpen: (id: number) => boolean, filter: string): { row: TreeRow; depth: number; isMatch: boolean }[] {
    const wanted = filter.trim().toLowerCase();
    const matching =
      wanted === ''
        ? null
        : new Set(
            [...this.#rows.values()]
              .filter(({ name }) => name.toLowerCase().includes(wanted))
              .flatMap(({ id }) => this.path(id).map((step) => step.id)),
          );
    const shown: { row: TreeRow; depth: number; isMatch: boolean }[] = [];
    const walk = (parent: number | null, depth: number): void => {
      for (const row of this.children(parent)) {
        if (matching && !matching.has(row.id)) continue;
        shown.push({ row, depth, isMatch: matching === null || row.name.toLowerCase().includes(wanted) });
        if (matching || isOpen(row.id)) walk(row.id, depth + 1);
      }
    };
    walk(null, 0);
    return shown;
  }
}

export function useTree(): ComputedRef<ShownTree | undefined> {
  const session = useSession();
  const { data } = useQuery({ queryKey: ['tree'], queryFn: ({ signal }) => call('tree', {}, signal), enabled: () => session.isLeader });
  return computed(() => data.value && new ShownTree(data.value.groups));
}
