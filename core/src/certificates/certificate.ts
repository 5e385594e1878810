import { joinCodeAlphabet } from '../entry/join-code.ts';
import type { Day } from '../time/day.ts';

/* Certificates: their numbers, what the check page says of them, and their words. */

const numberLength = 12;
/** Fields that the words of a certificate can hold. */
export const certificateFields = ['name', 'course', 'day', 'score', 'organisation'] as const;
export type CertificateField = (typeof certificateFields)[number];

/** A number that cannot be guessed. @example makeCertificateNumber(() => 0) // 'AAAAAAAAAAAA' */
export const makeCertificateNumber = (randomBelow: (limit: number) => number): string =>
  Array.from({ length: numberLength }, () => joinCodeAlphabet[randomBelow(joinCodeAlphabet.length)] ?? '').join('');

/** As it is printed. @example showCertificateNumber('AAAACCCCDDDD') // 'AAAA-CCCC-DDDD' */
export const showCertificateNumber = (number: string): string => number.replace(/(.{4})(?=.)/gu, '$1-');

/** A number as somebody typed it; null when it can be none. @example certificateNumberOf('aaaa cccc-dddd') // 'AAAACCCCDDDD' */
export function certificateNumberOf(typed: string): string | null {
  const plain = typed
    .normalize('NFKC')
    .toUpperCase()
    .replace(/[^A-Z0-9]/gu, '');
  return plain.length === numberLength && [...plain].every((letter) => joinCodeAlphabet.includes(letter)) ? plain : null;
}

export type CertificateState = 'valid' | 'expired' | 'withdrawn' | 'replaced';

/** What is true of a certificate today; one that was withdrawn stays so, whatever its days say. */
export function certificateState(
  { isCurrent, isReplaced, validUntil }: { isCurrent: boolean; isReplaced: boolean; validUntil: Day | null },
  today: Day,
): CertificateState {
  if (!isCurrent) return isReplaced ? 'replaced' : 'withdrawn';
  return validUntil !== null && validUntil < today ? 'expired' : 'valid';
}

/** The words of a certificate with its fields filled in; an unknown field stays as it is typed. */
export const fillCertificate = (words: string, values: Record<CertificateField, string>): string =>
  words.replace(/\{(\w+)\}/gu, (typed, field: string) => (field in values ? values[field as CertificateField] : typed));

/** Fields in the words that are none. */
export const unknownFields = (words: string): string[] =>
  [...words.matchAll(/\{(\w+)\}/gu)].flatMap(([, field = '']) => ((certificateFields as readonly string[]).includes(field) ? [] : [field]));
