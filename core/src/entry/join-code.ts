import { confusableKey } from './confusable.ts';

/** Letters and digits that nobody mistakes for one another, in print or read out. */
export const joinCodeAlphabet = 'ACDEFGHJKMNPQRTUVWXY34679';
export const joinCodeLength = 10;
export const chosenCodeLengths = { least: 8, most: 30 };

/**
 * A code from numbers of a source of chance that gives 0 up to (not including) its argument.
 * @example makeJoinCode(() => 0) // 'AAAAAAAAAA'
 */
export function makeJoinCode(randomBelow: (limit: number) => number): string {
  return Array.from({ length: joinCodeLength }, () => joinCodeAlphabet[randomBelow(joinCodeAlphabet.length)] ?? '').join('');
}

/**
 * What two codes are compared by: any case, with or without dashes and spaces, look-alikes folded.
 * @example joinCodeKey('gk7mt-qx4ra') // 'GK7MTQX4RA'
 * @example joinCodeKey('Spring Crew 20') === joinCodeKey('5pringcrewz0') // true
 */
export const joinCodeKey = (typed: string): string =>
  confusableKey(
    typed
      .normalize('NFKC')
      .toUpperCase()
      .replace(/[^A-Z0-9]/gu, ''),
  );

/** As it is shown: a generated code in two halves, a chosen one as it was chosen. */
export const showJoinCode = (code: string, isChosen: boolean): string => (isChosen ? code : `${code.slice(0, 5)}-${code.slice(5)}`);

export type ChosenCodeProblem = 'too short' | 'too long' | 'letters only' | 'needs a limit' | 'needs an end';

/** Why a code that somebody thought up may not be used; it can be guessed, so it needs an end and a limit. */
export function chosenCodeProblem(code: string, has: { useLimit: number | null; lastAt: string | null }): ChosenCodeProblem | null {
  const plain = code.trim().toUpperCase().replace(/[\s-]/gu, '');
  if (/[^A-Z0-9]/u.test(plain)) return 'letters only';
  if (plain.length < chosenCodeLengths.least) return 'too short';
  if (plain.length > chosenCodeLengths.most) return 'too long';
  if (has.useLimit === null) return 'needs a limit';
  return has.lastAt === null ? 'needs an end' : null;
}

/** What decides whether a code lets anybody in. Moments are ISO texts in UTC. */
export interface JoinCodeTerms {
  paused: boolean;
  firstAt: string | null;
  lastAt: string | null;
  useLimit: number | null;
  uses: number;
}
export type JoinCodeState = 'open' | 'paused' | 'not yet' | 'ended' | 'full';

/** @example joinCodeState({ paused: false, firstAt: null, lastAt: null, useLimit: 3, uses: 3 }, new Date()) // 'full' */
export function joinCodeState(terms: JoinCodeTerms, now: Date): JoinCodeState {
  if (terms.paused) return 'paused';
  if (terms.lastAt !== null && Date.parse(terms.lastAt) < now.getTime()) return 'ended';
  if (terms.firstAt !== null && Date.parse(terms.firstAt) > now.getTime()) return 'not yet';
  return terms.useLimit !== null && terms.uses >= terms.useLimit ? 'full' : 'open';
}

/**
 * Does an address end as the code wants it? The ending stands for a whole domain or what lies below it.
 * @example fitsEnding('ada@crew.brannoch.example', 'brannoch.example') // true
 * @example fitsEnding('ada@evilbrannoch.example', 'brannoch.example') // false
 */
export function fitsEnding(email: string, ending: string): boolean {
  const domain = email.toLowerCase().split('@')[1] ?? '';
  const wanted = ending.trim().toLowerCase().replace(/^@/u, '').replace(/^\./u, '');
  return domain === wanted || domain.endsWith(`.${wanted}`);
}
