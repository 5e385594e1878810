import { z } from 'zod';
import { filterInAddress } from './filters.ts';
import { handout } from './groups.ts';
import { defineRoutes } from './route.ts';
import { day, groupParams, id, idInPath, lateness, moment, named, scopeQuery, status, tally } from './shapes.ts';

/** A scope, and the filter that narrows what is said of it. */
const reportQuery = scopeQuery.extend({ filter: filterInAddress });

/** What may be new to a leader who comes back. */
export const newsKinds = ['finished', 'overdue', 'stuck', 'joined'] as const;
export type NewsKind = (typeof newsKinds)[number];
/** Days without work after which somebody in the middle of a course is said to be stuck. */
export const stuckDays = 14;

export const progressReport = z.object({
  /** Counted learners who fit the filter, of how many. */
  learners: z.number().int(),
  ofAll: z.number().int(),
  notCounted: z.number().int(),
  total: tally,
  courses: z.array(named),
  rows: z.array(
    z.object({
      id,
      parentId: id.nullable(),
      name: z.string(),
      depth: z.number().int(),
      hasSubgroups: z.boolean(),
      learners: z.number().int(),
      total: tally,
      cells: z.array(tally.nullable()),
    }),
  ),
  /** Enrolments done per week, the oldest first. */
  weeks: z.array(z.object({ monday: day, done: z.number().int() })),
});
export type ProgressReport = z.output<typeof progressReport>;

/** Quartiles of scores, over so many enrolments; null: nobody has one. */
const scores = z.object({ low: z.number(), median: z.number(), high: z.number(), of: z.number().int() }).nullable();
const besideRow = z.object({
  id,
  name: z.string(),
  /** Counted learners who fit the filter, of how many. */
  learners: z.number().int(),
  ofAll: z.number().int(),
  total: tally,
  scores,
  cells: z.array(tally.nullable()),
});
export const sideBySide = z.object({ courses: z.array(named), rows: z.array(besideRow), scope: besideRow });
export type SideBySide = z.output<typeof sideBySide>;

/** A learner and one course: what a cell of the list shows. */
export const learnerCell = z.object({
  courseId: id,
  /** Open today: with none, it is shown for the work that was done. */
  open: z.boolean(),
  status,
  lateness,
  due: day.nullable(),
  doneDay: day.nullable(),
  score: z.number().nullable(),
  exempt: z.boolean(),
  units: z.number().int(),
  unitsDone: z.number().int(),
  inLine: z.number().int().nullable(),
});
export type LearnerCell = z.output<typeof learnerCell>;

export const learnerRow = z.object({
  id,
  givenName: z.string(),
  familyName: z.string(),
  groups: z.array(named),
  activeAt: moment.nullable(),
  /** The next day on which something is due, today or later. */
  nextDue: day.nullable(),
  cells: z.array(learnerCell),
});
export type LearnerRow = z.output<typeof learnerRow>;

const personInside = z.object({
  id,
  givenName: z.string(),
  familyName: z.string(),
  status,
  exempt: z.boolean(),
  openUnits: z.array(id),
  /** The first activity of the open units that is not finished. */
  at: id.nullable(),
  /** Under way, and nothing done for 14 days. */
  hasStopped: z.boolean(),
  results: z.array(z.object({ activityId: id, finished: z.boolean(), score: z.number().nullable(), lastDay: day })),
});
export type PersonInside = z.output<typeof personInside>;

export const insideCourse = z.object({
  course: named,
  /** Courses that are open in the scope, to go from one to the other. */
  courses: z.array(named),
  units: z.array(named.extend({ activities: z.array(named.extend({ scored: z.boolean() })) })),
  /** Of those who fit the filter and have the course. */
  figures: z.object({ all: z.number().int(), done: z.number().int(), underWay: z.number().int(), exempt: z.number().int() }),
  learners: z.number().int(),
  ofAll: z.number().int(),
  notCounted: z.number().int(),
  /** How many have stopped at an activity. */
  stops: z.array(z.object({ activityId: id, people: z.number().int() })),
  /** Days from finishing a unit to finishing the next: quartiles over those who finished both. */
  days: z.array(z.object({ unitId: id, people: z.number().int(), low: z.number(), median: z.number(), high: z.number() })),
  people: z.array(personInside),
  next: z.string().nullable(),
});
export type InsideCourse = z.output<typeof insideCourse>;

