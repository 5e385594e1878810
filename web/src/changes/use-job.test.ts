import type { JobSheet } from '@gate-roster/contract';
import { VueQueryPlugin } from '@tanstack/vue-query';
import { afterEach, beforeEach, expect, test } from '@jest/globals';
import { createApp, h } from 'vue';
import { answerWith } from '../testing/answers.ts';
import { useChangeJob, useJob } from './use-job.ts';

let server: ReturnType<typeof answerWith>;
beforeEach(() => {
  server = answerWith({ json: {} });
});
afterEach(() => {
  server.stop();
});

const sheet = (state: JobSheet['state'], more: Partial<JobSheet> = {}): { json: unknown } => ({
  json: { state, done: 3, ofAll: 9, changeId: null, newPeople: 0, problem: null, ...more },
});
const inApp = <T>(act: () => T): T => {
  const app = createApp(() => h('p'));
  app.use(VueQueryPlugin);
  return app.runWithContext(act);
};
const ends = { failed: 'It failed.', stopped: 'It was stopped.' };

test('a job is followed by its number, and what it came to is told once', async () => {
  const told: JobSheet[] = [];
  const job = inApp(() => useJob('take away', (each) => told.push(each), ends));
  server.answerWith(sheet('waiting'));
  await job.start(() => Promise.resolve({ jobId: 'j-1' }));
  expect([job.sheet.value?.done, job.sheet.value?.ofAll, told.length]).toEqual([3, 9, 0]);
  expect(server.sent.at(-1)?.path).toMatch(/\/j-1$/u);
  server.answerWith(sheet('done'));
  await job.stop();
  expect([told.length, job.sheet.value, job.said.value]).toEqual([1, null, null]);
  // It is over: nothing is asked of it any more.
  const asked = server.sent.length;
  await job.stop();
  expect([server.sent.length, told.length]).toEqual([asked, 1]);
});

test('a job that was stopped or failed says so; one that is not there is forgotten; a server that is away is asked again', async () => {
  const outcome = async (answer: Parameters<typeof server.answerWith>[0]) => {
    const job = inApp(() => useJob('take away', () => undefined, ends));
    server.answerWith(answer);
    await job.start(() => Promise.resolve({ jobId: 'j-2' }));
    return [job.said.value, job.sheet.value];
  };
  expect(await outcome(sheet('stopped'))).toEqual(['It was stopped.', null]);
  expect((await outcome(sheet('failed', { problem: 'disk-full' })))[0]).toMatch(/^It failed\. \S/u);
  expect(await outcome({ problem: { code: 'not-found' } })).toEqual([null, null]);
  const job = inApp(() => useJob('take away', () => undefined, ends));
  server.answerWith({ problem: { code: 'failed' } }, sheet('waiting'));
  await job.start(() => Promise.resolve({ jobId: 'j-3' }));
  expect(job.sheet.value).toBeNull();
  await job.stop();
  expect(job.sheet.value).toMatchObject({ state: 'waiting' });
});

test('what could not even begin is said, and the next try is another request', async () => {
  const job = inApp(() => useJob('take away', () => undefined, ends));
  const ids: string[] = [];
  const begin = (requestId: string) => {
    ids.push(requestId);
    return Promise.reject(new Error('no'));
  };
  await job.start(begin);
  expect(job.said.value).not.toBeNull();
  await job.start(begin);
  expect(new Set(ids).size).toBe(2);
});

test('a change that runs as a job is sent with what was seen of it, and tells the number it got', async () => {
  const got: unknown[] = [];
  const job = inApp(() => useChangeJob('undo', (outcome) => got.push(outcome)));
  server.answerWith({ json: { jobId: 'j-4' } }, sheet('done', { changeId: 77, newPeople: 2 }));
  await job.start({ kind: 'undo', changeId: 5 }, 'seen');
  expect(server.sent[0]?.body).toMatchObject({ change: { kind: 'undo', changeId: 5 }, digest: 'seen' });
  expect(got).toEqual([{ changeId: 77, newPeople: 2 }]);
});
