import { z } from 'zod';
import { due } from './access.changes.ts';
import { defineRoutes } from './route.ts';
import { courseOnDay, whyStep } from './people.ts';
import { day, groupParams, id, idInPath, lateness, moment, named, scopeQuery, status } from './shapes.ts';

/** One statement at a group, and whether the reader may end or change it. */
export const statement = z.object({
  id,
  effect: z.enum(['open', 'block']),
  mayEnd: z.boolean(),
  /** The course set that it names; null: it names the course. */
  set: z.string().nullable(),
  withSubgroups: z.boolean(),
  firm: z.boolean(),
  firstDay: day.nullable(),
  lastDay: day.nullable(),
  units: z.array(id).nullable(),
  due: due.nullable(),
  payers: z.object({ licences: z.array(id), others: z.boolean() }).nullable(),
  note: z.string().nullable(),
  /** Who made it; null to a leader when it was somebody above. */
  by: z.string().nullable(),
  madeOn: day,
});
export type Statement = z.output<typeof statement>;

/** How a course stands for a group, for somebody who is in it and nowhere else. */
export const accessCell = z.object({
  state: z.enum(['here', 'above', 'part', 'later', 'blocked', 'closed']),
  units: z.number().int(),
  opensOn: day.nullable(),
  /** What opens it is said at this very group. */
  openedHere: z.boolean(),
  /** Statements in force or to come that are made at this very group about this course. */
  grants: z.array(statement),
  /** The group whose word decided; null when the course's own terms did, or it lies outside. */
  decidedAt: named.nullable(),
});
export type AccessCell = z.output<typeof accessCell>;

/** What is shown of a day: a past one as it stood when it ended, a later one as it will be if nothing changes. */
export const dayShown = z.object({
  day,
  isPast: z.boolean(),
  /** The first day whose end is on record. */
  since: day,
});

const spanQuery = scopeQuery.extend({ firstDay: day, lastDay: day });

export const accessGrid = dayShown.extend({
  courses: z.array(z.object({ id, name: z.string(), units: z.array(named), set: z.string().nullable() })),
  /** Licences that statements name. */
  licences: z.array(named),
  rows: z.array(
    z.object({
      id,
      parentId: id.nullable(),
      name: z.string(),
      depth: z.number().int(),
      isAbove: z.boolean(),
      mayOpen: z.boolean(),
      cells: z.array(accessCell),
    }),
  ),
});
export type AccessGrid = z.output<typeof accessGrid>;

/** A learner who asks for a course that is open on request. */
export const courseRequest = z.object({
  id,
  personId: id,
  name: z.string(),
  /** Groups of theirs that the reader may see. */
  groups: z.array(named),
  courseId: id,
  course: z.string(),
  askedAt: moment,
  words: z.string().nullable(),
});
export type CourseRequest = z.output<typeof courseRequest>;

