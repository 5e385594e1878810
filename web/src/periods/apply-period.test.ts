import type { Change, Look } from '@gate-roster/contract';
import { VueQueryPlugin } from '@tanstack/vue-query';
import { afterEach, beforeEach, expect, test } from '@jest/globals';
import { createApp, h, ref } from 'vue';
import type { ChangeInHand } from '../changes/use-change.ts';
import { answerWith } from '../testing/answers.ts';
import { notice } from '../ui/notice.ts';
import { useApplyPeriod } from './apply-period.ts';

let server: ReturnType<typeof answerWith>;
beforeEach(() => {
  server = answerWith({ json: {} });
});
afterEach(() => {
  server.stop();
});

const change = { kind: 'close-period' } as unknown as Change;

/** What was looked at is about so many people; `isApplied`: whether applying it at once goes well. */
function looked(seen: Partial<Look> | null, isApplied = true) {
  const about = seen && ({ digest: 'seen', losing: 0, changedPeople: 0, leaves: [], ...seen } as unknown as Look);
  const told = { atOnce: 0, done: 0 };
  const inHand = {
    look: ref(about),
    apply: () => {
      told.atOnce++;
      return Promise.resolve(isApplied);
    },
  } as unknown as ChangeInHand;
  const app = createApp(() => h('p'));
  app.use(VueQueryPlugin);
  const { apply } = app.runWithContext(() =>
    useApplyPeriod(ref<Change | null>(change), inHand, { said: 'Closed.', done: () => void told.done++ }),
  );
  return { apply, told };
}

test('few people: at once, and what follows comes only when it was applied', async () => {
  const few = looked({ losing: 2000, changedPeople: 1999, leaves: [{ groupId: 1, group: 'Inshore', people: 2000 }] });
  await few.apply();
  const refused = looked({ losing: 3 }, false);
  await refused.apply();
  const notLooked = looked(null, false);
  await notLooked.apply();
  expect([few.told, refused.told, notLooked.told]).toEqual([
    { atOnce: 1, done: 1 },
    { atOnce: 1, done: 0 },
    { atOnce: 1, done: 0 },
  ]);
  expect(server.sent).toEqual([]);
});

test('many people by any of its numbers: as a job that goes on without the page, with what was seen', async () => {
  for (const seen of [{ losing: 2001 }, { changedPeople: 2001 }, { leaves: [{ groupId: 1, group: 'Inshore', people: 2001 }] }]) {
    server.sent.length = 0;
    server.answerWith(
      { json: { jobId: 'j-1' } },
      { json: { state: 'done', done: 1, ofAll: 1, changeId: 12, newPeople: 0, problem: null } },
    );
    const { apply, told } = looked(seen);
    await apply();
    expect([seen, told]).toEqual([seen, { atOnce: 0, done: 1 }]);
    expect(server.sent[0]?.body).toMatchObject({ change, digest: 'seen' });
    expect(notice.text).toBe('Closed.');
  }
});
