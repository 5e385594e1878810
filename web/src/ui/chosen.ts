import { computed, type ComputedRef, type Ref, ref, watch } from 'vue';

export interface Chosen<T> {
  keys: Ref<ReadonlySet<string>>;
  items: ComputedRef<T[]>;
  isAll: ComputedRef<boolean>;
  has: (item: T) => boolean;
  toggle: (item: T) => void;
  toggleAll: () => void;
  clear: () => void;
}

/** Which rows of a short list are ticked; what leaves the list is ticked no more. */
export function useChosen<T>(list: Readonly<Ref<readonly T[]>>, keyOf: (item: T) => string): Chosen<T> {
  const keys = ref<ReadonlySet<string>>(new Set());
  watch(list, (now) => {
    const standing = new Set(now.map(keyOf));
    keys.value = new Set([...keys.value].filter((key) => standing.has(key)));
  });
  const has = (item: T): boolean => keys.value.has(keyOf(item));
  const isAll = computed(() => list.value.length > 0 && keys.value.size === list.value.length);
  return {
    keys,
    items: computed(() => list.value.filter(has)),
    isAll,
    has,
    toggle(item) {
      const next = new Set(keys.value);
      if (!next.delete(keyOf(item))) next.add(keyOf(item));
      keys.value = next;
    },
    toggleAll() {
      keys.value = isAll.value ? new Set() : new Set(list.value.map(keyOf));
    },
    clear() {
      keys.value = new Set();
    },
  };
}
