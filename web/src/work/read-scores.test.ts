import { readScores } from './read-scores.ts';

test('scores are read by piece, in any order of columns; lines without a score are passed over', async () => {
  const text =
    '\uFEFFWord,Score,Learner,Piece\r\n"Good, clear","14,5","Holt, Bao",17\r\n,,"Farrow, Ottoline",18\r\nLate,x,Someone,19\r\n,12,Someone,0\r\n,0,Someone,20\r\n';
  expect(await readScores(text)).toEqual([
    { versionId: 17, score: 14.5, comment: 'Good, clear' },
    { versionId: 20, score: 0, comment: '' },
  ]);
});

test('a file without both columns is none', async () => {
  expect(await readScores('Name,Score\nBao,3\n')).toBeNull();
});