export const accessRoutes = defineRoutes({
  accessGrid: {
    method: 'GET',
    path: '/api/v1/groups/:groupId/access',
    room: 'access',
    who: 'leader',
    summary: 'Which course is open to which group of the branch, and by whose word',
    params: groupParams,
    query: z.strictObject({ day: day.optional() }),
    response: accessGrid,
  },
  accessWhy: {
    method: 'GET',
    path: '/api/v1/groups/:groupId/courses/:courseId/why',
    room: 'access',
    who: 'leader',
    summary: 'Why a course is open, or not, to somebody who is in this group and nowhere else',
    params: groupParams.extend({ courseId: idInPath }),
    query: z.strictObject({ day: day.optional() }),
    response: z.object({
      why: z.array(whyStep),
      /** Parts of splits that run in the group, or above it, and make something else of the course for now. */
      parts: z.array(
        z.object({
          splitId: id,
          groupId: id,
          split: z.string(),
          part: z.string(),
          until: moment,
          does: z.enum(['opens', 'narrows', 'closes']),
        }),
      ),
    }),
  },
  personCourses: {
    method: 'GET',
    path: '/api/v1/people/:personId/courses',
    room: 'access',
    who: 'leader',
    summary: 'Which courses were, or will be, open to somebody on a day, and why',
    params: z.object({ personId: idInPath }),
    query: z.strictObject({ day }),
    response: dayShown.extend({
      /** False: they had no account yet. */
      isKnown: z.boolean(),
      courses: z.array(courseOnDay),
    }),
  },
  personStandings: {
    method: 'GET',
    path: '/api/v1/people/:personId/courses/standings',
    room: 'access',
    who: 'leader',
    summary: 'How far somebody was at the end of a past day, or what a later day asks of them if nothing changes',
    params: z.object({ personId: idInPath }),
    query: z.strictObject({ day }),
    response: z.object({
      standings: z.array(z.object({ courseId: id, status, lateness, due: day.nullable(), score: z.number().nullable() })),
    }),
  },
  courseOnDay: {
    method: 'GET',
    path: '/api/v1/groups/:groupId/courses/:courseId/on-day',
    room: 'access',
    who: 'leader',
    summary: 'What opened, or will open, a course in a scope on a day, and to how many',
    params: groupParams.extend({ courseId: idInPath }),
    query: scopeQuery.extend({ day }),
    response: dayShown.extend({
      archived: z.boolean(),
      statements: z.array(statement.extend({ group: named })),
      learners: z.number().int(),
      /** Of these, to so many it was open. */
      open: z.number().int(),
    }),
  },
  couldGetIn: {
    method: 'GET',
    path: '/api/v1/groups/:groupId/courses/:courseId/could-get-in',
    room: 'access',
    who: 'leader',
    summary: 'Who could get into a course between two days, through what and by whose word, with first and last use',
    params: groupParams.extend({ courseId: idInPath }),
    query: spanQuery,
    response: z.object({
      rows: z.array(
        z.object({
          personId: id,
          /** Family name first; null: erased. */
          name: z.string().nullable(),
          firstDay: day,
          lastDay: day,
          through: z.array(z.string()),
          /** Statements that opened it; none: its own terms did. */
          by: z.array(z.object({ group: z.string().nullable(), name: z.string().nullable(), day })),
          firstUse: moment.nullable(),
          lastUse: moment.nullable(),
        }),
      ),
      people: z.number().int(),
      more: z.number().int(),
      /** People who are no longer in the reader's groups. */
      unnamed: z.number().int(),
    }),
  },
  couldGetInFile: {
    method: 'GET',
    path: '/api/v1/groups/:groupId/courses/:courseId/could-get-in.csv',
    room: 'access',
    who: 'leader',
    summary: 'The same as CSV, with the question in it and its SHA-256 in the name of the file',
    params: groupParams.extend({ courseId: idInPath }),
    query: spanQuery,
    response: 'csv',
  },
  courseRequests: {
    method: 'GET',
    path: '/api/v1/groups/:groupId/course-requests',
    room: 'access',
    who: 'leader',
    summary: 'Who of the scope asks for a course, where the reader decides; the longest-waiting first',
    params: groupParams,
    query: scopeQuery,
    response: z.object({ requests: z.array(courseRequest), more: z.number().int() }),
  },
  myCourseRequests: {
    method: 'GET',
    path: '/api/v1/my/course-requests',
    room: 'access',
    who: 'signed in',
    summary: 'What one can ask for, and what one has asked for',
    response: z.object({
      requests: z.array(
        z.object({
          courseId: id,
          course: z.string(),
          askedAt: moment,
          state: z.enum(['asking', 'turned away']),
          word: z.string().nullable(),
          deciders: z.array(z.string()),
        }),
      ),
      courses: z.array(z.object({ id, name: z.string(), description: z.string().nullable(), units: z.number().int() })),
    }),
  },
  askForCourse: {
    method: 'POST',
    path: '/api/v1/my/course-requests',
    room: 'access',
    who: 'signed in',
    summary: 'Ask for a course that is open on request',
    body: z.strictObject({ courseId: id, words: z.string().trim().max(500).nullable(), requestId: z.uuid() }),
    response: z.object({}),
  },
  takeBackCourseRequest: {
    method: 'POST',
    path: '/api/v1/my/course-requests/take-back',
    room: 'access',
    who: 'signed in',
    summary: 'No longer ask for a course',
    body: z.strictObject({ courseId: id, requestId: z.uuid() }),
    response: z.object({}),
  },
});
