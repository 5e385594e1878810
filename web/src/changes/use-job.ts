import type { JobSheet, AskedChange } from '@gate-roster/contract';
import { useQueryClient } from '@tanstack/vue-query';
import { useIntervalFn, useLocalStorage } from '@vueuse/core';
import { type Ref, ref, shallowRef } from 'vue';
import { call, Failure } from '../api/call.ts';
import { failureWords } from '../ui/failure-words.ts';
import * as words from '../words.ts';

const askMilliseconds = 700;

export interface RunningJob {
  sheet: Ref<JobSheet | null>;
  /** What went wrong, in words. */
  said: Ref<string | null>;
  stop: () => Promise<void>;
}

/** The same for a change that was looked at. */
export function useChangeJob(
  purpose: 'file' | 'undo' | 'period' | 'people',
  finished: (outcome: { changeId: number; newPeople: number }) => void,
): RunningJob & { start: (change: AskedChange, digest: string) => Promise<void> } {
  const queries = useQueryClient();
  const job = useJob(purpose, ({ changeId, newPeople }) => {
    if (changeId === null) return;
    // What came of it is shown at once; after a large file some answers take seconds.
    finished({ changeId, newPeople });
    void queries.invalidateQueries();
  });
  return { ...job, start: (change, digest) => job.start((requestId) => call('startJob', { body: { change, digest, requestId } })) };
}

/** A job of one’s own that goes on without the page; a person who comes back to what it is for sees how far it is. */
export function useJob(
  purpose: 'file' | 'undo' | 'period' | 'people' | 'take away',
  finished: (sheet: JobSheet) => unknown,
  ends: { failed: string; stopped: string } = { failed: words.changes.jobFailed, stopped: words.changes.jobStopped },
): RunningJob & { start: (begin: (requestId: string) => Promise<{ jobId: string }>) => Promise<void> } {
  const jobId = useLocalStorage<string | null>(`gate-roster-job-${purpose}`, null);
  const sheet = shallowRef<JobSheet | null>(null);
  const said = ref<string | null>(null);

  async function ask(): Promise<void> {
    if (jobId.value === null) return;
    try {
      sheet.value = await call('job', { params: { jobId: jobId.value } });
    } catch (error) {
      // Somebody else's, or long gone; while the server is away one asks again.
      if (error instanceof Failure && error.code === 'not-found') forget();
      return;
    }
    if (sheet.value.state === 'waiting') return;
    const ended = sheet.value;
    const { state, problem } = ended;
    forget();
    if (state === 'done') finished(ended);
    else if (state === 'stopped') said.value = ends.stopped;
    else said.value = `${ends.failed} ${problem === null ? '' : (words.failures[problem as keyof typeof words.failures] as string)}`;
  }
  function forget(): void {
    jobId.value = null;
    sheet.value = null;
  }
  void ask();
  useIntervalFn(() => void ask(), askMilliseconds);
  return {
    sheet,
    said,
    async start(begin) {
      said.value = null;
      try {
        jobId.value = (await begin(crypto.randomUUID())).jobId;
        await ask();
      } catch (error) {
        said.value = failureWords(error);
      }
    },
    async stop() {
      if (jobId.value !== null) await call('stopJob', { params: { jobId: jobId.value } }).catch(() => undefined);
      await ask();
    },
  };
}
