import { computed, type ComputedRef, type Ref, shallowRef, watch } from 'vue';

export type RowId = number | string;

export interface Selection<Id extends RowId = number> {
  chosen: Readonly<Ref<ReadonlySet<Id>>>;
  count: ComputedRef<number>;
  has: (id: Id) => boolean;
  /** A click on a row's box: with shift, everything from the last one clicked. */
  click: (index: number, withShift: boolean) => void;
  set: (ids: Iterable<Id>) => void;
  clear: () => void;
}

/**
 * Which rows of a list are chosen; ranges follow the order in which the rows are shown.
 * @param isWhole All rows there are have been fetched, so that what leaves the list is no longer chosen.
 */
export function useSelection<Id extends RowId>(
  shown: Readonly<Ref<readonly { id: Id }[]>>,
  { isWhole = false }: { isWhole?: boolean } = {},
): Selection<Id> {
  const chosen = shallowRef<ReadonlySet<Id>>(new Set());
  let anchor: number | null = null;
  if (isWhole)
    watch(shown, (rows) => {
      const there = new Set(rows.map(({ id }) => id));
      chosen.value = new Set([...chosen.value].filter((id) => there.has(id)));
    });
  return {
    chosen,
    count: computed(() => chosen.value.size),
    has: (id) => chosen.value.has(id),
    click(index, withShift) {
      const row = shown.value[index];
      if (!row) return;
      const next = new Set(chosen.value);
      const wanted = !next.has(row.id);
      const [from, to] = withShift && anchor !== null ? [Math.min(anchor, index), Math.max(anchor, index)] : [index, index];
      for (const { id } of shown.value.slice(from, to + 1)) {
        if (wanted || (withShift && anchor !== null)) next.add(id);
        else next.delete(id);
      }
      anchor = index;
      chosen.value = next;
    },
    set(ids) {
      chosen.value = new Set(ids);
    },
    clear() {
      chosen.value = new Set();
      anchor = null;
    },
  };
}
