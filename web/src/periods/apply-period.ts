import type { Change } from '@gate-roster/contract';
import type { Ref } from 'vue';
import type { ChangeInHand } from '../changes/use-change.ts';
import { type RunningJob, useChangeJob } from '../changes/use-job.ts';
import { tell } from '../ui/notice.ts';

/** Above this many people a change goes on without the page. */
const mostAtOnce = 2000;

/** Applies what was looked at: at once, or as a job when many people are concerned. */
export function useApplyPeriod(
  change: Ref<Change | null>,
  inHand: ChangeInHand,
  { said, done }: { said: string; done: () => void },
): { job: RunningJob; apply: () => Promise<void> } {
  const job = useChangeJob('period', () => {
    tell(said);
    done();
  });
  return {
    job,
    async apply() {
      const seen = inHand.look.value;
      const people = seen ? Math.max(seen.losing, seen.changedPeople, ...seen.leaves.map((move) => move.people)) : 0;
      if (change.value && seen && people > mostAtOnce) await job.start(change.value, seen.digest);
      else if (await inHand.apply()) done();
    },
  };
}
