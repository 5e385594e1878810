import type { MyActivity, WorkVersion } from '@gate-roster/contract';
import { afterEach, beforeEach, expect, test } from '@jest/globals';
import { nextTick, ref } from 'vue';
import { answerWith } from '../testing/answers.ts';
import { notice } from '../ui/notice.ts';
import * as words from '../words.ts';
import { type MyPieceForm, useMyPiece } from './use-my-piece.ts';

let server: ReturnType<typeof answerWith>;
beforeEach(() => {
  server = answerWith({ json: null });
});
afterEach(() => {
  server.stop();
});

const version = (id: number, state: WorkVersion['state'], some: Partial<WorkVersion> = {}): WorkVersion => ({
  id,
  number: id,
  state,
  words: `words ${id}`,
  link: null,
  files: [],
  skillIds: [],
  handedInAt: null,
  isLate: false,
  isTaken: false,
  mark: null,
  ...some,
});
const activity = (versions: WorkVersion[], tries: number | null = null): MyActivity =>
  ({ id: 40, versions, canHandIn: true, asks: { tries, skillIds: [1, 2] } }) as unknown as MyActivity;
const opened = (versions: WorkVersion[], tries: number | null = null) => {
  const shown = ref(activity(versions, tries));
  const sent: string[] = [];
  const form = useMyPiece(
    () => shown.value,
    (file) => {
      sent.push(file.name);
      return Promise.resolve({ fileName: file.name, base64: '' });
    },
  );
  return { shown, sent, form };
};
const fields = ({ text, link, skillIds, isTyped }: MyPieceForm): unknown[] => [text.value, link.value, skillIds.value, isTyped.value];

test('one begins from the draft, else from what came back, else from nothing', () => {
  const back = version(1, 'sent back', { words: 'first try', link: 'https://example.org', skillIds: [2] });
  expect(fields(opened([back, version(2, 'draft')]).form)).toEqual(['words 2', '', [], false]);
  expect(fields(opened([back]).form)).toEqual(['first try', 'https://example.org', [2], false]);
  expect(fields(opened([version(1, 'marked')]).form)).toEqual(['', '', [], false]);
});

test('what was handed in is shown with the latest first, and counts against the tries', () => {
  const { form } = opened([version(1, 'sent back'), version(2, 'waiting'), version(3, 'draft')], 3);
  expect([form.past.value.map(({ id }) => id), form.waiting.value?.id, form.draft.value?.id, form.triesLeft.value]).toEqual([
    [2, 1],
    2,
    3,
    1,
  ]);
  expect(opened([version(1, 'waiting')]).form.triesLeft.value).toBeNull();
});

test('what is typed is saved as it was sent; what is typed meanwhile is not saved yet', async () => {
  const { form } = opened([version(2, 'draft')]);
  form.text.value = 'done so far';
  form.link.value = ' https://example.org/a ';
  form.toggle(1);
  form.toggle(2);
  form.toggle(1);
  const saving = form.save(false);
  form.text.value = 'done so far, and more';
  expect(form.busy.value).toBe('saving');
  await saving;
  expect(server.sent[0]?.body).toEqual({ words: 'done so far', link: 'https://example.org/a', skillIds: [2], handIn: false });
  expect([form.busy.value, form.isTyped.value, notice.text]).toEqual(['no', true, words.myWork.draftSaved]);
  form.link.value = '';
  await form.save(true);
  expect(server.sent[1]?.body).toMatchObject({ words: 'done so far, and more', link: null, handIn: true });
  expect([form.isTyped.value, notice.text]).toEqual([false, words.myWork.handedIn]);
});

test('another version begins the form again, unless something was typed', async () => {
  const { form, shown } = opened([version(1, 'draft')]);
  shown.value = activity([version(2, 'draft')]);
  await nextTick();
  expect(form.text.value).toBe('words 2');
  form.text.value = 'mine';
  shown.value = activity([version(3, 'draft')]);
  await nextTick();
  expect([form.text.value, form.isTyped.value]).toEqual(['mine', true]);
});

test('a refusal says what is missing, and nothing counts as saved', async () => {
  const { form } = opened([]);
  form.text.value = 'short';
  for (const [what, said] of Object.entries(words.whyNot)) {
    server.answerWith({ problem: { code: 'given-wrong', where: [{ place: 'body', what }] } });
    await form.save(true);
    expect([what, form.problem.value, form.isTyped.value, form.busy.value]).toEqual([what, said, true, 'no']);
  }
  server.answerWith({ problem: { code: 'not-open' } });
  await form.save(true);
  expect(form.problem.value).toBe(words.failures['not-open']);
});

test('each file is sent by itself: one that is refused does not keep the others back', async () => {
  const { form, sent } = opened([]);
  server.answerWith({ json: null }, { problem: { code: 'wrong-file' } }, { json: null });
  await form.addFiles(['a.png', 'b.exe', 'c.pdf'].map((name) => new File(['x'], name)));
  expect([sent, server.sent.length, form.problem.value, form.busy.value]).toEqual([
    ['a.png', 'b.exe', 'c.pdf'],
    3,
    words.myWork.wrongFile,
    'no',
  ]);
});

test('what waits is taken back, unless somebody has begun to mark it', async () => {
  const { form } = opened([version(1, 'waiting')]);
  server.answerWith({ problem: { code: 'being-marked' } });
  await form.takeBack();
  expect(form.problem.value).toBe(words.failures['being-marked']);
  server.answerWith({ json: null });
  await form.takeBack();
  expect([form.problem.value, notice.text]).toEqual([null, words.myWork.takenBack]);
});
