import type { Answer, Platform, Routes } from '@gate-roster/contract';
import { showMoment, showNumber } from '../ui/format.ts';
import { list, some } from './grammar.ts';

/** Outside course platforms, which send what learners did there. */
export const platforms = {
  title: 'Course platforms',
  what: 'A platform sends what learners did there as xAPI statements, version 1.0.3, to this address:',
  copyAddress: 'Copy the address',
  actors:
    'It names learners by their sign-in name here or by an address they have confirmed, and an activity as on the page of its course.',
  add: 'Add a platform…',
  edit: 'Edit',
  name: 'Name',
  allCourses: 'May report on every course',
  courses: 'Courses it may report on',
  save: 'Save',
  make: 'Add the platform',
  own: 'Comes with Gate Roster, and reports on the courses that are played here.',
  user: 'User name',
  password: 'Password',
  told: 'Its user name and password. The password is shown this once.',
  copy: 'Copy the password',
  newPassword: 'New password…',
  newPasswordSure: 'Make a new password? The old one stops working at once.',
  end: 'Take off…',
  endSure: 'Take this platform off? Nothing more is taken from it. What it has sent stays.',
  ended: 'Platform taken off.',
  saved: 'Platform saved.',
  reach: ({ allCourses, courses }: Platform) =>
    allCourses ? 'every course' : courses.length === 0 ? 'no course yet' : courses.map(({ name }) => name).join(', '),
  came: ({ statements, lastAt }: Platform) =>
    lastAt === null
      ? 'Nothing has come from it yet.'
      : `${some(statements, 'statement', 'statements')} in 30 days, last on ${showMoment(lastAt)}.`,
  notCounted: (n: number) =>
    `${showNumber(n)} of them did not count: the unit was not open to the learner at that moment, or the verb says nothing of progress.`,
};

type Checked = Answer<Routes['checkFeed']>;
const fieldWords: Record<Checked['changed'][number]['fields'][number], string> = {
  name: 'another name',
  code: 'another code',
  subject: 'another subject',
  description: 'another description',
  units: 'other units or activities',
  archived: 'offered again',
};
const ofAll = (shown: number, all: number): string => (shown < all ? `, the first ${showNumber(shown)} of ${showNumber(all)}` : '');

/** The courses that the course platform offers. */
export const courseFeed = {
  open: 'Check the platform',
  title: 'What the course platform offers',
  checking: 'Asking the platform…',
  again: 'Ask again',
  counts: ({ fresh, changed, gone, same }: Checked['counts']) =>
    fresh + changed + gone === 0
      ? `Nothing has changed. ${some(same, 'course is', 'courses are')} the same here and there.`
      : `${showNumber(fresh)} new, ${showNumber(changed)} changed, ${showNumber(gone)} no longer offered, ${showNumber(same)} the same.`,
  fresh: (shown: number, all: number) => `New${ofAll(shown, all)}`,
  changed: (shown: number, all: number) => `Changed${ofAll(shown, all)}`,
  gone: (shown: number, all: number) => `No longer offered${ofAll(shown, all)}`,
  goneHint: 'Ticked ones are archived: those under way may finish, nobody new gets in.',
  offered: ({ name, code, units }: Checked['fresh'][number]) => `${name}${code ? ` (${code})` : ''}, ${some(units, 'unit', 'units')}`,
  archive: ({ name, underWay }: Checked['gone'][number]) =>
    underWay > 0 ? `${name}, ${some(underWay, 'learner', 'learners')} under way` : name,
  what: (course: Checked['changed'][number]): string => {
    const { fields, newName, unitsMade, unitsRenamed, unitsGone, activitiesMade, activitiesRenamed, activitiesGone, underWay } = course;
    const parts = [
      ...(newName ? [`now called ${newName}`] : []),
      ...(unitsMade.length > 0 ? [`new: ${list(unitsMade)}`] : []),
      ...unitsRenamed.map(({ from, to }) => `${from} is now called ${to}`),
      ...(unitsGone.length > 0 ? [`taken out: ${list(unitsGone)}`] : []),
      ...(activitiesMade > 0 ? [some(activitiesMade, 'new activity', 'new activities')] : []),
      ...(activitiesRenamed > 0 ? [`${some(activitiesRenamed, 'activity', 'activities')} renamed`] : []),
      ...(activitiesGone > 0 ? [`${some(activitiesGone, 'activity', 'activities')} taken out`] : []),
    ];
    const said = parts.length > 0 ? parts : fields.map((field) => fieldWords[field]);
    const what = said.length === 0 ? 'the same; from now on known as the platform’s' : said.join('; ');
    return `${what}${underWay > 0 ? `. ${some(underWay, 'learner is', 'learners are')} under way` : ''}.`;
  },
  left: (count: number) => `${some(count, 'course is', 'courses are')} left out`,
  leftOut: ({ what, why, where }: Checked['left'][number]): string => {
    const name = what === '' ? 'A course without a name' : what;
    if (why === 'no number') return `${name}: the platform gives it no number.`;
    if (why === 'twice') return where ? `${name}: a number comes twice in it.` : `${name}: offered twice, and not the same.`;
    return `${name}: cannot be read${where ? ` (${where})` : ''}.`;
  },
  apply: (count: number) => (count === 0 ? 'Take' : `Take ${some(count, 'course', 'courses')}`),
  taken: 'Courses taken from the platform.',
};

/** What was taken from the course platform, for the log. */
export function feedSentence({ made = 0, changed = 0, archived = 0 }: Readonly<Record<string, number>>): string {
  const parts = [
    made > 0 ? some(made, 'new course', 'new courses') : '',
    changed > 0 ? some(changed, 'changed course', 'changed courses') : '',
  ].filter(Boolean);
  const taken = parts.length > 0 ? `Took ${list(parts)} from the course platform` : '';
  const put = archived > 0 ? `archived ${some(archived, 'course', 'courses')} that it no longer offers` : '';
  const sentence = [taken, put].filter(Boolean).join(', ');
  return `${sentence.charAt(0).toUpperCase()}${sentence.slice(1)}.`;
}
