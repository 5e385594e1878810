import { refDebounced, useElementSize } from '@vueuse/core';
import { computed, type ComputedRef, type Ref } from 'vue';

const pauseMilliseconds = 250;

/**
 * Width and height of a scroller, in pixels, for those who draw what is in sight. More room is known at once. Less is known after a
 * pause: when a panel opens beside a large table, the table is not drawn again before the panel is seen.
 */
export function useRoomInSight(scroller: Ref<HTMLElement | null>): { width: ComputedRef<number>; height: ComputedRef<number> } {
  const { width, height } = useElementSize(scroller);
  const lately = { width: refDebounced(width, pauseMilliseconds), height: refDebounced(height, pauseMilliseconds) };
  return {
    width: computed(() => Math.max(width.value, lately.width.value)),
    height: computed(() => Math.max(height.value, lately.height.value)),
  };
}
