import { foldName, sameName, splitFullName } from './person-name.ts';

test('names are folded to plain letters', () => {
  expect(['Šimić', 'Ólafsdóttir', 'Sørlie', 'O’Dowell', 'Mbeki-Strand', 'Straße'].map(foldName)).toEqual([
    'simic',
    'olafsdottir',
    'sorlie',
    'odowell',
    'mbekistrand',
    'strasse',
  ]);
  expect(sameName({ givenName: 'Zoltan', familyName: 'Varga' }, { givenName: 'ZOLTÁN', familyName: 'Varga ' })).toBe(true);
});

test.each([
  ['Hana Petrossian', 'Hana', 'Petrossian'],
  ['Petrossian, Hana', 'Hana', 'Petrossian'],
  ['Brandt, Ottoline, Jr.', 'Ottoline, Jr.', 'Brandt'],
  ['Ana Maria Holt', 'Ana Maria', 'Holt'],
  ['Bao', '', 'Bao'],
])('%s splits', (text, givenName, familyName) => {
  expect(splitFullName(text)).toEqual({ givenName, familyName });
});
