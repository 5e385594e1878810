import type { Problem } from '@gate-roster/contract';
import { some } from './grammar.ts';

export const common = {
  columns: (shown: number, all: number): string => (shown === all ? 'Columns' : `Columns: ${shown} of ${all}`),
  cancel: 'Cancel',
  close: 'Close',
  save: 'Save',
  tryAgain: 'Try again',
  more: 'Show more',
  actions: 'Actions',
  export: 'Export',
  exportCsv: 'Export as CSV',
  copied: 'Copied.',
  asTable: 'As a table',
  signOut: 'Sign out',
};

export const areas = {
  groups: 'Groups',
  'ways-in': 'Ways in',
  access: 'Access',
  seats: 'Seats',
  progress: 'Progress',
  messages: 'Messages',
  log: 'Log',
  myCourses: 'My courses',
  myGroups: 'My groups',
  myMessages: 'Messages',
  enterCode: 'Enter a code',
  waiting: (count: number) => some(count, 'request waits', 'requests wait'),
};

export const failures: Record<Problem['code'] | 'offline', string> & {
  notHere: string;
  notHereTitle: string;
  awayTitle: string;
  away: string;
  awayBanner: string;
  tooManyTries: (seconds: number) => string;
} = {
  'bad-request': 'The server did not understand this. Check what you typed.',
  'not-signed-in': 'You are not signed in any more. Sign in again; this page stays as it is.',
  'wrong-sign-in': 'Wrong sign-in name or password.',
  'bad-signature': 'This system is not known here.',
  'wrong-origin': 'This came from another site and was refused.',
  'looking-only': 'You are viewing as somebody else. Nothing can be changed or downloaded.',
  'code-over': 'This code does not let anybody in. Check it letter by letter, or ask for another one.',
  'still-paying': 'You are not in yet: your way in is not paid.',
  'price-changed': 'The price has changed. Look at it again.',
  'still-asking': 'You asked to join, and nobody has decided yet.',
  'given-wrong': 'Something is missing or not as it was asked for.',
  'needs-confirming': 'Confirm your address first: we send a link to it.',
  'link-over': 'This link has expired or was used already. Ask for another one.',
  'address-taken': 'Another account has confirmed this address. Sign in to that account, then use the link again.',
  'no-address': 'There is no address on file.',
  'wrong-file': 'This cannot be kept. A file has at most 2 MB; a picture is PNG, JPEG or WebP.',
  'not-found': 'There is nothing here, or you may not see it.',
  'effects-differ': 'Somebody changed something meanwhile. Nothing was applied; this is what it would do now.',
  blocked: 'This cannot be applied as it is. Nothing was changed.',
  'already-begun': 'This site already has an administrator. Sign in.',
  'statement-differs': 'Something else was sent under this id.',
  'request-id-reused': 'Something else was done under this request. Try again.',
  'too-large': 'This is too large to send at once.',
  'too-many-people': 'These are more people than can be changed at once. Add a filter.',
  'too-many-rows': 'This file has many rows. It is made as a job.',
  'file-too-large': 'This file would be too large. Choose fewer courses with a filter, or a smaller group.',
  'wrong-password': 'The current password is wrong.',
  'not-open': 'This course is not open to you now.',
  'being-marked': 'Someone is marking this, or it is marked already.',
  'in-line': 'You are in line for a seat in this course. It opens when a seat is free.',
  'no-feed': 'The course platform does not answer, or does not accept our key. Nothing was changed; try again in a moment.',
  'feed-unreadable': 'The course platform answered something that is not a list of courses. Nothing was changed.',
  'no-payment': 'The payment service does not answer. Nothing was paid; try again in a moment.',
  'no-licence': 'No licence pays for this course in your group. Ask your leader.',
  'too-many-tries': 'Too many tries. Wait a little.',
  'disk-full': 'The server has no room left. Nothing was saved. Tell your administrator.',
  failed: 'Something failed on the server. Nothing was half done. Try again.',
  busy: 'Too much is going on at the moment. Try again in a few seconds; nothing is lost.',
  'not-ready': 'The server is just starting. Try again in a few seconds.',
  'database-away': 'The server cannot reach its database. Try again in a moment.',
  offline: 'The server cannot be reached. Try again in a moment.',
  awayTitle: 'One moment',
  away: 'The server or its database is away. Nothing is lost. This page comes back by itself.',
  notHereTitle: 'Not here',
  notHere: 'There is nothing at this address, or you may not see it.',
  awayBanner: 'The server or its database is away. What you see may be old; this page comes back by itself.',
  tooManyTries: (seconds) => `Too many tries. Wait ${some(seconds, 'second', 'seconds')}, then try again.`,
};

export const shell = {
  skip: 'To the content',
  areas: 'Areas',
  scope: 'Where you are',
  withSubgroups: 'with subgroups',
  toStart: 'Go to the start page',
  belowOf: (group: string) => `Below ${group}`,
  below: (count: number) => `${some(count, 'group', 'groups')} below`,
};

export const find = {
  title: 'Find anything',
  hint: 'A group, a person, a course, an address, an ID number',
  how: 'Type any part of a name.',
  keys: 'Arrows choose, Enter opens.',
  nothing: (typed: string) => `No match for “${typed}”.`,
};

export const keys = {
  title: 'Keys',
  single: 'Single-letter keys',
  goTo: (area: string) => `Go to ${area}`,
  list: [
    ['/', 'Find anything'],
    ['g l', 'Go to the log'],
    ['?', 'These keys'],
    ['m', 'In the tree, move the chosen groups'],
    ['Arrows', 'Move in the tree, the lists and the access grid'],
    ['Shift + arrows', 'Choose a range'],
    ['Space', 'Choose; in the access grid, open'],
    ['X', 'In the access grid, block'],
    ['Backspace', 'In the access grid, end what is set here'],
  ] as [string, string][],
};

export const settings = {
  site: 'This site',
  organisation: 'Name of the organisation',
  markReminderDays: 'Days after which markers are reminded of work that waits',
  markReminderHint: '0: never',
  quietFrom: 'Emails about messages wait from (hour)',
  quietUntil: 'until (hour)',
  quietHint: 'Urgent ones go at once. The same hour twice: they never wait.',
  dueSoonDays: 'Days before the due day from which a course is due soon',
  undoDays: 'Days for which a change can be undone',
  saveSite: 'Save settings',
  siteSaved: 'Settings saved.',
  siteWrong: 'Give a name, 1 to 90 days for due soon, and 1 to 730 days for undo.',
  title: 'Settings',
  theme: 'Light or dark',
  themes: { system: 'Same as device', light: 'Light', dark: 'Dark' },
};
