import { z } from 'zod';
import { filterInAddress } from './filters.ts';
import { defineRoutes } from './route.ts';
import { day, groupParams, id, idInPath, moment, named, numberInAddress, scopeQuery, status } from './shapes.ts';
import { activityContent, finishing, handIn } from './work.changes.ts';

export const workLists = ['waiting', 'marked', 'sent back'] as const;
export type WorkList = (typeof workLists)[number];

const name = { givenName: z.string(), familyName: z.string() };

const workRow = z.object({
  versionId: id,
  personId: id,
  ...name,
  activity: z.string(),
  course: z.string(),
  groups: z.array(z.string()),
  handedInAt: moment,
  /** The first, second … time. */
  number: z.number().int(),
  isLate: z.boolean(),
  /** Who has it open to mark it now, other than the reader. */
  takenBy: z.string().nullable(),
});
export type WorkRow = z.output<typeof workRow>;

const workFile = z.object({
  id,
  fileName: z.string(),
  mimeType: z.string(),
  size: z.number().int(),
  /** Works for some minutes, for everyone who has it. */
  address: z.string(),
});
export type WorkFile = z.output<typeof workFile>;

const givenMark = z.object({
  id,
  verdict: z.enum(['sent back', 'marked']),
  score: z.number().nullable(),
  passed: z.boolean().nullable(),
  points: z.array(z.number().int()).nullable(),
  skillIds: z.array(id),
  comment: z.string(),
  by: z.string(),
  at: moment,
});

const version = z.object({
  id,
  number: z.number().int(),
  state: z.enum(['draft', 'waiting', 'sent back', 'marked']),
  words: z.string(),
  link: z.string().nullable(),
  files: z.array(workFile),
  skillIds: z.array(id),
  handedInAt: moment.nullable(),
  isLate: z.boolean(),
  /** A marker has it open now. */
  isTaken: z.boolean(),
  mark: givenMark.nullable(),
});
export type WorkVersion = z.output<typeof version>;

export const workSheet = z.object({
  versionId: id,
  person: named.extend(name),
  groups: z.array(z.string()),
  course: named,
  unit: z.string(),
  activity: named,
  asks: handIn,
  skills: z.array(named),
  /** Of the learner in the course. */
  finished: z.number().int(),
  needed: z.number().int(),
  due: day.nullable(),
  status,
  version,
  earlier: z.array(version),
  /** Marks that were corrected, oldest first. */
  corrected: z.array(givenMark),
  mayMark: z.boolean(),
});
export type WorkSheet = z.output<typeof workSheet>;

const myActivity = z.object({
  id,
  name: z.string(),
  unit: z.string(),
  finishedBy: finishing.finishedBy.unwrap(),
  asks: handIn.nullable(),
  content: activityContent.nullable(),
  finished: z.boolean(),
  score: z.number().nullable(),
  versions: z.array(version),
  /** They may hand in (again) now. */
  canHandIn: z.boolean(),
});
export type MyActivity = z.output<typeof myActivity>;

const shown = z.object({ skillId: id, name: z.string(), course: z.string().nullable(), people: z.number().int(), times: z.number().int() });

const activityParams = z.object({ activityId: idInPath });
const versionParams = z.object({ versionId: idInPath });

