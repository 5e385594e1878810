import type { CertificateForm, CertificateHolder, certificateLists, LogEntry } from '@gate-roster/contract';
import { certificateFields, type CertificateState, showCertificateNumber } from '@gate-roster/core';
import { showDay, showNumber, showScore } from '../ui/format.ts';
import { some } from './grammar.ts';

const stateWords: Record<CertificateState, string> = {
  valid: 'Valid',
  expired: 'No longer valid',
  withdrawn: 'Withdrawn',
  replaced: 'Replaced by another',
};

export const certificates = {
  title: 'Certificates',
  none: 'No certificate can be given here yet. Make one for a course, a set, or all that a group opens.',
  make: 'Make certificate',
  edit: 'Edit certificate',
  save: 'Save certificate',
  saved: 'Certificate saved.',
  remove: 'Delete certificate',
  removed: 'Certificate deleted. Those that were given stay valid.',
  removeNote: 'It is not given any more. Those that were given stay valid.',
  head: { certificate: 'Certificate', about: 'For', group: 'Of', given: 'Given', earned: 'Earned, not given' },
  forAll: (group: string) => (group === '' ? 'everything the group opens' : `everything ${group} opens`),
  about: ({ about, group }: Pick<CertificateForm, 'about' | 'group'>) => about ?? certificates.forAll(group.name),
  groupAbove: 'a group above',
  byItself: 'given as soon as it is earned',
  byHand: 'given by a leader',
  lists: { given: 'Given', earned: 'Earned, not given', withdrawn: 'Withdrawn' } satisfies Record<
    (typeof certificateLists)[number],
    string
  >,
  noneIn: {
    given: 'Nobody here has this certificate yet.',
    earned: 'Everybody who has earned it has it.',
    withdrawn: 'None was withdrawn here.',
  } satisfies Record<(typeof certificateLists)[number], string>,
  holder: ({ day, score, number, state, givenBy, validUntil }: CertificateHolder) =>
    [
      showDay(day),
      score === null ? '' : `score ${showScore(score)}`,
      number === null ? '' : showCertificateNumber(number),
      state === null || state === 'valid' ? '' : stateWords[state].toLowerCase(),
      validUntil ? `valid until ${showDay(validUntil)}` : '',
      number === null ? '' : givenBy ? `by ${givenBy}` : 'by itself',
    ]
      .filter(Boolean)
      .join(', '),
  give: (people: number) => (people === 0 ? 'Give certificates' : `Give ${some(people, 'certificate', 'certificates')}`),
  given: 'Given.',
  withdraw: (people: number) => (people === 0 ? 'Withdraw' : `Withdraw ${showNumber(people)}`),
  replace: (people: number) => (people === 0 ? 'Replace' : `Replace ${showNumber(people)}`),
  withdrawn: 'Withdrawn. The check page says so.',
  replaced: 'Replaced. The check page says so of the old ones.',
  chooseAll: 'Choose all',
  choosing: 'Choose some to withdraw or replace them.',
  asPdf: { A4: 'All as PDF, A4', Letter: 'All as PDF, Letter' },
  onePdf: 'PDF',
  pdf: 'PDF',
  paper: 'Paper',
  whatFor: 'For',
  forCourse: 'One course',
  forSet: 'One course set',
  forEverything: 'All that the group opens',
  course: 'Course',
  set: 'Course set',
  formTitle: 'Title',
  words: 'Words',
  wordsHint: `These are filled in: ${certificateFields.map((field) => `{${field}}`).join(' ')}`,
  logo: 'Logo (PNG or JPEG)',
  logoThere: 'A logo is set.',
  noLogo: 'Remove logo',
  showsScore: 'Show the score',
  givesItself: 'Give it as soon as it is earned',
  usualWords: '{name} has finished {course} on {day}.',
  state: (state: CertificateState) => stateWords[state],
  more: 'Show more',
};

export const myCertificates = {
  title: 'Your certificates',
  line: (about: string, day: string, validUntil: string | null) => `${about}, ${day}${validUntil ? `, valid until ${validUntil}` : ''}`,
  save: 'Save as PDF',
  nameShown: 'Show my name to people who check the number',
};

export const check = {
  title: 'Check a certificate',
  number: 'Number of the certificate',
  check: 'Check',
  noSuch: 'There is no certificate with this number. Compare it with the paper, letter by letter.',
  tooMany: (seconds: number) =>
    `Too many numbers were tried from here. Try again in ${some(Math.ceil(seconds / 60), 'minute', 'minutes')}.`,
  valid: (organisation: string) => `This certificate of ${organisation} is valid.`,
  expired: (day: string) => `This certificate was valid until ${day}.`,
  withdrawn: 'This certificate was withdrawn. It is not valid.',
  replaced: 'This certificate was replaced by another one. It is not valid.',
  about: 'For',
  day: 'Finished',
  validUntil: 'Valid until',
  holder: 'Holder',
  nameHidden: 'The holder has not chosen to show their name here.',
};

/** What was done to certificates, for the log. */
export function certificateSentence(
  kind: 'set-certificate' | 'end-certificate' | 'give-certificates' | 'withdraw-certificates',
  { names }: Pick<LogEntry, 'names'>,
  { where, who, count }: { where: string; who: string; count: (name: string) => number },
): string {
  const { before, after } = names ?? { before: '', after: '' };
  const people = count('people');
  switch (kind) {
    case 'set-certificate':
      return `${before === '' ? 'Made' : 'Changed'} the certificate “${after}” of ${where}.`;
    case 'end-certificate':
      return `Deleted the certificate “${after}” of ${where}.`;
    case 'give-certificates':
      return `Gave “${after}” to ${people > 3 ? some(people, 'person', 'people') : who}.`;
    case 'withdraw-certificates':
      return `${count('replaced') > 0 ? 'Replaced' : 'Withdrew'} “${after}” of ${people > 3 ? some(people, 'person', 'people') : who}.`;
  }
}
