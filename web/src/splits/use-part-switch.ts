import type { SplitPart } from '@gate-roster/contract';
import { computed, type ComputedRef, type Ref, ref } from 'vue';
import { applyAtOnce } from '../changes/apply-at-once.ts';
import * as words from '../words.ts';
import type { SplitDraft } from './use-split-draft.ts';

export interface PartSwitch {
  /** Switches a part on or off. */
  turn: (part: SplitPart) => Promise<void>;
  /** Is a switch being saved? */
  isTurning: ComputedRef<boolean>;
}

/**
 * The switch of a part. While its split runs, and nothing else waits to be saved, it takes effect with the click;
 * a click while an earlier one is being saved takes effect after it.
 */
export function usePartSwitch(draft: SplitDraft, isRunning: Ref<boolean>): PartSwitch {
  const waiting = ref(0);
  let last: Promise<boolean> = Promise.resolve(true);
  const isTurning = computed(() => waiting.value > 0);
  async function turn({ key, isOn }: SplitPart): Promise<void> {
    const isAtOnce = isRunning.value && (isTurning.value || draft.change.value === null);
    draft.edit(key, { isOn: !isOn });
    const wanted = draft.whole.value;
    if (!isAtOnce || wanted === null) return;
    waiting.value++;
    last = last.then(() => applyAtOnce(wanted, words.splits.saved));
    if (!(await last)) draft.reset();
    waiting.value--;
  }
  return { turn, isTurning };
}
