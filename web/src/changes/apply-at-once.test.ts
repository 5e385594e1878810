import type { Change } from '@gate-roster/contract';
import { afterEach, beforeEach, expect, test } from '@jest/globals';
import { notice } from '../ui/notice.ts';
import { answerWith } from '../testing/answers.ts';
import * as words from '../words.ts';
import { applyAtOnce } from './apply-at-once.ts';

let server: ReturnType<typeof answerWith>;
beforeEach(() => {
  server = answerWith({ json: {} });
});
afterEach(() => {
  server.stop();
});

const paused: Change = { kind: 'set-group-state', groupIds: [3], state: 'paused' } as never;
const seen = (digest: string, conflicts: object[] = []): { json: unknown } => ({ json: { digest, conflicts } });
const settled = (): Promise<void> => new Promise((resolve) => setTimeout(resolve, 20));
const paths = (): string[] => server.sent.map(({ path }) => path.split('/').at(-1) ?? '');

test('what was seen is applied, and the message takes it back in the same way', async () => {
  server.answerWith(seen('as it is'), { json: { changeId: 12 } }, seen('as it was'), { json: { changeId: 13 } });
  expect(await applyAtOnce(paused, 'Paused.')).toBe(true);
  expect(notice.text).toBe('Paused.');
  notice.action?.run();
  await settled();
  expect(paths()).toEqual(['look', 'changes', 'look', 'changes']);
  expect(server.sent[1]?.body).toMatchObject({ change: paused, digest: 'as it is' });
  expect(server.sent[3]?.body).toMatchObject({ change: { kind: 'undo', changeId: 12 }, digest: 'as it was' });
  expect(notice.text).toBe(words.changes.undone);
});

test('a change that is blocked is not applied, and the message says why; a warning does not stop it', async () => {
  const conflict = { code: 'group paused', count: 2 };
  const [code] = Object.keys(words.changes.conflicts) as (keyof typeof words.changes.conflicts)[];
  server.answerWith(seen('x', [{ ...conflict, code, blocks: true }]));
  expect(await applyAtOnce(paused, 'Paused.')).toBe(false);
  expect([paths(), notice.text]).toEqual([['look'], code ? words.changes.conflicts[code](2) : '']);
  server.answerWith(seen('x', [{ ...conflict, code, blocks: false }]), { json: { changeId: 1 } });
  expect(await applyAtOnce(paused, 'Paused.')).toBe(true);
});

test('an undo that anything else depends on is left to the log', async () => {
  server.answerWith(seen('x'), { json: { changeId: 12 } }, seen('y', [{ code: 'any', count: 1, blocks: false }]));
  await applyAtOnce(paused, 'Paused.');
  notice.action?.run();
  await settled();
  expect([paths(), notice.text]).toEqual([['look', 'changes', 'look'], words.changes.undoInLog]);
});

test('a refusal is told in words', async () => {
  server.answerWith(seen('x'), { problem: { code: 'not-open' } });
  expect(await applyAtOnce(paused, 'Paused.')).toBe(false);
  expect([notice.isShown, notice.text]).toEqual([true, words.failures['not-open']]);
});
