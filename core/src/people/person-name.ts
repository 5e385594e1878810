/** Letters without marks or case, for comparing what two people typed for one name. */
export function foldName(name: string): string {
  return name
    .normalize('NFD')
    .replace(/\p{M}+/gu, '')
    .toLowerCase()
    .replace(/[øðþßæœłđı]/gu, (letter) => plainLetters[letter] ?? letter)
    .replace(/[^\p{L}\p{N}]+/gu, '');
}

const plainLetters: Record<string, string> = {
  ø: 'o',
  ð: 'd',
  þ: 'th',
  ß: 'ss',
  æ: 'ae',
  œ: 'oe',
  ł: 'l',
  đ: 'd',
  ı: 'i',
};

export interface PersonName {
  givenName: string;
  familyName: string;
}

export const sameName = (a: PersonName, b: PersonName): boolean =>
  foldName(a.givenName) === foldName(b.givenName) && foldName(a.familyName) === foldName(b.familyName);

export const fullName = (name: PersonName): string => `${name.givenName} ${name.familyName}`.trim();

/**
 * A full name in one cell; the last word is the family name unless a comma says otherwise.
 * @example splitFullName('Brandt, Ottoline') // { givenName: 'Ottoline', familyName: 'Brandt' }
 * @example splitFullName('Brandt, Ottoline, Jr.') // { givenName: 'Ottoline, Jr.', familyName: 'Brandt' }
 */
export function splitFullName(text: string): PersonName {
  const [before = '', ...after] = text.split(',').map((part) => part.trim());
  if (after.length > 0) return { givenName: after.filter((part) => part !== '').join(', '), familyName: before };
  const words = before.split(/\s+/u);
  return { givenName: words.slice(0, -1).join(' '), familyName: words.at(-1) ?? '' };
}
