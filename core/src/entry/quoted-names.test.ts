import fc from 'fast-check';
import { quoteName, splitQuoted, unquoteName } from './quoted-names.ts';

const name = fc
  .stringMatching(/^[A-Za-z;|,>" ]{1,12}$/u)
  .map((text) => text.trim().replace(/\s+/gu, ' '))
  .filter((text) => text !== '');

test('names survive being written into one cell and read back, whatever signs they hold', () => {
  let quoted = 0;
  fc.assert(
    fc.property(fc.array(fc.array(name, { minLength: 1, maxLength: 3 }), { minLength: 1, maxLength: 4 }), (paths) => {
      const cell = paths.map((path) => path.map(quoteName).join(' > ')).join('; ');
      quoted += cell.includes('"') ? 1 : 0;
      expect(splitQuoted(cell, ';\n').map((path) => splitQuoted(path, '>').map(unquoteName))).toEqual(paths);
    }),
    { numRuns: 2000 },
  );
  expect(quoted).toBeGreaterThan(200);
});

test('a quote inside a word is a sign like any other', () => {
  expect(splitQuoted('6" pipe; Shore', ';')).toEqual(['6" pipe', 'Shore']);
});