export const workRoutes = defineRoutes({
  handedIn: {
    method: 'GET',
    path: '/api/v1/groups/:groupId/handed-in',
    room: 'work',
    who: 'leader',
    summary: 'Work that was handed in: what waits to be marked, oldest first; what is marked or sent back, latest first',
    params: groupParams,
    query: scopeQuery.extend({
      list: z.enum(workLists).default('waiting'),
      courseId: idInPath.optional(),
      personId: idInPath.optional(),
      /** Marked by the reader. */
      mine: z.enum(['yes', 'no']).default('no'),
      filter: filterInAddress,
      after: z.string().max(100).optional(),
      limit: numberInAddress(1, 200).default(50),
    }),
    response: z.object({
      pieces: z.array(workRow),
      counts: z.object({ waiting: z.number().int(), marked: z.number().int(), 'sent back': z.number().int() }),
      /** Of what waits: days since the oldest came, and the median; null: nothing waits. */
      oldestDays: z.number().nullable(),
      medianDays: z.number().nullable(),
      courses: z.array(named),
      next: z.string().nullable(),
    }),
  },
  workSheet: {
    method: 'GET',
    path: '/api/v1/work/:versionId',
    room: 'work',
    who: 'leader',
    summary: 'One piece of work: what was asked, what was handed in, and what came of it before',
    params: versionParams,
    response: workSheet,
  },
  claimWork: {
    method: 'POST',
    path: '/api/v1/work/:versionId/claim',
    room: 'work',
    who: 'leader',
    summary: 'Take a waiting piece to mark it, for some minutes, or give it back',
    params: versionParams,
    body: z.strictObject({ take: z.boolean() }),
    /** `takenBy`: another marker has it until then. */
    response: z.object({ until: moment.nullable(), takenBy: z.string().nullable() }),
  },
  workFile: {
    method: 'GET',
    path: '/api/v1/work-files/:key',
    room: 'work',
    who: 'anyone',
    summary: 'A file that was handed in, by the address that its reader was given; always saved, never run',
    params: z.object({ key: z.string().max(200) }),
    response: 'file',
  },
  skillsOffered: {
    method: 'GET',
    path: '/api/v1/groups/:groupId/skills',
    room: 'work',
    who: 'leader',
    summary: 'Skills, and how many learners of the scope have shown each, how often',
    params: groupParams,
    query: scopeQuery.extend({ filter: filterInAddress }),
    response: z.object({
      skills: z.array(shown),
      learners: z.number().int(),
      ofAll: z.number().int(),
      notCounted: z.number().int(),
      mayEdit: z.boolean(),
    }),
  },
  skillPeople: {
    method: 'GET',
    path: '/api/v1/groups/:groupId/skills/:skillId',
    room: 'work',
    who: 'leader',
    summary: 'Who has shown a skill: how often, when last, and by whom it was confirmed',
    params: groupParams.extend({ skillId: idInPath }),
    query: scopeQuery.extend({ filter: filterInAddress }),
    response: z.object({
      people: z.array(z.object({ id, ...name, times: z.number().int(), lastAt: moment, by: z.array(z.string()) })),
      more: z.number().int(),
    }),
  },
});

export const myWorkRoutes = defineRoutes({
  activityFile: {
    method: 'GET',
    path: '/api/v1/activities/:activityId/file',
    room: 'work',
    who: 'signed in',
    summary: 'The file of an activity, for those to whom its unit is open and for leaders who see the course',
    params: activityParams,
    response: 'file',
  },
  myWork: {
    method: 'GET',
    path: '/api/v1/my/courses/:courseId/work',
    room: 'work',
    who: 'signed in',
    summary: 'The activities of an own course: what is handed in, what it came to, what is ticked off',
    params: z.object({ courseId: idInPath }),
    response: z.object({ course: named, activities: z.array(myActivity), skills: z.array(named) }),
  },
  saveWork: {
    method: 'POST',
    path: '/api/v1/my/activities/:activityId/work',
    room: 'work',
    who: 'signed in',
    once: true,
    summary: 'Keep a draft of what is handed in, or hand it in',
    params: activityParams,
    body: z.strictObject({
      words: z.string().trim().max(20_000),
      link: z
        .url({ protocol: /^https?$/u, hostname: z.regexes.domain })
        .max(2000)
        .nullable(),
      skillIds: z.array(id).max(40),
      handIn: z.boolean(),
    }),
    response: z.object({ versionId: id }),
  },
  addWorkFile: {
    method: 'POST',
    path: '/api/v1/my/activities/:activityId/files',
    room: 'work',
    who: 'signed in',
    once: true,
    summary: 'Add a picture or a file to the draft, as base64',
    params: activityParams,
    body: z.strictObject({ fileName: z.string().trim().min(1).max(200), base64: z.base64().max(3_000_000) }),
    response: z.object({ id }),
  },
  removeWorkFile: {
    method: 'DELETE',
    path: '/api/v1/my/work-files/:fileId',
    room: 'work',
    who: 'signed in',
    once: true,
    summary: 'Take a file out of the draft',
    params: z.object({ fileId: idInPath }),
    response: 'nothing',
  },
  takeBackWork: {
    method: 'POST',
    path: '/api/v1/my/activities/:activityId/take-back',
    room: 'work',
    who: 'signed in',
    once: true,
    summary: 'Take back what was handed in, until somebody begins to mark it',
    params: activityParams,
    response: z.object({}),
  },
  tickActivity: {
    method: 'POST',
    path: '/api/v1/my/activities/:activityId/tick',
    room: 'work',
    who: 'signed in',
    once: true,
    summary: 'Tick an activity off as finished, or take the tick away',
    params: activityParams,
    body: z.strictObject({ finished: z.boolean() }),
    response: z.object({}),
  },
  mySkills: {
    method: 'GET',
    path: '/api/v1/my/skills',
    room: 'work',
    who: 'signed in',
    summary: 'Skills that the own work has shown',
    response: z.object({
      skills: z.array(z.object({ name: z.string(), course: z.string().nullable(), times: z.number().int(), lastAt: moment })),
    }),
  },
});
