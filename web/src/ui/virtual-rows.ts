import { useEventListener } from '@vueuse/core';
import { computed, type ComputedRef, type Ref, ref, watch } from 'vue';
import { useRoomInSight } from './room-in-sight.ts';

export interface VirtualRows {
  /** The rows to draw, a few more than are in sight. */
  items: ComputedRef<{ index: number }[]>;
  /** Pixels that stand for the rows above and below them. */
  spaceAbove: ComputedRef<number>;
  spaceBelow: ComputedRef<number>;
  totalPixels: ComputedRef<number>;
  /** As little as it takes to have the row in sight. */
  scrollTo: (index: number) => void;
}

const moreThanInSight = 10;

/**
 * Thousands of rows of one height (with `isWhole`, few, of which all are drawn), of which only those in sight are drawn. Where each lies is worked out when it is asked: a table
 * of 200,000 places, made again with every count, kept the page waiting for 300 ms.
 */
export function useVirtualRows(
  scroller: Ref<HTMLElement | null>,
  count: () => number,
  rowPixels: number,
  isWhole: () => boolean = () => false,
): VirtualRows {
  const top = ref(0);
  const readTop = (): void => {
    top.value = scroller.value?.scrollTop ?? 0;
  };
  const { height } = useRoomInSight(scroller);
  useEventListener(scroller, 'scroll', readTop, { passive: true });
  // Another list, or a shorter one: where the browser then stands, it does not always say.
  watch([scroller, count], readTop, { flush: 'post' });

  const to = computed(() => (isWhole() ? count() : Math.min(count(), Math.ceil((top.value + height.value) / rowPixels) + moreThanInSight)));
  const from = computed(() => (isWhole() ? 0 : Math.max(0, Math.min(Math.floor(top.value / rowPixels), count() - 1) - moreThanInSight)));
  return {
    items: computed(() => Array.from({ length: Math.max(0, to.value - from.value) }, (_, place) => ({ index: from.value + place }))),
    totalPixels: computed(() => count() * rowPixels),
    spaceAbove: computed(() => from.value * rowPixels),
    spaceBelow: computed(() => (count() - Math.max(from.value, to.value)) * rowPixels),
    scrollTo(index) {
      const box = scroller.value;
      if (!box) return;
      const [above, below] = [index * rowPixels, (index + 1) * rowPixels - box.clientHeight];
      box.scrollTop = Math.min(above, Math.max(below, box.scrollTop));
    },
  };
}
