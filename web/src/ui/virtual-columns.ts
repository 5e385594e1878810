import { useEventListener } from '@vueuse/core';
import { computed, type ComputedRef, type Ref, ref, watch } from 'vue';
import { useRoomInSight } from './room-in-sight.ts';

const pixelsMore = 120;
/** Columns come and go only after so many pixels: each time all rows are drawn again, which takes longer than a frame. */
const stepPixels = 360;

/** Which of columns of these widths lie within a span of pixels: from the first up to, not including, the last. */
export function columnsWithin(widths: readonly number[], left: number, right: number): { from: number; to: number; before: number } {
  let at = 0;
  let from = 0;
  let before = 0;
  let to = 0;
  for (const [index, width] of widths.entries()) {
    if (at + width <= left) {
      from = index + 1;
      before = at + width;
    }
    if (at < right) to = index + 1;
    at += width;
  }
  return { from: Math.min(from, to), to, before: from > to ? 0 : before };
}

/** The pixels that are drawn where a list of columns is scrolled to: what is in sight, and more to both sides. */
export function pixelsDrawn(scrollLeft: number, width: number): { left: number; right: number } {
  const step = Math.floor(scrollLeft / stepPixels) * stepPixels;
  return { left: step - pixelsMore, right: step + stepPixels + width + pixelsMore };
}

/**
 * Hundreds of columns beside a frozen one, of which only those in sight are drawn.
 * @param isWhole All are drawn, since there are few.
 */
export function useVirtualColumns(
  scroller: Ref<HTMLElement | null>,
  widths: ComputedRef<number[]>,
  isWhole: () => boolean,
): { from: ComputedRef<number>; to: ComputedRef<number>; spaceBefore: ComputedRef<number>; spaceAfter: ComputedRef<number> } {
  const scrolled = ref(0);
  const readLeft = (): void => {
    scrolled.value = scroller.value?.scrollLeft ?? 0;
  };
  const { width } = useRoomInSight(scroller);
  useEventListener(scroller, 'scroll', readLeft, { passive: true });
  watch([scroller, widths], readLeft, { flush: 'post' });
  const left = computed(() => pixelsDrawn(scrolled.value, width.value).left);
  const right = computed(() => pixelsDrawn(scrolled.value, width.value).right);
  const shown = computed(() =>
    isWhole() ? { from: 0, to: widths.value.length, before: 0 } : columnsWithin(widths.value, left.value, right.value),
  );
  const sum = (list: readonly number[]): number => list.reduce((all, each) => all + each, 0);
  return {
    from: computed(() => shown.value.from),
    to: computed(() => shown.value.to),
    spaceBefore: computed(() => shown.value.before),
    spaceAfter: computed(() => sum(widths.value.slice(shown.value.to))),
  };
}
