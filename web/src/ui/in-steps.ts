import { type Ref, ref, watch } from 'vue';

/**
 * Counts up to `steps` while `isShown`, one with each frame, and falls back to 0 after it: a screen that is drawn part by part
 * answers in between.
 */
export function useSteps(steps: number, isShown: () => boolean): Readonly<Ref<number>> {
  const step = ref(0);
  const next = (): void => {
    if (!isShown() || step.value >= steps) return;
    step.value++;
    // After the frame in which this part is drawn.
    requestAnimationFrame(() => setTimeout(next));
  };
  watch(
    isShown,
    (shown) => {
      if (shown) next();
      else step.value = 0;
    },
    { immediate: true },
  );
  return step;
}
