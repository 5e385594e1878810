import { some } from './grammar.ts';

export const asOf = {
  label: 'On',
  band: (day: string, isPast: boolean) => (isPast ? `As it stood at the end of ${day}.` : `As it will be on ${day}, if nothing changes.`),
  before: (day: string) => `The record begins on ${day}.`,
  back: 'Back to today',
  noAccount: 'There was no account yet.',
  openTo: (open: number, all: number) => `Open to ${open} of ${some(all, 'learner', 'learners')}`,
};

export const couldGetIn = {
  open: 'Who could get in',
  title: 'Who could get in',
  from: 'From',
  until: 'Until',
  found: (people: number) => some(people, 'person', 'people'),
  none: 'Nobody could get in on these days.',
  through: 'Through',
  by: 'Opened by',
  use: 'First and last use',
  days: 'Days',
  name: 'Who',
  erased: 'erased',
  ownTerms: 'the course’s own terms',
  person: 'a statement about them',
  never: 'never used',
  more: (count: number) => `${count} more rows. The CSV file has all of them.`,
  unnamed: (count: number) => `${some(count, 'more person, who is', 'more people, who are')} no longer in these groups.`,
  file: 'Save as CSV',
  fileHint: 'The file holds the question, and its name the SHA-256 of what is in it.',
};
