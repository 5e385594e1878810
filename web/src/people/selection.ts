import { computed, type ComputedRef, type Ref, ref } from 'vue';

export interface Selection {
  chosen: Ref<Set<number>>;
  count: ComputedRef<number>;
  has: (id: number) => boolean;
  /** A click on a row's box: with shift, everything from the last one clicked. */
  click: (index: number, withShift: boolean) => void;
  set: (ids: Iterable<number>) => void;
  clear: () => void;
}

/** Which rows of a list are chosen; ranges follow the order in which the rows are shown. */
export function useSelection(shown: ComputedRef<readonly { id: number }[]>): Selection {
  const chosen = ref(new Set<number>());
  let anchor: number | null = null;
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
