import fc from 'fast-check';
import { arrangeLine, type Place } from './arrange-line.ts';

const lines = fc
  .uniqueArray(fc.record({ key: fc.integer({ min: 1, max: 30 }), place: fc.integer({ min: 1, max: 500 }) }), {
    selector: ({ key }) => key,
    maxLength: 12,
  })
  .filter((line) => new Set(line.map(({ place }) => place)).size === line.length);

const ordered = (line: readonly Place[]): number[] => line.toSorted((a, b) => a.place - b.place).map(({ key }) => key);
const moved = (line: readonly Place[], changed: readonly Place[]): Place[] =>
  line.map((each) => changed.find(({ key }) => key === each.key) ?? each);

test('the places stay the same; who is chosen comes first, and within both parts the order stays', () => {
  fc.assert(
    fc.property(lines, fc.uniqueArray(fc.integer({ min: 1, max: 30 })), (line, chosen) => {
      const after = moved(line, arrangeLine(line, chosen, 'first'));
      expect(after.map(({ place }) => place).sort((a, b) => a - b)).toEqual(line.map(({ place }) => place).sort((a, b) => a - b));
      const before = ordered(line);
      expect(ordered(after)).toEqual([...before.filter((key) => chosen.includes(key)), ...before.filter((key) => !chosen.includes(key))]);
    }),
  );
});

test('two change places, and nobody else; twice is as before', () => {
  fc.assert(
    fc.property(
      lines.filter((line) => line.length >= 2),
      (line) => {
        const chosen = line.slice(0, 2).map(({ key }) => key);
        const changed = arrangeLine(line, chosen, 'swap');
        expect(changed.map(({ key }) => key).sort()).toEqual([...chosen].sort());
        const after = moved(line, changed);
        expect(ordered(moved(after, arrangeLine(after, chosen, 'swap')))).toEqual(ordered(line));
      },
    ),
  );
  expect(arrangeLine([{ key: 1, place: 1 }], [1, 2], 'swap')).toEqual([]);
});
