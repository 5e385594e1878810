import type { Look, AskedChange } from '@gate-roster/contract';
import { useQueryClient } from '@tanstack/vue-query';
import { type MaybeRefOrGetter, type Ref, ref, shallowRef, toValue, watch } from 'vue';
import { call, Failure } from '../api/call.ts';
import { failureWords } from '../ui/failure-words.ts';
import { tell } from '../ui/notice.ts';
import * as words from '../words.ts';
import { useLeaveGuard } from '../ui/leave-guard.ts';
import { undoAtOnce } from './apply-at-once.ts';

export interface ChangeInHand {
  look: Ref<Look | null>;
  isLooking: Ref<boolean>;
  isApplying: Ref<boolean>;
  /** What went wrong, in words. */
  problem: Ref<string | null>;
  /** The change that was applied last. */
  appliedId: Ref<number | null>;
  apply: () => Promise<boolean>;
  /** Looks once more at the same: something else was changed meanwhile. */
  lookAgain: () => void;
}

/**
 * Looks at a change whenever it becomes another one, and applies exactly what was seen. When others
 * changed something meanwhile, nothing is applied and the new effects are shown. What became another change than it was at
 * first, and was not applied, is not left without a question. `settleMilliseconds`: for what is typed; `ownGuard`: the page asks.
 */
export function useChange(
  change: Ref<AskedChange | null>,
  applied: MaybeRefOrGetter<string>,
  { settleMilliseconds = 0, ownGuard = false }: { settleMilliseconds?: number; ownGuard?: boolean } = {},
): ChangeInHand {
  const queries = useQueryClient();
  const look = shallowRef<Look | null>(null);
  const isLooking = ref(false);
  const isApplying = ref(false);
  const problem = ref<string | null>(null);
  const appliedId = ref<number | null>(null);
  const timesAsked = ref(0);
  let asked: AbortController | null = null;
  let requestId = crypto.randomUUID();
  /** What was looked at last, as text. */
  let seen = '';
  let refused: string | null = null;
  /** Did it become another while it was being applied? */
  let isLate = false;
  const settled = [JSON.stringify(change.value)];
  if (!ownGuard)
    useLeaveGuard(
      () => change.value !== null && !settled.includes(JSON.stringify(change.value)),
      () => words.changes.leaveIt,
    );

  watch(
    [change, timesAsked] as const,
    async ([wanted]) => {
      // What is being applied is not looked at once more because its own effects come in; it may not even be there any more.
      if (isApplying.value && wanted) {
        isLate = true;
        return;
      }
      asked?.abort();
      const text = JSON.stringify(wanted);
      // The same once more, since what is known of the site came in again: what was seen stays, and can be applied, until the answer is there.
      const isSame = look.value !== null && !isLooking.value && text === seen;
      // Why it could not be applied stays to be read while the same is only looked at again.
      if (refused === null || text !== refused) {
        problem.value = null;
        refused = null;
      }
      if (!isSame) requestId = crypto.randomUUID();
      if (!wanted) {
        look.value = null;
        isLooking.value = false;
        return;
      }
      const mine = (asked = new AbortController());
      // From the first letter on nothing can be applied but what is looked at once typing has paused.
      isLooking.value = !isSame;
      if (settleMilliseconds > 0) await new Promise((resolve) => setTimeout(resolve, settleMilliseconds));
      if (mine.signal.aborted) return;
      try {
        look.value = await call('look', { body: { change: wanted } }, mine.signal);
        seen = text;
      } catch (error) {
        if (mine.signal.aborted) return;
        look.value = null;
        problem.value = failureWords(error);
      }
      isLooking.value = false;
    },
    { immediate: true },
  );

  async function apply(): Promise<boolean> {
    if (!change.value || !look.value || isApplying.value) return false;
    isApplying.value = true;
    if (!isLooking.value) asked?.abort();
    const said = toValue(applied);
    problem.value = null;
    try {
      const { changeId } = await call('apply', { body: { change: change.value, digest: look.value.digest, requestId } });
      appliedId.value = changeId;
      settled[1] = JSON.stringify(change.value);
      await queries.invalidateQueries();
      tell(said, { label: words.changes.undo, run: () => void undoAtOnce(changeId) });
      return true;
    } catch (error) {
      const fresh = error instanceof Failure ? error.problem?.look : undefined;
      if (fresh) {
        look.value = fresh as Look;
        requestId = crypto.randomUUID();
      }
      problem.value = failureWords(error);
      refused = JSON.stringify(change.value);
      return false;
    } finally {
      isApplying.value = false;
      // Unless the page lets go of it now.
      if (isLate) setTimeout(lookAgain);
      isLate = false;
    }
  }
  function lookAgain(): void {
    timesAsked.value++;
  }
  return {
    look,
    isLooking,
    isApplying,
    problem,
    appliedId,
    apply,
    lookAgain,
  };
}
