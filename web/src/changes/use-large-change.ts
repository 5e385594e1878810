import type { AskedChange } from '@gate-roster/contract';
import { type Ref, watch } from 'vue';
import type { ChangeInHand } from './use-change.ts';
import { type RunningJob, useChangeJob } from './use-job.ts';

/** A change of more people goes on without the page. */
export const mostWaitedFor = 5000;

/**
 * Applies a change that was looked at: at once, or as a job when it is about very many people.
 * @param people How many people it is about.
 * @param finished A job is done; `isThis`: it was begun here, and not before the page was opened.
 */
export function useLargeChange(
  purpose: 'undo' | 'people',
  { change, inHand, people }: { change: Readonly<Ref<AskedChange | null>>; inHand: ChangeInHand; people: () => number },
  finished: (isThis: boolean) => void,
): { job: RunningJob; apply: () => Promise<'applied' | 'under way' | 'refused'> } {
  let isThis = false;
  const job = useChangeJob(purpose, () => {
    finished(isThis);
    isThis = false;
  });
  // What is in its way by now is seen before the next try.
  watch(job.said, (said) => {
    if (said !== null) inHand.lookAgain();
  });
  return {
    job,
    async apply() {
      const seen = inHand.look.value;
      if (!change.value || !seen || people() <= mostWaitedFor) return (await inHand.apply()) ? 'applied' : 'refused';
      isThis = true;
      await job.start(change.value, seen.digest);
      return job.said.value === null ? 'under way' : 'refused';
    },
  };
}
