import { computed, type ComputedRef, ref, type Ref, watch, type WatchSource } from 'vue';

export interface Pieces<Piece> {
  /** The piece beside the list; null: none of it is chosen. */
  shown: ComputedRef<number | null>;
  /** One further down or up, as far as the list goes. */
  step: (by: 1 | -1) => void;
  /** A piece that was marked leaves the list; the one behind it comes next, or else the one before it. */
  goOn: () => void;
  /** Several pieces at once are ticked in the list. */
  isChoosing: Ref<boolean>;
  ticked: ComputedRef<Piece[]>;
  isTicked: (id: number) => boolean;
  tick: (id: number) => void;
  stopChoosing: () => void;
}

/**
 * Which piece of work of a list is looked at, and which are ticked. While none is looked at the first one is.
 * @param chosenId Kept in the address.
 * @param others What makes it another list: nothing of the last one stays chosen.
 */
export function usePieces<Piece extends { versionId: number }>(
  pieces: Readonly<Ref<readonly Piece[]>>,
  chosenId: Ref<number | null>,
  others: WatchSource[],
): Pieces<Piece> {
  const isChoosing = ref(false);
  const marks = ref<number[]>([]);
  const shown = computed(() => pieces.value.find(({ versionId }) => versionId === chosenId.value)?.versionId ?? null);
  const at = (): number => pieces.value.findIndex(({ versionId }) => versionId === shown.value);
  function stopChoosing(): void {
    isChoosing.value = false;
    marks.value = [];
  }
  watch(others, () => {
    chosenId.value = null;
    stopChoosing();
  });
  watch(
    [pieces, chosenId, isChoosing],
    () => {
      if (shown.value === null && !isChoosing.value) chosenId.value = pieces.value[0]?.versionId ?? chosenId.value;
    },
    { immediate: true },
  );
  return {
    shown,
    step(by) {
      const next = pieces.value[at() + by];
      if (next) chosenId.value = next.versionId;
    },
    goOn() {
      chosenId.value = pieces.value[at() + 1]?.versionId ?? pieces.value[at() - 1]?.versionId ?? null;
    },
    isChoosing,
    ticked: computed(() => pieces.value.filter(({ versionId }) => marks.value.includes(versionId))),
    isTicked: (id) => marks.value.includes(id),
    tick(id) {
      marks.value = marks.value.includes(id) ? marks.value.filter((each) => each !== id) : [...marks.value, id];
    },
    stopChoosing,
  };
}
