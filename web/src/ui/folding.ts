import { ref } from 'vue';

export interface Folding<K> {
  isFolded: (key: K) => boolean;
  toggle: (key: K) => void;
  /** Exactly these are folded. */
  fold: (keys: Iterable<K>) => void;
}

/** Which parts of a table are folded away. */
export function useFolding<K>(): Folding<K> {
  const folded = ref(new Set<unknown>());
  return {
    isFolded: (key) => folded.value.has(key),
    toggle(key) {
      const next = new Set(folded.value);
      if (!next.delete(key)) next.add(key);
      folded.value = next;
    },
    fold(keys) {
      folded.value = new Set(keys);
    },
  };
}
