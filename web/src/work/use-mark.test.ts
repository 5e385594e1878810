import { change as changeShape, type WorkSheet } from '@gate-roster/contract';
import { afterEach, expect, test } from '@jest/globals';
import { nextTick } from 'vue';
import { markDrafts } from './mark-drafts.ts';
import { useMark } from './use-mark.ts';

afterEach(() => {
  markDrafts.clear();
});

type Rubric = WorkSheet['asks']['rubric'];
type Mark = WorkSheet['version']['mark'];
const sheet = ({ rubric = [], mark = null, versionId = 7 }: { rubric?: Rubric; mark?: Mark; versionId?: number } = {}): WorkSheet =>
  ({
    versionId,
    asks: { bestScore: 20, passScore: 12, rubric, skillIds: [1, 2], words: 'must', link: 'no', files: 'no', asked: '', tries: null },
    version: { skillIds: [2, 9], mark },
  }) as unknown as WorkSheet;
const lines: Rubric = [
  { name: 'Knots', best: 6 },
  { name: 'Words', best: 4 },
];
const given = { id: 31, verdict: 'marked', score: 8, points: [5, 3], skillIds: [1, 9], comment: 'Tidy.' } as Mark;
const marks = (change: object): object => (change as { marks: object[] }).marks[0] ?? {};

test('one score: what is typed counts once it is a number that can be given', () => {
  const form = useMark(sheet());
  const typed = (text: string): unknown[] => {
    form.typedScore.value = text;
    return [form.score.value, form.isBeyond.value];
  };
  expect(['', ' ', 'ten', '-1', '1e999', '0', '12.5', '20', '20.5'].map(typed)).toEqual([
    [null, false],
    [null, false],
    [null, false],
    [null, false],
    [null, false],
    [0, false],
    [12.5, false],
    [20, false],
    [20.5, true],
  ]);
  expect([form.best, form.hasLines]).toEqual([20, false]);
});

test('a rubric: its lines add up, and a line takes whole points up to its best', () => {
  const form = useMark(sheet({ rubric: lines }));
  expect([form.best, form.hasLines, form.score.value]).toEqual([10, true, null]);
  const typed = (...points: string[]): unknown[] => {
    form.points.value = points;
    return [form.score.value, form.isBeyond.value, form.isWrongLine(0), form.isWrongLine(1)];
  };
  expect(typed('6', '')).toEqual([null, false, false, false]);
  expect(typed('6', '4')).toEqual([10, false, false, false]);
  // As much as the whole gives, and more than the line does.
  expect(typed('5', '5')).toEqual([10, true, false, true]);
  expect(typed('2.5', '3')).toEqual([5.5, true, true, false]);
  expect(typed('-2', '3')).toEqual([null, false, false, false]);
});

test('it begins with the skills that were claimed and can be shown, or with the mark that is corrected', () => {
  expect(useMark(sheet()).skillIds.value).toEqual([2]);
  const form = useMark(sheet({ rubric: lines, mark: given }));
  expect([form.points.value, form.skillIds.value, form.comment.value, form.score.value]).toEqual([['5', '3'], [1], 'Tidy.', 8]);
  expect(marks(form.changeTo('marked'))).toMatchObject({ corrects: 31, points: [5, 3], score: 8, skillIds: [1] });
});

test('what is sent is a change as the server takes it; sent back it has a word and no score', () => {
  const form = useMark(sheet());
  form.typedScore.value = '15';
  form.toggle(1);
  form.toggle(2);
  form.comment.value = ' Again, with the bowline. ';
  for (const verdict of ['marked', 'sent back'] as const) expect(changeShape.safeParse(form.changeTo(verdict)).success).toBe(true);
  expect(marks(form.changeTo('marked'))).toEqual({
    versionId: 7,
    verdict: 'marked',
    score: 15,
    points: null,
    skillIds: [1],
    comment: 'Again, with the bowline.',
    corrects: null,
  });
  expect(marks(form.changeTo('sent back'))).toMatchObject({ score: null, points: null, skillIds: [], comment: 'Again, with the bowline.' });
});

test('what was typed is there when one comes back to the piece, and not at another; nothing is kept once it is as it was, or saved', async () => {
  const first = useMark(sheet());
  first.typedScore.value = '9';
  await nextTick();
  expect([first.isTyped.value, useMark(sheet()).typedScore.value, useMark(sheet({ versionId: 8 })).typedScore.value]).toEqual([
    true,
    '9',
    '',
  ]);
  first.typedScore.value = '';
  await nextTick();
  expect([first.isTyped.value, markDrafts.size]).toEqual([false, 0]);
  first.comment.value = 'Good.';
  await nextTick();
  first.forget();
  expect(useMark(sheet()).comment.value).toBe('');
});