export const progressRoutes = defineRoutes({
  progressInside: {
    method: 'GET',
    path: '/api/v1/groups/:groupId/progress/inside',
    room: 'progress',
    who: 'leader',
    summary: 'Inside one course: learners by activity, where they stop, and days from unit to unit',
    params: groupParams,
    /** Without a course: the first one that is open in the scope. */
    query: reportQuery.extend({
      courseId: idInPath.optional(),
      after: z.string().max(400).optional(),
      limit: z.coerce.number().int().min(1).max(200).default(100),
    }),
    response: insideCourse.nullable(),
  },
  progressNews: {
    method: 'GET',
    path: '/api/v1/groups/:groupId/progress/news',
    room: 'progress',
    who: 'leader',
    summary: 'What is new in a scope since the reader last looked at progress, and the people of one kind of it',
    params: groupParams,
    query: scopeQuery.extend({ of: z.enum(newsKinds).optional() }),
    response: z.object({
      /** null: they have not looked before. */
      since: moment.nullable(),
      /** How many people each kind is about. */
      counts: z.record(z.enum(newsKinds), z.number().int()),
      /** Of the kind that was asked for, by name, and the courses or groups it is about. */
      people: z.array(named.extend({ about: z.array(z.string()) })),
    }),
  },
  lookedAtProgress: {
    method: 'POST',
    path: '/api/v1/my/looked',
    room: 'progress',
    who: 'leader',
    summary: 'The reader looks at progress now; what happens from here on is new to them next time',
    response: z.object({}),
  },
  progressLearners: {
    method: 'GET',
    path: '/api/v1/groups/:groupId/progress/learners',
    room: 'progress',
    who: 'leader',
    summary: 'Learner by course: a page of the learners who fit the filter, with all their courses',
    params: groupParams,
    query: reportQuery.extend({
      sort: z.enum(['name', '-name', '-active']).default('name'),
      after: z.string().max(400).optional(),
      limit: z.coerce.number().int().min(1).max(200).default(100),
    }),
    response: z.object({
      courses: z.array(named),
      people: z.array(learnerRow),
      learners: z.number().int(),
      ofAll: z.number().int(),
      notCounted: z.number().int(),
      next: z.string().nullable(),
    }),
  },
  progress: {
    method: 'GET',
    path: '/api/v1/groups/:groupId/progress',
    room: 'progress',
    who: 'leader',
    summary: 'Group by course: how far they are, each learner once per branch',
    params: groupParams,
    query: reportQuery,
    response: progressReport,
  },
  progressInsideFile: {
    method: 'GET',
    path: '/api/v1/groups/:groupId/progress/inside.csv',
    room: 'progress',
    who: 'leader',
    summary: 'Inside one course as a CSV file: everybody who fits the filter, a column for each activity',
    params: groupParams,
    query: reportQuery.extend({ courseId: idInPath.optional() }),
    response: 'csv',
  },
  progressLearnersFile: {
    method: 'GET',
    path: '/api/v1/groups/:groupId/progress/learners.csv',
    room: 'progress',
    who: 'leader',
    summary: 'Learner by course as a CSV file: everybody who fits the filter',
    params: groupParams,
    query: reportQuery.extend({ sort: z.enum(['name', '-name', '-active']).default('name') }),
    response: 'csv',
  },
  progressFile: {
    method: 'GET',
    path: '/api/v1/groups/:groupId/progress.csv',
    room: 'progress',
    who: 'leader',
    summary: 'The same numbers as a CSV file',
    params: groupParams,
    query: reportQuery,
    response: 'csv',
  },
  progressSideBySide: {
    method: 'GET',
    path: '/api/v1/groups/:groupId/progress/side-by-side',
    room: 'progress',
    who: 'leader',
    summary: 'Two to six groups next to one another, and the scope below them',
    params: groupParams,
    query: reportQuery.extend({
      /** Numbers with commas between them. */
      groups: z
        .string()
        .max(200)
        .regex(/^[1-9]\d*(,[1-9]\d*){0,5}$/u)
        .transform((text) => text.split(',').map(Number)),
    }),
    response: sideBySide,
  },
  progressWorkbook: {
    method: 'GET',
    path: '/api/v1/groups/:groupId/progress.xlsx',
    room: 'progress',
    who: 'leader',
    summary: 'A view of progress as a workbook, with what was asked on a sheet of its own',
    params: groupParams,
    query: reportQuery.extend({
      view: z.enum(['groups', 'learners', 'course', 'beside']),
      groups: z.string().max(200).optional(),
      courseId: idInPath.optional(),
      sort: z.enum(['name', '-name', '-active']).default('name'),
    }),
    response: 'file',
  },
  progressPeople: {
    method: 'GET',
    path: '/api/v1/groups/:groupId/progress/people',
    room: 'progress',
    who: 'leader',
    summary: 'The enrolments behind a cell, a page at a time',
    params: groupParams,
    query: reportQuery.extend({
      courseId: idInPath,
      after: z.string().max(400).optional(),
      limit: z.coerce.number().int().min(1).max(200).default(100),
    }),
    response: z.object({
      enrolments: z.array(
        z.object({
          personId: id,
          givenName: z.string(),
          familyName: z.string(),
          status,
          lateness,
          due: day.nullable(),
          doneDay: day.nullable(),
          score: z.number().nullable(),
          exempt: z.boolean(),
        }),
      ),
      next: z.string().nullable(),
    }),
  },
});

