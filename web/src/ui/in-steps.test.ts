import { afterEach, beforeEach, expect, test } from '@jest/globals';
import { nextTick, ref } from 'vue';
import { useSteps } from './in-steps.ts';

const before = globalThis.requestAnimationFrame;
let frames: FrameRequestCallback[];
beforeEach(() => {
  frames = [];
  globalThis.requestAnimationFrame = (act) => frames.push(act);
});
afterEach(() => {
  globalThis.requestAnimationFrame = before;
});
/** The next frame is drawn. */
async function draw(): Promise<void> {
  for (const act of frames.splice(0)) act(0);
  await new Promise((resolve) => setTimeout(resolve));
}

test('one part is drawn with each frame, and no more than there are', async () => {
  const step = useSteps(3, () => true);
  const seen = [step.value];
  for (let frame = 0; frame < 5; frame++) {
    await draw();
    seen.push(step.value);
  }
  expect([seen, frames.length]).toEqual([[1, 2, 3, 3, 3, 3], 0]);
});

test('a screen that is hidden in between stops, and begins again from the first part', async () => {
  const isShown = ref(false);
  const step = useSteps(4, () => isShown.value);
  await draw();
  expect(step.value).toBe(0);
  isShown.value = true;
  await nextTick();
  await draw();
  expect(step.value).toBe(2);
  isShown.value = false;
  await nextTick();
  await draw();
  expect(step.value).toBe(0);
  isShown.value = true;
  await nextTick();
  expect(step.value).toBe(1);
});
