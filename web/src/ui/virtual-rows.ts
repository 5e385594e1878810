import { useVirtualizer, type VirtualItem } from '@tanstack/vue-virtual';
import { computed, type ComputedRef, type Ref } from 'vue';

export interface VirtualRows {
  /** The rows to draw, a few more than are in sight. */
  items: ComputedRef<VirtualItem[]>;
  /** Pixels that stand for the rows above and below them. */
  spaceAbove: ComputedRef<number>;
  spaceBelow: ComputedRef<number>;
  totalPixels: ComputedRef<number>;
  scrollTo: (index: number) => void;
}

const moreThanInSight = 10;

/** Thousands of rows of one height, of which only those in sight are drawn. */
export function useVirtualRows(
  scroller: Ref<HTMLElement | null>,
  count: () => number,
  rowPixels: number,
  keyOf?: (index: number) => string | number,
): VirtualRows {
  const virtual = useVirtualizer(
    computed(() => ({
      count: count(),
      getScrollElement: () => scroller.value,
      estimateSize: () => rowPixels,
      overscan: moreThanInSight,
      ...(keyOf ? { getItemKey: keyOf } : {}),
    })),
  );
  const items = computed(() => virtual.value.getVirtualItems());
  const totalPixels = computed(() => virtual.value.getTotalSize());
  return {
    items,
    totalPixels,
    spaceAbove: computed(() => items.value[0]?.start ?? 0),
    spaceBelow: computed(() => totalPixels.value - (items.value.at(-1)?.end ?? 0)),
    scrollTo: (index) => {
      virtual.value.scrollToIndex(index, { align: 'auto' });
    },
  };
}
