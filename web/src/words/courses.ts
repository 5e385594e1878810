import type { CourseRow, MyCourse, PersonSheet, WhyStep } from '@gate-roster/contract';
import type { CourseFileProblem, Lack, Lateness } from '@gate-roster/core';
import { showDay, showNumber } from '../ui/format.ts';
import { list, some } from './grammar.ts';
import { statusWords } from './progress.ts';

export const courses = {
  course: 'Course',
  /** With the seat that pays for it, or the place in line. */
  seat: ({ seat, inLine, noLicence }: PersonSheet['courses'][number]) => {
    if (noLicence) return 'Needs a seat, and no licence pays for it here.';
    if (inLine !== null) return `Number ${inLine} in line for a seat.`;
    return seat === null ? '' : `Seat of ${seat}.`;
  },
  /** A course that is valid for a time. */
  renewal: ({ validUntil, reopensOn, earlier, round }: PersonSheet['courses'][number]) => {
    if (validUntil && reopensOn)
      return reopensOn === validUntil
        ? `Valid until ${showDay(validUntil)}.`
        : `Valid until ${showDay(validUntil)}, opens again ${showDay(reopensOn)}.`;
    const [last] = earlier;
    return round > 1 && last ? `Round ${round}; done before on ${showDay(last.doneDay)}.` : '';
  },
  standing: ({ open, units, allUnits, opensLater }: Pick<PersonSheet['courses'][number], 'open' | 'units' | 'allUnits' | 'opensLater'>) =>
    open ? (units < allUnits ? `${units} of ${allUnits} units` : '') : opensLater ? `opens ${showDay(opensLater)}` : 'not open',
};

const terms: Record<CourseRow['terms'], string> = {
  everyone: 'open to everyone',
  group: 'by group only',
  request: 'on request',
};

/** The catalogue, the page of a course and of a course set. */
export const catalogue = {
  title: 'Courses',
  set: 'Course set',
  sets: 'Course sets',
  search: 'Find a course',
  subject: 'Subject',
  anySubject: 'all subjects',
  tags: 'Tags',
  anyTag: 'all tags',
  anySet: 'all course sets',
  state: 'State',
  states: { active: 'in use', archived: 'archived', all: 'in use and archived' },
  counts: (fit: number, all: number) =>
    fit === all ? some(all, 'course', 'courses') : `${showNumber(fit)} of ${some(all, 'course', 'courses')}`,
  none: 'No course fits. Change the search, or add courses.',
  noneYet: 'No courses yet.',
  makeSet: 'New course set',
  openSet: (name: string) => `Open the course set ${name}`,
  inSet: (count: number) => some(count, 'course', 'courses'),
  code: 'Code',
  terms: 'Open to',
  termsOf: terms,
  units: 'Units',
  openedAt: 'Opened at',
  openedAtHint: 'Groups here that open it',
  learners: 'Learners',
  underWay: 'Under way',
  done: 'Done',
  overdue: 'Overdue',
  archived: 'archived',
  back: 'All courses',
  edit: 'Edit course',
  archive: 'Archive',
  takeUp: 'Use again',
  openFor: 'Open for groups',
  openForSome: (name: string) => `Open ${name} for groups`,
  groups: 'Groups',
  opened: 'Opened.',
  whyHere: 'For somebody who is in this group alone',
  statements: 'What opens and blocks it',
  noStatements: 'Nothing is said about it in the groups that you see here.',
  elsewhere: (count: number) => `${some(count, 'more statement stands', 'more statements stand')} at your other groups.`,
  end: 'End',
  ended: 'Ended.',
  standing: 'Its learners here',
  standingWords: (all: number, underWay: number, done: number, overdue: number) =>
    `${some(all, 'learner', 'learners')}: ${showNumber(done)} done, ${showNumber(underWay)} under way${overdue > 0 ? `, ${showNumber(overdue)} overdue` : ''}.`,
  showProgress: 'Show their progress',
  seats: 'Seats',
  noLicence: 'It needs no seat.',
  licence: (name: string, lastDay: string | null) => (lastDay ? `${name}, until ${showDay(lastDay)}` : name),
  inSets: 'In course sets',
  inNoSet: 'In no course set.',
  content: 'Units and activities',
  copyAddress: 'copy its address',
  copyAddressOf: (name: string) => `Copy the address of ${name} for course platforms`,
  scored: 'scored',
  from: (source: string) => `Work on it is reported by ${source}.`,
  rule: (passScore: number | null, named: number, all: number) =>
    `Done when ${named > 0 ? `${named} of its ${some(all, 'activity is', 'activities are')}` : 'all activities of the open units are'} finished${passScore === null ? '' : `, with a score of ${passScore} or more`}.`,
  valid: (months: number, reopens: number | null) =>
    `Valid for ${some(months, 'month', 'months')}${reopens ? `; it opens again ${some(reopens, 'day', 'days')} before` : ''}.`,
  // Its form.
  name: 'Name',
  description: 'Description',
  passScore: 'Pass score',
  passScoreHint: 'Leave blank if any score will do',
  validMonths: 'Valid for, in months',
  validHint: 'Leave blank if it is valid for ever',
  reopensDays: 'Opens again',
  reopensHint: 'So many days before that',
  doneBy: 'Done by',
  doneByAll: 'all activities of the open units',
  doneBySome: 'the activities ticked below',
  unit: (place: number) => `Unit ${place}`,
  activity: 'Activity',
  addUnit: 'Add unit',
  addActivity: 'Add activity',
  up: (name: string) => `Move ${name} up`,
  down: (name: string) => `Move ${name} down`,
  takeOut: (name: string) => `Take out ${name}`,
  isScored: 'Gives a score',
  countsForDone: 'Counts for done',
  ownOf: (group: string) => `course of ${group}`,
  ownNote: (group: string) => `A course of ${group}'s own. It can be opened only in ${group} and below.`,
  giveToAll: (group: string) => `Make it everybody's, not only ${group}'s`,
  makeOwn: (group: string) => `New course of ${group}`,
  whose: 'Whose course',
  everybodys: "everybody's",
  onlyOf: (group: string) => `${group}'s own`,
  kept: 'Work done in what you take out is kept with the learner.',
  saved: 'Course changed.',
  archivedNote: 'Archived: those under way may finish, nobody new gets in.',
  // Course sets.
  setMade: 'Course set made.',
  setSaved: 'Course set changed.',
  setGone: 'Course set deleted.',
  holds: 'Its courses',
  holdsNone: 'It holds no course yet.',
  through: (set: string) => `through ${set}`,
  addCourses: 'Add courses',
  addCoursesHint: 'All who have the set get them from now on.',
  coursesToAdd: 'Courses to add',
  setsToAdd: 'Course sets to add',
  takeOutTitle: 'Take out of the set',
  takeOutCount: (count: number) => `Take out ${some(count, 'course', 'courses')}`,
  renameSet: 'Rename',
  deleteSet: 'Delete course set',
  heldBy: 'Held by',
  holdsSets: 'Holds the sets',
};

