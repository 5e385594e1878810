import type { LetterField, LetterKind } from '@gate-roster/core';

/** What the application’s own letters are called, and what their texts may name. */
export const letterKindWords: Record<LetterKind, string> = {
  invitation: 'Invitation',
  welcome: 'New account',
  'sign in': 'Help to sign in',
  'let in': 'Let in',
  'turned away': 'Turned away',
  'course opened': 'Course opened on request',
  'course refused': 'Course refused',
  confirm: 'Confirm an address to join',
  'confirm address': 'Is this your account',
  reset: 'New password',
  waiting: 'Something waits for you',
  'address changed': 'Address changed',
  'rule told': 'Automatic rule: to leaders',
  'work waits': 'Work waits to be marked: to leaders',
  report: 'A kept view by letter: to leaders',
  'seat order': 'An order of seats: to who ordered or decides',
  seat: 'A seat that somebody gets, loses, or is next in line for',
  'address fails': 'Emails to somebody come back: to their leaders',
  messages: 'Messages of a day',
};

export const letterFieldWords: Record<LetterField, string> = {
  name: 'given name',
  group: 'group',
  organisation: 'organisation',
  leader: 'who leads',
  link: 'the link',
  code: 'the code',
  until: 'until when',
  words: 'your own words',
  course: 'the course',
  title: 'what it is about',
  stop: 'where to stop these emails',
};

/** What was done to the emails of a branch, for the log. */
export function letterSentence(kind: 'edit-letter' | 'set-letter-look', isOwn: boolean, where: string): string {
  const what = kind === 'edit-letter' ? 'email text' : 'sender and logo of emails';
  return isOwn
    ? `Gave ${where} ${kind === 'edit-letter' ? 'an email text of its own' : 'a sender or logo of its own for emails'}.`
    : `Went back to the ${what} from above for ${where}.`;
}

/** The texts of emails for a branch, and how they look. */
export const letterTexts = {
  title: 'Letters',
  what: 'Emails that are sent automatically. A text saved here is used for this group and everything below it.',
  kinds: letterKindWords,
  subject: 'Subject',
  body: 'Text',
  fields: 'Fields',
  field: (field: LetterField) => `{${field}}: ${letterFieldWords[field]}`,
  preview: 'Preview',
  from: (name: string) => `Text of ${name}`,
  first: 'Default text',
  save: 'Save for this branch',
  saved: 'Text saved.',
  takeBack: 'Use the text from above',
  look: {
    title: 'Sender and logo',
    own: 'Set here, for this group and everything below it.',
    from: (group: string) => `As set for ${group}.`,
    above: 'As set above your groups.',
    none: 'Emails come from the platform, without a logo.',
    sender: 'Name of the sender',
    senderHint: 'The address they come from stays the same.',
    hasLogo: 'There is a logo.',
    noLogo: 'No logo.',
    choose: 'Choose a picture (PNG or JPEG)',
    remove: 'Remove it',
    save: 'Save',
    saved: 'Saved. Emails from now on look like this.',
    takeBack: 'As set above',
  },
  problems: {
    'unknown field': 'The text uses a field in braces that does not exist.',
    'no link': 'The text needs {link}.',
    empty: 'A letter needs a subject and a text.',
  },
  sample: {
    name: 'Ada',
    group: 'Gullhaven',
    organisation: 'Brannoch Isles Rescue',
    leader: 'Ottoline Brandt',
    link: 'https://roster.example/…',
    code: 'GK7MT-QX4RA',
    until: '3 November 2026',
    words: 'See you on the quay.',
    course: 'Teaching others',
    title: 'Wind warning for Thursday',
    stop: 'https://roster.example/…',
  } satisfies Record<LetterField, string>,
};
