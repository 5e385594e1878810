import fc from 'fast-check';
import { bestOf, type HandIn, type MarkedVersion, resultOfWork, whyNotHandIn } from './marks.ts';

const asks: HandIn = {
  asked: '',
  words: 'must',
  link: 'may',
  files: 'no',
  bestScore: 20,
  passScore: 10,
  skillIds: [1, 2],
  tries: 3,
  lateCounts: false,
  rubric: [],
};

const version = fc.record({
  handedInAt: fc.integer({ min: 0, max: 1000 }).map((hours) => new Date(Date.UTC(2026, 0, 1, hours)).toISOString()),
  isLate: fc.boolean(),
  mark: fc.oneof(
    fc.constant(null),
    fc.constant({ verdict: 'sent back' as const }),
    fc.integer({ min: 0, max: 20 }).map((score) => ({ verdict: 'marked' as const, score })),
  ),
});

test('the best passed version counts, else the best marked one; late ones only where late counts; the order does not matter', () => {
  fc.assert(
    fc.property(
      fc.array(version, { maxLength: 6 }),
      fc.boolean(),
      fc.option(fc.integer({ min: 0, max: 20 }), { nil: null }),
      (versions, lateCounts, passScore) => {
        const handIn = { ...asks, lateCounts, passScore };
        const result = resultOfWork(versions, handIn);
        expect(resultOfWork(versions.toReversed(), handIn)).toEqual(result);
        if (versions.length === 0) {
          expect(result).toBeNull();
          return;
        }
        // Written again in another way: every score that counts, the highest first.
        const scores: number[] = [];
        for (const each of versions) if (each.mark?.verdict === 'marked' && !(each.isLate && !lateCounts)) scores.push(each.mark.score);
        const highest = scores.length === 0 ? null : Math.max(...scores);
        expect(result?.score).toBe(highest === null ? null : (highest * 100) / 20);
        expect(result?.finished).toBe(highest !== null && (passScore === null || highest >= passScore));
        expect(result?.tries).toBe(versions.length);
        expect(versions.map(({ handedInAt }) => handedInAt)).toContain(result?.lastAt);
      },
    ),
  );
});

test('it is dated when the version that counts was handed in, the first of two that are as good', () => {
  const at = (day: number, score: number): MarkedVersion => ({
    handedInAt: `2026-03-0${day}T10:00:00.000Z`,
    isLate: false,
    mark: { verdict: 'marked', score },
  });
  expect(resultOfWork([at(1, 4), at(4, 15), at(3, 15)], asks)?.lastAt).toBe('2026-03-03T10:00:00.000Z');
});

test('the lines of a rubric add up to the best score', () => {
  expect(
    bestOf({
      bestScore: 3,
      rubric: [
        { name: 'a', best: 8 },
        { name: 'b', best: 4 },
      ],
    }),
  ).toBe(12);
});

test.each([
  [{ words: ' ', link: null, files: 0, skillIds: [] }, 0, ['nothing', 'words missing']],
  [{ words: 'So', link: null, files: 1, skillIds: [] }, 0, ['no files']],
  [{ words: 'So', link: 'https://a.example', files: 0, skillIds: [1, 9] }, 0, ['no such skill']],
  [{ words: 'So', link: null, files: 0, skillIds: [2] }, 3, ['no tries left']],
  [{ words: 'So', link: null, files: 0, skillIds: [2] }, 2, []],
])('what keeps %j from being handed in after %i tries', (draft, earlier, why) => {
  expect(whyNotHandIn(draft, asks, earlier)).toEqual(why);
});
