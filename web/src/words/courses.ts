import type { MyCourse, PersonSheet } from '@gate-roster/contract';
import type { Lateness } from '@gate-roster/core';
import { showDay } from '../ui/format.ts';
import { some } from './grammar.ts';
import { statusWords } from './progress.ts';

export const courses = {
  title: 'Courses',
  course: 'Course',
  open: 'open',
  none: 'no course open',
  fromAbove: (above: number, blocked: number) => `${above} from above${blocked > 0 ? `, ${blocked} blocked` : ''}`,
  /** With the seat that pays for it, or the place in line. */
  seat: ({ seat, inLine, noLicence }: PersonSheet['courses'][number]) => {
    if (noLicence) return 'Needs a seat, and no licence pays for it here.';
    if (inLine !== null) return `Number ${inLine} in line for a seat.`;
    return seat === null ? '' : `Seat of ${seat}.`;
  },
  standing: ({ open, units, allUnits, opensLater }: PersonSheet['courses'][number]) =>
    open ? (units < allUnits ? `${units} of ${allUnits} units` : '') : opensLater ? `opens ${showDay(opensLater)}` : 'not open',
};

export const makeCourses = {
  title: 'Add courses',
  outline: 'One course per line',
  example: 'Rope work\n  Knots\n    Read the notes\n    Tie five knots',
  hint: 'Units indented below it, activities below the unit. A unit without activities gets one.',
  make: (count: number) => `Add ${some(count, 'course', 'courses')}`,
  made: 'Courses added. Open them to groups under Access.',
  counts: (courses: number, units: number, activities: number) =>
    `${some(courses, 'course', 'courses')}, ${some(units, 'unit', 'units')}, ${some(activities, 'activity', 'activities')}`,
};

export const learner = {
  hello: (name: string) => `Hello ${name}`,
  none: 'No course is open to you yet. Ask the people who lead your group.',
  closed: 'Not open now',
  inLine: (place: number) => `You are number ${place} in line for a seat. The course opens when it is your turn.`,
  noLicence: 'This course needs a seat, and no licence pays for it in your group. Ask your leader.',
  ask: 'Ask',
  handouts: 'Handouts',
  pictureOf: (group: string) => `Picture of ${group}`,
  units: (done: number, all: number, setBy: string | null) => `${done} of ${some(all, 'unit', 'units')}${setBy ? `, set by ${setBy}` : ''}`,
  due: (lateness: Lateness, day: string) => (lateness === 'overdue' ? `was due ${day}` : `due ${day}`),
  standing: (status: MyCourse['status'], day: string | null, score: string | null) =>
    `${status === 'done' ? `Done${day ? ` ${day}` : ''}` : statusWords[status]}${score ? `, score ${score}` : ''}`,
  open: { 'not begun': 'Begin', 'under way': 'Continue', done: 'Open' },
  openLabel: (status: MyCourse['status'], course: string) =>
    `${{ 'not begun': 'Begin', 'under way': 'Continue', done: 'Open' }[status]} ${course}`,
  opens: (day: string) => `Opens ${day}`,
};
