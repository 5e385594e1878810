import { KeptAnswers } from './kept-answers.ts';

test('what was asked before is not looked for again; what failed is, and so is what was asked long ago', async () => {
  const kept = new KeptAnswers();
  const looked: unknown[] = [];
  const ask = (question: unknown): Promise<string> =>
    kept.of(question, () => {
      looked.push(question);
      return Promise.resolve(JSON.stringify(question));
    });
  expect(await Promise.all([ask([1, null]), ask([1, null])])).toEqual(['[1,null]', '[1,null]']);
  expect(await ask([1, { own: [2] }])).toBe('[1,{"own":[2]}]');
  expect(looked).toEqual([
    [1, null],
    [1, { own: [2] }],
  ]);

  let tries = 0;
  const failing = (): Promise<number> =>
    kept.of('fails', () => (++tries === 1 ? Promise.reject(new Error('once')) : Promise.resolve(tries)));
  await expect(failing()).rejects.toThrow('once');
  expect([await failing(), await failing()]).toEqual([2, 2]);

  for (let n = 0; n < 200; n++) {
    await ask(n);
    // In use all the time.
    await ask([1, null]);
  }
  expect(looked.filter((each) => JSON.stringify(each) === '[1,null]')).toHaveLength(1);
  await ask(0);
  expect(looked.filter((each) => each === 0)).toHaveLength(2);
});
