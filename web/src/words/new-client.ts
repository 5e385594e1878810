import { some } from './grammar.ts';

export const newClient = {
  act: 'New client…',
  title: 'New client',
  name: 'Name',
  parent: 'In',
  leader: 'Leader, name and email',
  leaderExample: 'Ada Lind ada@isles.example',
  leaderHint: 'Gets one email with a link to sign in.',
  opens: 'Courses and course sets',
  setOf: (courses: number) => `course set with ${some(courses, 'course', 'courses')}`,
  seats: 'Seats (empty: none are needed)',
  seatsHint: 'The most people who can use these courses at once.',
  licence: 'Taken from',
  ownLicence: 'A licence of its own',
  code: 'With a join code',
  apply: 'Make the client',
  made: 'Client made.',
};

export const firstSteps = {
  title: 'Getting started',
  what: 'Nobody is in this group yet. There are three ways to change that.',
  code: 'Hand out the join code',
  copyLink: 'Copy the link',
  noCode: 'Make a join code',
  add: 'Add people by name',
  file: 'Bring in a file',
  courses: (count: number) =>
    count === 0 ? 'No course is open here yet.' : `${some(count, 'course is', 'courses are')} open to everyone who joins.`,
  seats: (free: number, licence: string) => `${some(free, 'seat', 'seats')} free in ${licence}.`,
};