export const makeCourses = {
  title: 'Add courses',
  outline: 'One course per line',
  example: 'Rope work\n  Knots\n    Read the notes\n    Tie five knots',
  ownHint: 'Learners read, open and tick off what you write here. After this, Edit course adds words, links and files.',
  hint: 'Units indented below it, activities below the unit. A unit without activities gets one.',
  file: 'Or choose a file (CSV or JSON)…',
  fromFile: (name: string) => `From the file ${name}:`,
  dropFile: 'Do without the file',
  ignored: (columns: readonly string[]) => `Left out: ${columns.join(', ')}.`,
  problem: (problem: CourseFileProblem): string => {
    switch (problem.code) {
      case 'cannot be read':
        return 'This file cannot be read. Use CSV, or JSON with a list of courses.';
      case 'no course column':
        return 'No courses were found. A CSV file needs a column “Course”; beside it can stand Code, Subject, Description, Unit and Activity.';
      case 'too many courses':
        return `The file has ${showNumber(problem.count)} courses. Up to 1,000 can be added at once.`;
      case 'code twice':
        return `Two courses have the code ${problem.what}.`;
      case 'no name':
        return `Line ${showNumber(problem.row)} names no course.`;
    }
  },
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
  renewal: ({ doneBefore, validUntil, reopensOn }: Pick<MyCourse, 'doneBefore' | 'validUntil' | 'reopensOn'>) => {
    if (validUntil && reopensOn)
      return reopensOn === validUntil
        ? `Valid until ${showDay(validUntil)}. Then it opens again.`
        : `Valid until ${showDay(validUntil)}. It opens again on ${showDay(reopensOn)}.`;
    return doneBefore ? `Done before, on ${showDay(doneBefore)}. It is time to do it again.` : '';
  },
  open: { 'not begun': 'Begin', 'under way': 'Continue', done: 'Open' },
  openLabel: (status: MyCourse['status'], course: string) =>
    `${{ 'not begun': 'Begin', 'under way': 'Continue', done: 'Open' }[status]} ${course}`,
  opens: (day: string) => `Opens ${day}`,
  why: {
    title: (course: string) => `Why is ${course} open, or not?`,
    step: (step: WhyStep): string => {
      if (step.kind === 'inactive') return 'Your account is not active today.';
      if (step.kind === 'archived') return 'The course is archived.';
      if (step.kind === 'terms') return step.terms === 'everyone' ? 'It is open to everybody.' : 'Nobody has opened it for your groups.';
      const whom = step.at ? `for ${step.at.name}` : step.outside ? 'elsewhere' : 'for you alone';
      // With several groups, through which.
      const through = step.at && step.path && step.path.id !== step.at.id ? `, through ${step.path.name}` : '';
      const days = [step.firstDay ? ` from ${showDay(step.firstDay)}` : '', step.lastDay ? ` until ${showDay(step.lastDay)}` : ''].join('');
      if (step.effect === 'block') return `${step.some ? 'Some units are blocked' : 'It is blocked'} ${whom}${days}${through}.`;
      return `${step.some ? 'Some units are open' : 'It is open'} ${whom}${days}${through}.`;
    },
    lack: (lack: Lack): string => {
      switch (lack.what) {
        case 'account':
          return 'Ask your leader about your account.';
        case 'archived':
          return 'Nobody can work on it any more.';
        case 'day':
          return `It opens on ${showDay(lack.day)}.`;
        case 'decision':
          return 'Somebody still has to decide.';
        case 'seat':
          return lack.place === null ? 'A seat is missing. Ask your leader.' : `A seat is missing. You are number ${lack.place} in line.`;
        case 'blocked':
        case 'opening':
          return 'Ask your leader to open it.';
      }
    },
  },
  asking: {
    title: 'You can ask for',
    asked: 'You asked for',
    unitsOf: (units: number) => some(units, 'unit', 'units'),
    ask: 'Ask for it',
    askLabel: (course: string) => `Ask for ${course}`,
    words: 'Why you want it (optional)',
    send: 'Send',
    sent: 'Asked. You will see the answer here.',
    waits: (ago: string, deciders: string[]) => `Asked ${ago}. It is with ${deciders.length > 0 ? list(deciders) : 'your leaders'}.`,
    refused: (word: string | null) => `Not opened.${word ? ` “${word}”` : ''}`,
    takeBack: 'Withdraw',
    takeBackLabel: (course: string) => `Withdraw the request for ${course}`,
    takenBack: 'Request withdrawn.',
  },
};
