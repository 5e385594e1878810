import type { RehearsedReminder, ReminderRow } from '@gate-roster/contract';
import type { ReminderOccasion } from '@gate-roster/core';
import { showNumber } from '../ui/format.ts';
import { some } from './grammar.ts';

/** What an occasion is called. */
export const occasionWords: Record<ReminderOccasion, string> = {
  'before due': 'Before a course is due',
  'on due': 'On the day a course is due',
  'after due': 'After a course was due',
  'not begun': 'Course not begun',
  'membership ends': 'Before a membership ends',
  'group ends': 'Before a group ends',
  'seat ends': 'Before the licence of a seat ends',
  'certificate ends': 'Before a certificate ends',
};

const daysWords = (occasion: ReminderOccasion, days: number): string => {
  const many = some(days, 'day', 'days');
  if (occasion === 'on due') return 'on the day';
  if (occasion === 'after due') return `${many} after`;
  if (occasion === 'not begun') return `${many} after one could begin`;
  return days === 0 ? 'on the last day' : `${many} before`;
};

export const reminders = {
  title: 'Reminders',
  what: (group: string) =>
    `What people in ${group} are reminded of, by email and on their page. The nearest group that says something counts.`,
  occasions: occasionWords,
  days: daysWords,
  says: ({ days, occasion }: Pick<ReminderRow, 'days' | 'occasion'>) => (days === null ? 'Nobody is reminded' : daysWords(occasion, days)),
  from: ({ where, group }: Pick<ReminderRow, 'where' | 'group'>) =>
    where === 'here' ? 'set here' : group === null ? 'set in a group above' : `set in ${group.name}`,
  notSet: 'Not set',
  set: 'Set…',
  change: 'Change…',
  changeHere: 'Set another here…',
  forCourse: 'For one course…',
  below: (count: number) => `${some(count, 'setting', 'settings')} in groups below`,
  nextTitle: 'The next 30 days',
  next: 'Who would be reminded if nothing changes. At most one email a day goes to each person.',
  nobodyNext: 'Nobody would be reminded.',
  line: ({ occasion, about }: RehearsedReminder) => `${occasionWords[occasion]}: ${about}`,
  who: (count: number) => some(count, 'person', 'people'),
  whoLabel: (line: RehearsedReminder) => `${showNumber(line.people)}, ${occasionWords[line.occasion]}: ${line.about}`,
  form: {
    occasion: 'When',
    course: 'Course',
    allCourses: 'All courses',
    state: 'What happens here',
    states: { remind: 'People are reminded', nobody: 'Nobody is reminded', above: 'As in the groups above' },
    days: 'Days',
    ownText: 'Text of its own',
    subject: 'Title',
    body: 'Text',
    field: (field: string) => `Insert {${field}}`,
    alsoPassed: 'Also remind people whose day has passed already',
    saved: 'Saved.',
    leaves: 'Reminders leave every morning from 7:00 on. Numbers below are those of the next morning.',
  },
};
