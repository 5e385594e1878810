import type { AskedChange } from '@gate-roster/contract';
import { VueQueryPlugin } from '@tanstack/vue-query';
import { afterEach, beforeEach, expect, test } from '@jest/globals';
import { createApp, h, ref } from 'vue';
import { answerWith } from '../testing/answers.ts';
import { useChange } from './use-change.ts';
import { mostWaitedFor, useLargeChange } from './use-large-change.ts';

let server: ReturnType<typeof answerWith>;
beforeEach(() => {
  server = answerWith({ json: {} });
});
afterEach(() => {
  server.stop();
});
const settled = (): Promise<void> => new Promise((resolve) => setTimeout(resolve, 20));
const seen = (digest: string): { json: unknown } => ({ json: { digest, conflicts: [] } });
const sheet = (state: string, more: object = {}): { json: unknown } => ({
  json: { state, done: 0, ofAll: null, changeId: 8, newPeople: 0, problem: null, ...more },
});
const sentTo = (): unknown[] => server.sent.map(({ path }) => path.split('/').slice(3).join('/'));

function begin(people: number) {
  const told: boolean[] = [];
  const app = createApp(() => h('p'));
  app.use(VueQueryPlugin);
  const change = ref<AskedChange | null>({ kind: 'undo', changeId: 4 });
  const large = app.runWithContext(() => {
    const inHand = useChange(change, 'Done.', { ownGuard: true });
    return {
      inHand,
      ...useLargeChange('people', { change, inHand, people: () => people }, (isThis) => {
        told.push(isThis);
      }),
    };
  });
  return { ...large, told };
}

test('a change of not too many people is applied while one waits', async () => {
  server.answerWith(seen('a'), { json: { changeId: 8 } });
  const { apply, told } = begin(mostWaitedFor);
  await settled();
  expect([await apply(), sentTo(), told]).toEqual(['applied', ['changes/look', 'changes'], []]);
});

test('one of more people is a job with what was seen, and is told of once it is done', async () => {
  server.answerWith(seen('a'), { json: { jobId: 'j-1' } }, sheet('waiting'));
  const { apply, told, job } = begin(mostWaitedFor + 1);
  await settled();
  expect(await apply()).toBe('under way');
  expect(server.sent[1]?.body).toMatchObject({ change: { kind: 'undo', changeId: 4 }, digest: 'a' });
  expect([job.sheet.value?.state, told]).toEqual(['waiting', []]);
  server.answerWith(sheet('done'));
  await job.stop();
  expect(told).toEqual([true]);
});

test('a job that was refused is said, and what is in its way is looked at before the next try', async () => {
  server.answerWith(seen('a'), { json: { jobId: 'j-2' } }, sheet('failed', { problem: 'effects-differ' }), seen('b'));
  const { apply, told, job, inHand } = begin(31_000);
  await settled();
  expect(await apply()).toBe('refused');
  expect(job.said.value).not.toBeNull();
  await settled();
  expect([inHand.look.value?.digest, told]).toEqual(['b', []]);
  server.answerWith({ json: { jobId: 'j-3' } }, sheet('done'));
  expect([await apply(), told]).toEqual(['under way', [true]]);
});
