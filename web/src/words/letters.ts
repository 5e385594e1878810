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
