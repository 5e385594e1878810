import type { WorkFile } from '@gate-roster/contract';
import { jest } from '@jest/globals';
import { effectScope } from 'vue';
import { useShownFile } from './use-shown-file.ts';

const file = (id: number, mimeType: string): WorkFile => ({ id, mimeType, fileName: `${id}`, address: `/f/${id}` }) as never;
const [note, other, photo, paper, sheet] = [
  file(1, 'text/plain'),
  file(2, 'text/plain'),
  file(3, 'image/png'),
  file(4, 'application/pdf'),
  file(5, 'application/zip'),
];
const kept = new Set<string>();
beforeEach(() => {
  kept.clear();
  jest.spyOn(URL, 'createObjectURL').mockImplementation(() => {
    const address = `blob:${kept.size + 1}`;
    kept.add(address);
    return address;
  });
  jest.spyOn(URL, 'revokeObjectURL').mockImplementation((address) => {
    kept.delete(address);
  });
});
afterEach(() => {
  jest.restoreAllMocks();
});

/** Files that arrive when the test says so. */
function begin() {
  const waiting = new Map<number, { resolve: (blob: Blob) => void; reject: (error: Error) => void }>();
  const scope = effectScope();
  const shown = scope.run(() => useShownFile(({ id }) => new Promise((resolve, reject) => waiting.set(id, { resolve, reject }))));
  if (!shown) throw new Error('no scope');
  const arrives = async (id: number, holds = `bytes of ${id}`): Promise<void> => {
    waiting.get(id)?.resolve(new Blob([holds]));
    await new Promise((resolve) => setTimeout(resolve, 5));
  };
  return { ...shown, scope, waiting, arrives };
}

test('text, pictures and PDF are shown; what can be none of these is opened without them; again closes it', async () => {
  const { show, content, opened, arrives } = begin();
  for (const [each, holds] of [
    [note, { text: 'bytes of 1' }],
    [photo, { picture: 'blob:1' }],
    [paper, { pdf: new TextEncoder().encode('bytes of 4') }],
    [sheet, null],
  ] as const) {
    const showing = show(each);
    await arrives(each.id);
    await showing;
    expect([opened.value?.id, content.value]).toEqual([each.id, holds]);
  }
  await show(sheet);
  expect([opened.value, content.value]).toEqual([null, null]);
});

test('a file that arrives after another was opened is not shown in its place, nor is its failure', async () => {
  const { show, content, opened, problem, waiting, arrives } = begin();
  const all = [show(note), show(photo), show(paper), show(other)];
  await arrives(2, 'the right one');
  await arrives(1);
  await arrives(3);
  waiting.get(4)?.reject(new Error('gone'));
  await Promise.all(all);
  expect([opened.value?.id, content.value, problem.value, kept.size]).toEqual([2, { text: 'the right one' }, null, 0]);
});

test('a file that cannot be had says why, until another is opened', async () => {
  const { show, problem, waiting, arrives } = begin();
  const showing = show(note);
  waiting.get(1)?.reject(new Error('gone'));
  await showing;
  expect(problem.value).not.toBeNull();
  const next = show(other);
  expect(problem.value).toBeNull();
  await arrives(2);
  await next;
});

test('a picture is let go of when another file is opened, and when the screen is left', async () => {
  const { show, scope, arrives, content } = begin();
  const first = show(photo);
  await arrives(3);
  await first;
  expect(kept.size).toBe(1);
  const second = show(note);
  await arrives(1);
  await second;
  expect(kept.size).toBe(0);
  const third = show(photo);
  await arrives(3);
  await third;
  scope.stop();
  expect([kept.size, content.value]).toEqual([0, null]);
});
