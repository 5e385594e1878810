import { z } from 'zod';
import { statement } from './access.ts';
import { courseValues } from './courses.changes.ts';
import { finishing } from './work.changes.ts';
import { defineRoutes } from './route.ts';
import { day, groupParams, id, idInPath, named, numberInAddress, scopeQuery } from './shapes.ts';

/** How far the learners of a scope are in a course; null: the reader does not see progress. */
const standing = z
  .object({ all: z.number().int(), underWay: z.number().int(), done: z.number().int(), overdue: z.number().int() })
  .nullable();

const courseRow = z.object({
  id,
  name: z.string(),
  code: z.string().nullable(),
  subject: z.string().nullable(),
  terms: courseValues.shape.terms,
  archived: z.boolean(),
  units: z.number().int(),
  activities: z.number().int(),
  validMonths: z.number().int().nullable(),
  tags: z.array(z.string()),
  sets: z.array(named),
  /** The branch whose own course it is; null: everybody's. */
  home: named.nullable(),
  /** Groups of the scope at which something opens it. */
  openedAt: z.number().int(),
  standing,
});
export type CourseRow = z.output<typeof courseRow>;

export const courseStates = ['active', 'archived', 'all'] as const;
export const courseSorts = [
  'name',
  '-name',
  'code',
  '-code',
  'subject',
  '-subject',
  'learners',
  '-learners',
  'openedAt',
  '-openedAt',
] as const;

/** Which courses of the catalogue, in which order. */
const catalogueQuery = scopeQuery.extend({
  /** In name, code, subject or tags. */
  words: z.string().max(200).default(''),
  subject: z.string().max(120).optional(),
  tag: z.string().max(60).optional(),
  setId: idInPath.optional(),
  state: z.enum(courseStates).default('active'),
  sort: z.enum(courseSorts).default('name'),
});

/** A statement with the group at which it stands. */
const statementAt = statement.extend({ group: named });
export type StatementAt = z.output<typeof statementAt>;

const courseSheet = courseValues.extend({
  id,
  home: named.nullable(),
  /** The source that reports work on it. */
  source: z.string().nullable(),
  units: z.array(named.extend({ activities: z.array(named.extend({ scored: z.boolean(), ...finishing })) })),
  /** Skills that its work can show. */
  skills: z.array(named.extend({ courseId: id.nullable() })),
  sets: z.array(named),
  statements: z.array(statementAt),
  /** Statements at groups of the reader's that are outside the scope. */
  elsewhere: z.number().int(),
  standing,
  licences: z.array(named.extend({ lastDay: day.nullable() })),
  mayEdit: z.boolean(),
  mayOpen: z.boolean(),
});
export type CourseSheet = z.output<typeof courseSheet>;

const courseSetSheet = z.object({
  id,
  name: z.string(),
  /** `through`: the set in this one that brings it; null: it stands in this one itself. */
  courses: z.array(named.extend({ code: z.string().nullable(), archived: z.boolean(), through: named.nullable() })),
  sets: z.array(named),
  /** Sets that hold this one. */
  heldBy: z.array(named),
  statements: z.array(statementAt),
  elsewhere: z.number().int(),
  licences: z.array(named.extend({ lastDay: day.nullable() })),
  mayEdit: z.boolean(),
  mayOpen: z.boolean(),
});
export type CourseSetSheet = z.output<typeof courseSetSheet>;

export const courseRoutes = defineRoutes({
  courses: {
    method: 'GET',
    path: '/api/v1/groups/:groupId/courses',
    room: 'courses',
    who: 'leader',
    summary: 'A page of the catalogue, with how each course stands in the scope',
    params: groupParams,
    query: catalogueQuery.extend({
      after: numberInAddress(0, 100_000).default(0),
      limit: numberInAddress(1, 200).default(100),
    }),
    response: z.object({
      courses: z.array(courseRow),
      /** How many fit, of how many in all. */
      fit: z.number().int(),
      all: z.number().int(),
      subjects: z.array(z.string()),
      tags: z.array(z.string()),
      sets: z.array(named.extend({ courses: z.number().int() })),
      mayEdit: z.boolean(),
      /** The scope's group when the reader may make courses of its own there. */
      ownHome: named.nullable(),
      next: z.number().int().nullable(),
    }),
  },
  coursesFile: {
    method: 'GET',
    path: '/api/v1/groups/:groupId/courses.csv',
    room: 'courses',
    who: 'leader',
    summary: 'The courses that fit, as CSV',
    params: groupParams,
    query: catalogueQuery,
    response: 'csv',
  },
  course: {
    method: 'GET',
    path: '/api/v1/groups/:groupId/courses/:courseId',
    room: 'courses',
    who: 'leader',
    summary: 'One course: what it says of itself, what opens it, how its learners are',
    params: groupParams.extend({ courseId: idInPath }),
    query: scopeQuery,
    response: courseSheet,
  },
  courseSet: {
    method: 'GET',
    path: '/api/v1/groups/:groupId/course-sets/:courseSetId',
    room: 'courses',
    who: 'leader',
    summary: 'One course set: what it holds, and which groups have it',
    params: groupParams.extend({ courseSetId: idInPath }),
    query: scopeQuery,
    response: courseSetSheet,
  },
});
