import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { pathToFileURL } from 'node:url';
import { Thread } from './thread.ts';

/* Threads run what is built; here one is written for the test, which speaks the same way. */
const folder = mkdtempSync(path.join(os.tmpdir(), 'gate-roster-thread-'));
const file = pathToFileURL(path.join(folder, 'answering.js')).href;
beforeAll(() => {
  writeFileSync(
    path.join(folder, 'answering.js'),
    `const { parentPort, workerData } = require('node:worker_threads');
     parentPort.on('message', ({ number, question }) => {
       if (question === 'break') throw new Error('broken');
       if (question === 'fail') parentPort.postMessage({ number, error: { message: 'cannot', code: '57P01' } });
       else if (question !== 'never') parentPort.postMessage({ number, answer: [workerData, question] });
     });`,
  );
});
afterAll(() => {
  rmSync(folder, { recursive: true });
});

test('answers find their questions; a failure is told; a thread that breaks fails what waits for it, and another answers the next', async () => {
  const thread = new Thread(file, 'began');
  expect(thread.isThere).toBe(true);
  expect(await Promise.all([thread.ask(1), thread.ask('two')])).toEqual([
    ['began', 1],
    ['began', 'two'],
  ]);
  await expect(thread.ask('fail')).rejects.toMatchObject({ message: 'cannot', code: '57P01' });
  const left = thread.ask('never');
  await expect(Promise.all([left, thread.ask('break')])).rejects.toThrow('broken');
  expect(await thread.ask(3)).toEqual(['began', 3]);
  const stopped = thread.ask('never');
  await Promise.all([expect(stopped).rejects.toThrow('stopped'), thread.stop()]);
  expect(new Thread('no-such-thread').isThere).toBe(false);
});
