import { signInName, signInNameProblem } from './sign-in-name.ts';

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
  it('folds any script to plain letters, and falls back to the ID number or learner', () => {
    const of = (givenName: string, familyName: string, idNumber: string | null = null): string =>
      signInName(
        { givenName, familyName, idNumber },
        () => false,
        () => 12,
      );
    expect(of('伟', '王')).toBe('wwang');
    expect(of('Ελένη', 'Παπαδάκη')).toBe('epapadaki');
    expect(of('Søren', "O'Brien")).toBe('sobrien');
    expect(of('—', '…', 'BR-0412')).toBe('br0412');
    expect(of('—', '…')).toBe('learner12');
  });
  it('is never a reserved or offensive word', () => {
    const made = signInName(
      { givenName: 'A', familyName: 'Dmin', idNumber: null },
      () => false,
      () => 5,
    );
    expect(made).not.toBe('admin');
    expect(['admin', 'Root', 'support', 'ad.min', 'help1', 'аdmin', 'ａｄｍｉｎ'].map(signInNameProblem)).toEqual(
      Array(7).fill('reserved'),
    );
    expect(['fuckface', 'sh1thead'].map(signInNameProblem)).toEqual(['offensive', 'offensive']);
    expect(['ab', 'a b', '-ada', 'a'.repeat(61), 'ada.lind'].map(signInNameProblem)).toEqual([
      'too short',
      'signs',
      'signs',
      'too long',
      null,
    ]);
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
