import anyAscii from 'any-ascii';
import { englishDataset, englishRecommendedTransformers, RegExpMatcher } from 'obscenity';
import { foldName, type PersonName } from './person-name.ts';

/** Names that look as if the platform itself were speaking. */
const reserved = new Set(
  'admin administrator administration root system sysadmin superuser support help helpdesk info mail postmaster webmaster hostmaster abuse security staff moderator owner official api www login signin signout register join account gateroster nobody anonymous guest test null undefined me'.split(
    ' ',
  ),
);
const offensive = new RegExpMatcher({ ...englishDataset.build(), ...englishRecommendedTransformers });

const lengths = { least: 3, most: 60 };

export type SignInNameProblem = 'too short' | 'too long' | 'signs' | 'reserved' | 'offensive';

/** Why a name is none to sign in with; null when it is. */
export function signInNameProblem(name: string): SignInNameProblem | null {
  if (name.length < lengths.least) return 'too short';
  if (name.length > lengths.most) return 'too long';
  if (!/^[\p{L}\p{N}][\p{L}\p{N}._-]*$/u.test(name)) return 'signs';
  return wordProblem(name);
}

function wordProblem(name: string): 'reserved' | 'offensive' | null {
  // Letters of other scripts that look like plain ones make no other name.
  const latin = anyAscii(name.normalize('NFKC'));
  const plain = latin.toLowerCase().replace(/[._-]/gu, '').replace(/\d+$/u, '');
  if (reserved.has(plain)) return 'reserved';
  return offensive.hasMatch(name) || offensive.hasMatch(latin) ? 'offensive' : null;
}

/** A name in plain letters of any script, as far as there are some. @example plainLetters('Ωμέγα') // 'Omega' */
export const plainLetters = (name: string): string => foldName(anyAscii(name)).replace(/[^a-z0-9]/gu, '');

/**
 * A sign-in name from a person's name: the group's prefix if it has one, first letter and family name; where no plain
 * letters can be made of it the ID number, else `learner`. `taken` decides; on a clash, and always `withDigits`, two digits
 * from `twoDigits` are added until one is free. What comes out is never a reserved or offensive word.
 * @example signInName({ givenName: 'Hana', familyName: 'Petrossian' }, () => false, () => 42) // 'hpetrossian'
 */
export function signInName(
  name: PersonName & { idNumber?: string | null },
  taken: (candidate: string) => boolean,
  twoDigits: () => number,
  { prefix = '', withDigits = false }: { prefix?: string; withDigits?: boolean } = {},
): string {
  const wished = [
    plainLetters(name.givenName).slice(0, 1) + plainLetters(name.familyName).slice(0, 29),
    plainLetters(name.givenName).slice(0, 29),
    plainLetters(name.idNumber ?? '').slice(0, 29),
  ].find((candidate) => candidate.length >= 3 && wordProblem(prefix + candidate) === null && /[a-z]/u.test(candidate));
  const base = prefix + (wished ?? 'learner');
  if (wished !== undefined && !withDigits && !taken(base)) return base;
  for (let tries = 0; ; tries++) {
    const digits = String(twoDigits() % 100).padStart(2, '0');
    // After many clashes the digits are lengthened, so that a common name always finds a free one.
    const candidate = base + digits + (tries < 20 ? '' : String(tries));
    if (!taken(candidate)) return candidate;
  }
}
