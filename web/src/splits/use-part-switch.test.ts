import type { SplitPart, SplitRow } from '@gate-roster/contract';
import { afterEach, beforeEach, expect, test } from '@jest/globals';
import { ref } from 'vue';
import { answerWith } from '../testing/answers.ts';
import { emptyPart, useSplitDraft } from './use-split-draft.ts';
import { usePartSwitch } from './use-part-switch.ts';

let server: ReturnType<typeof answerWith>;
beforeEach(() => {
  server = answerWith({ json: {} });
});
afterEach(() => {
  server.stop();
});

const row = (isOn: boolean): SplitRow => ({
  id: 5,
  name: 'Drill',
  parts: [{ ...emptyPart(1), isOn, called: 'Pool' }],
  runsUntil: '2026-12-02T20:00:00Z',
  startedAt: null,
  by: null,
  may: { edit: true, stop: true },
});
function opened(isRunning: boolean) {
  const split = ref(row(true));
  const draft = useSplitDraft(split, ref([]), ref(4));
  const part = (): SplitPart => draft.parts.value[0] ?? emptyPart(0);
  return { split, draft, part, ...usePartSwitch(draft, ref(isRunning)) };
}
const done = (changeId: number): object[] => [{ json: { digest: 'seen', conflicts: [] } }, { json: { changeId } }];
/** What was applied, in order: was the part on? */
const applied = (): unknown[] =>
  server.sent.flatMap(({ path, body }) =>
    path.endsWith('/changes') ? [(body as { change: { parts: SplitPart[] } }).change.parts.map(({ isOn }) => isOn)] : [],
  );

test('while the split runs each click takes effect, also one that comes while the last is being saved', async () => {
  server.answerWith(...(done(1) as never[]), ...(done(2) as never[]));
  const { part, draft, turn, isTurning } = opened(true);
  const first = turn(part());
  expect([part().isOn, isTurning.value]).toEqual([false, true]);
  const second = turn(part());
  expect(draft.change.value).toBeNull();
  await Promise.all([first, second]);
  expect([applied(), part().isOn, isTurning.value]).toEqual([[[false], [true]], true, false]);
});

test('a split that does not run, or has more to save, waits for Save', async () => {
  const resting = opened(false);
  await resting.turn(resting.part());
  const busy = opened(true);
  busy.draft.name.value = 'Another name';
  await busy.turn(busy.part());
  expect(server.sent).toEqual([]);
  for (const { draft } of [resting, busy]) expect(draft.change.value).toMatchObject({ parts: [{ isOn: false }] });
});

test('a switch that is refused goes back', async () => {
  server.answerWith({ problem: { code: 'not-open' } } as never);
  const { part, draft, turn, isTurning } = opened(true);
  await turn(part());
  expect([part().isOn, draft.change.value, isTurning.value]).toEqual([true, null, false]);
});
