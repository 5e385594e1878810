import { computed, type ComputedRef, type Ref, ref, shallowRef, watch } from 'vue';

export type RowId = number | string;

export interface Selection<Id extends RowId = number> {
  /** All there are, fetched or not, but those that are left out. */
  isAll: Readonly<Ref<boolean>>;
  /** Rows that are chosen one by one; none while all are. */
  chosen: ComputedRef<ReadonlySet<Id>>;
  leftOut: ComputedRef<ReadonlySet<Id>>;
  count: ComputedRef<number>;
  has: (id: Id) => boolean;
  /** A click on a row's box: with shift, everything from the last one clicked. */
  click: (index: number, withShift: boolean) => void;
  set: (ids: Iterable<Id>) => void;
  setAll: () => void;
  clear: () => void;
}

/**
 * Which rows of a list are chosen; ranges follow the order in which the rows are shown.
 * @param isWhole All rows there are have been fetched, so that what leaves the list is no longer chosen.
 * @param total How many rows there are, fetched or not.
 * @param of What the list is of, as values: where these differ it is another list, and nothing of it is chosen yet.
 */
export function useSelection<Id extends RowId>(
  shown: Readonly<Ref<readonly { id: Id }[]>>,
  { isWhole = false, total = () => shown.value.length, of }: { isWhole?: boolean; total?: () => number; of?: () => unknown } = {},
): Selection<Id> {
  const isAll = ref(false);
  /** Chosen, or left out of all. */
  const marked = shallowRef<ReadonlySet<Id>>(new Set());
  const none: ReadonlySet<Id> = new Set();
  let anchor: number | null = null;
  const has = (id: Id): boolean => marked.value.has(id) !== isAll.value;
  function begin(all: boolean, ids: Iterable<Id>): void {
    isAll.value = all;
    marked.value = new Set(ids);
  }
  function clear(): void {
    begin(false, []);
    anchor = null;
  }
  // The address changes with everything that is opened beside the list; the list is the same one as long as this is.
  if (of) watch(() => JSON.stringify(of()), clear);
  if (isWhole)
    watch(shown, (rows) => {
      const there = new Set(rows.map(({ id }) => id));
      marked.value = new Set([...marked.value].filter((id) => there.has(id)));
    });
  return {
    isAll,
    chosen: computed(() => (isAll.value ? none : marked.value)),
    leftOut: computed(() => (isAll.value ? marked.value : none)),
    count: computed(() => (isAll.value ? Math.max(0, total() - marked.value.size) : marked.value.size)),
    has,
    click(index, withShift) {
      const row = shown.value[index];
      if (!row) return;
      const isRange = withShift && anchor !== null;
      const isWanted = isRange || !has(row.id);
      const [from, to] = isRange && anchor !== null ? [Math.min(anchor, index), Math.max(anchor, index)] : [index, index];
      const next = new Set(marked.value);
      for (const { id } of shown.value.slice(from, to + 1)) {
        if (isWanted === isAll.value) next.delete(id);
        else next.add(id);
      }
      anchor = index;
      marked.value = next;
    },
    set: (ids) => {
      begin(false, ids);
    },
    setAll: () => {
      begin(true, []);
    },
    clear,
  };
}
