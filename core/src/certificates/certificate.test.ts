import fc from 'fast-check';
import {
  certificateNumberOf,
  certificateState,
  fillCertificate,
  makeCertificateNumber,
  showCertificateNumber,
  unknownFields,
} from './certificate.ts';

test('a number is found again however it is typed', () => {
  fc.assert(
    fc.property(fc.infiniteStream(fc.nat(1_000_000)), fc.boolean(), (numbers, isLower) => {
      const number = makeCertificateNumber((limit) => Number(numbers.next().value) % limit);
      const shown = showCertificateNumber(number);
      expect(shown).toMatch(/^.{4}-.{4}-.{4}$/u);
      expect(certificateNumberOf(isLower ? shown.toLowerCase() : shown.replaceAll('-', ' '))).toBe(number);
    }),
  );
});

test.each([['short'], ['AAAA-CCCC-DDDD-EEEE'], ['AAAA-CCCC-DDD0'], ['']])('%j is no number', (typed) => {
  expect(certificateNumberOf(typed)).toBeNull();
});

test.each([
  [{ isCurrent: true, isReplaced: false, validUntil: null }, 'valid'],
  [{ isCurrent: true, isReplaced: false, validUntil: '2026-05-01' }, 'valid'],
  [{ isCurrent: true, isReplaced: false, validUntil: '2026-04-30' }, 'expired'],
  [{ isCurrent: false, isReplaced: false, validUntil: '2026-04-30' }, 'withdrawn'],
  [{ isCurrent: false, isReplaced: true, validUntil: null }, 'replaced'],
])('%j is %s on the first of May', (about, state) => {
  expect(certificateState(about, '2026-05-01')).toBe(state);
});

test('words are filled in, and fields that are none are named', () => {
  const values = { name: 'Bao', course: 'VHF', day: '1 May', score: '80', organisation: 'Tide' };
  expect(fillCertificate('{name} has finished {course} ({mark})', values)).toBe('Bao has finished VHF ({mark})');
  expect(unknownFields('{name} and {mark}')).toEqual(['mark']);
});