export const myCourse = z.object({
  /** Place in line for a seat; null: none is needed, or there is one. */
  inLine: z.number().int().nullable(),
  /** It asks for a seat, and no licence can pay for one. */
  noLicence: z.boolean(),
  id,
  name: z.string(),
  open: z.boolean(),
  opensOn: day.nullable(),
  status,
  lateness,
  due: day.nullable(),
  doneDay: day.nullable(),
  score: z.number().nullable(),
  units: z.number().int(),
  unitsDone: z.number().int(),
  setBy: named.nullable(),
  /** Activities to hand in or tick off that are open to them, and how many of these are not finished and wait for them. */
  ownActivities: z.number().int(),
  toHandIn: z.number().int(),
  /** A split makes it otherwise until then: open, or put aside. */
  forNowUntil: moment.nullable(),
  /** Done before, in an earlier round. */
  doneBefore: day.nullable(),
  /** What is done is valid until then, and opens again on that day. */
  validUntil: day.nullable(),
  reopensOn: day.nullable(),
});
export type MyCourse = z.output<typeof myCourse>;

export const learnerRoutes = defineRoutes({
  myCourses: {
    method: 'GET',
    path: '/api/v1/my/courses',
    room: 'courses',
    who: 'signed in',
    summary: 'The own courses: what to do next on top',
    response: z.object({
      groups: z.array(
        z.object({
          id,
          name: z.string(),
          path: z.array(z.string()),
          /** Whom to ask: the contact person of the group or the nearest above, else who leads it. */
          ask: z.array(z.object({ name: z.string(), email: z.string().nullable() })),
          /** Whose picture it is: the group's own or of the nearest above. */
          pictureOf: id.nullable(),
          handouts: z.array(handout.extend({ groupId: id })),
        }),
      ),
      /** What is different for them while parts of their groups work on their own; latest end first. */
      forNow: z.array(z.object({ until: moment, words: z.string(), link: z.string().nullable() })),
      courses: z.array(myCourse),
    }),
  },
  launch: {
    method: 'POST',
    path: '/api/v1/my/courses/:courseId/launch',
    room: 'courses',
    who: 'signed in',
    summary: 'Open a course in its player; the address holds a token bound to person, course and end',
    params: z.object({ courseId: idInPath }),
    response: z.object({ address: z.string() }),
  },
});
