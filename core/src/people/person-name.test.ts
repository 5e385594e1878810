import { foldName, sameName, signInName, splitFullName } from './person-name.ts';

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
  ['Ana Maria Holt', 'Ana Maria', 'Holt'],
  ['Bao', '', 'Bao'],
])('%s splits', (text, givenName, familyName) => {
  expect(splitFullName(text)).toEqual({ givenName, familyName });
});

describe('signInName', () => {
  const hana = { givenName: 'Hana', familyName: 'Petrossian' };
  it('takes two digits when the name is taken, and longer ones when those are', () => {
    expect(
      signInName(
        hana,
        () => false,
        () => 42,
      ),
    ).toBe('hpetrossian');
    expect(
      signInName(
        hana,
        (name) => name === 'hpetrossian',
        () => 7,
      ),
    ).toBe('hpetrossian07');
    const taken = new Set(['hpetrossian', ...Array.from({ length: 100 }, (_, digits) => `hpetrossian${String(digits).padStart(2, '0')}`)]);
    expect(
      taken.has(
        signInName(
          hana,
          (name) => taken.has(name),
          () => 3,
        ),
      ),
    ).toBe(false);
  });
  it('falls back to learner where no plain letters remain', () => {
    expect(
      signInName(
        { givenName: '伟', familyName: '王' },
        () => false,
        () => 12,
      ),
    ).toBe('learner12');
  });
  it('begins with the prefix of the group, and has digits where a leader makes it', () => {
    const made = (more: object): string =>
      signInName(
        hana,
        () => false,
        () => 7,
        more,
      );
    expect(made({ prefix: 'sea' })).toBe('seahpetrossian');
    expect(made({ prefix: 'sea', withDigits: true })).toBe('seahpetrossian07');
  });
});
