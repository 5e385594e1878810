import { z } from 'zod';
import { handout } from './groups.ts';
import { learnerSort, reportQuery, rowsQuery } from './report-query.ts';
import { defineRoutes } from './route.ts';
import { whyStep } from './people.ts';
import { day, groupParams, id, idInPath, lateness, moment, named, pageOfNames, scopeQuery, status, howFar } from './shapes.ts';
import {
  newsKinds,
  betweenKinds,
  countedOn,
  progressReport,
  sideBySide,
  learnerRow,
  insideCourse,
  branchAbove,
} from './progress-shapes.ts';

export const progressRoutes = defineRoutes({
  progressAbove: {
    method: 'GET',
    path: '/api/v1/groups/:groupId/progress/above',
    room: 'progress',
    who: 'leader',
    summary: 'Enrolments done per week in the branch above the scope, under the same filter',
    params: groupParams,
    query: reportQuery,
    response: z.object({ branch: branchAbove }),
  },

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
      ...pageOfNames,
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
  progressBetween: {
    method: 'GET',
    path: '/api/v1/groups/:groupId/progress/between',
    room: 'progress',
    who: 'leader',
    summary: 'What is different from the end of one day to the end of another, and the people of one kind of it',
    params: groupParams,
    /** `day`: the later one; left out: today. */
    query: reportQuery.extend({ from: day, of: z.enum(betweenKinds).optional() }),
    response: z.object({
      from: day,
      until: day,
      counts: z.record(z.enum(betweenKinds), z.number().int()),
      /** Of the kind that was asked for, by name, and the courses it is about. */
      people: z.array(named.extend({ about: z.array(z.string()) })),
    }),
  },
  historySince: {
    method: 'GET',
    path: '/api/v1/history',
    room: 'progress',
    who: 'leader',
    summary: 'The first day as whose end reports can be told',
    response: z.object({ since: day }),
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
      sort: learnerSort,
      ...pageOfNames,
    }),
    response: z.object({
      courses: z.array(named),
      people: z.array(learnerRow),
      /** How many fit, of how many; with the first page only. */
      counts: z.object({ learners: z.number().int(), ofAll: z.number().int(), notCounted: z.number().int() }).nullable(),
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
    query: rowsQuery,
    response: progressReport,
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
      count: countedOn,
    }),
    response: sideBySide,
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
      ...pageOfNames,
    }),
    response: z.object({
      enrolments: z.array(
        z.object({
          personId: id,
          givenName: z.string(),
          familyName: z.string(),
          ...howFar,
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
  myWhy: {
    method: 'GET',
    path: '/api/v1/my/courses/:courseId/why',
    room: 'courses',
    who: 'signed in',
    summary: 'Why an own course is open, opens later, or is not open',
    params: z.object({ courseId: idInPath }),
    response: z.object({ why: z.array(whyStep) }),
  },
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
