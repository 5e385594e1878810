import type { Change } from '@gate-roster/contract';
import { VueQueryPlugin } from '@tanstack/vue-query';
import { afterEach, beforeEach, expect, test } from '@jest/globals';
import { createApp, h, ref, type Ref } from 'vue';
import { answerWith } from '../testing/answers.ts';
import { notice } from '../ui/notice.ts';
import { type ChangeInHand, useChange } from './use-change.ts';

let server: ReturnType<typeof answerWith>;
beforeEach(() => {
  server = answerWith({ json: {} });
});
afterEach(() => {
  server.stop();
});

const renamed = (name: string): Change => ({ kind: 'rename-group', groupId: 3, name }) as never;
const seen = (digest: string): { json: unknown } => ({ json: { digest, conflicts: [] } });
const settled = (): Promise<void> => new Promise((resolve) => setTimeout(resolve, 20));

function inHand(change: Ref<Change | null>, settleMilliseconds = 0): ChangeInHand {
  const app = createApp(() => h('p'));
  app.use(VueQueryPlugin);
  return app.runWithContext(() => useChange(change, 'Renamed.', { ownGuard: true, settleMilliseconds }));
}

test('what is applied is what was seen last, under one number, and can be undone from the message', async () => {
  server.answerWith(seen('first'), seen('second'), { json: { changeId: 12 } });
  const change = ref<Change | null>(renamed('East'));
  const { look, apply, appliedId, isLooking } = inHand(change);
  expect([await apply(), isLooking.value]).toEqual([false, true]);
  await settled();
  change.value = renamed('West');
  await settled();
  expect(look.value?.digest).toBe('second');
  // Pressed twice, it is applied once.
  expect(await Promise.all([apply(), apply()])).toEqual([true, false]);
  expect(server.sent.map(({ path }) => path.split('/').at(-1))).toEqual(['look', 'look', 'changes']);
  expect(server.sent[2]?.body).toMatchObject({ change: renamed('West'), digest: 'second' });
  expect([appliedId.value, notice.text, notice.action === null]).toEqual([12, 'Renamed.', false]);
});

test('when others changed something meanwhile, nothing is applied, the new effects are shown, and the next try is another one', async () => {
  const fresh = { digest: 'later', conflicts: [{ code: 'x' }] };
  server.answerWith(seen('first'), { problem: { code: 'effects-differ', look: fresh } }, { json: { changeId: 5 } });
  const { look, apply, problem } = inHand(ref<Change | null>(renamed('East')));
  await settled();
  expect(await apply()).toBe(false);
  expect([look.value, typeof problem.value]).toEqual([fresh, 'string']);
  expect(await apply()).toBe(true);
  const [, refused, applied] = server.sent.map(({ body }) => body as { digest: string; requestId: string });
  expect([refused?.digest, applied?.digest]).toEqual(['first', 'later']);
  expect(applied?.requestId).not.toBe(refused?.requestId);
});

test('while somebody types nothing is looked at, and nothing can be applied until what was typed has been', async () => {
  server.answerWith(seen('only'));
  const change = ref<Change | null>(renamed('E'));
  const { apply, isLooking } = inHand(change, 10);
  for (const name of ['Ea', 'Eas', 'East']) {
    change.value = renamed(name);
    await Promise.resolve();
  }
  expect([await apply(), isLooking.value, server.sent.length]).toEqual([false, true, 0]);
  await new Promise((resolve) => setTimeout(resolve, 60));
  expect(server.sent.map(({ body }) => body)).toEqual([{ change: renamed('East') }]);
});

test('the same change looked at once more can be applied meanwhile, as it was seen; its new look is shown when it comes', async () => {
  server.answerWith(seen('first'), seen('second'), seen('third'), { json: { changeId: 7 } });
  const change = ref<Change | null>(renamed('East'));
  const { look, apply, isLooking } = inHand(change);
  await settled();
  change.value = renamed('East');
  await Promise.resolve();
  expect([isLooking.value, look.value?.digest]).toEqual([false, 'first']);
  await settled();
  expect(look.value?.digest).toBe('second');
  change.value = renamed('East');
  await Promise.resolve();
  expect(await apply()).toBe(true);
  await settled();
  expect([server.sent.at(-1)?.body, look.value?.digest]).toMatchObject([{ digest: 'second' }, 'second']);
});

test('an answer that comes too late does not show what is no longer asked for', async () => {
  const change = ref<Change | null>(renamed('East'));
  server.answerWith(seen('late'));
  const { look } = inHand(change);
  change.value = null;
  await settled();
  expect(look.value).toBeNull();
});

test('why it could not be applied stays to be read when the same is looked at again, and goes with another', async () => {
  server.answerWith(seen('a'), { problem: { code: 'not-found' } }, seen('b'));
  const change = ref<Change | null>(renamed('East'));
  const { apply, problem, lookAgain } = inHand(change);
  await settled();
  await apply();
  const said = problem.value;
  expect(said).not.toBeNull();
  lookAgain();
  await settled();
  expect(problem.value).toBe(said);
  change.value = renamed('West');
  await settled();
  expect(problem.value).toBeNull();
});
