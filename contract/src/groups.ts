import { groupColours, powers } from '@gate-roster/core';
import { z } from 'zod';
import { defineRoutes } from './route.ts';
import { day, groupParams, id, idInPath, moment, named, scopeQuery, tally } from './shapes.ts';

export const treeRow = z.object({
  id,
  parentId: id.nullable(),
  name: z.string(),
  state: z.enum(['active', 'archived']),
  colour: z.enum(groupColours).nullable(),
  youngLearners: z.boolean(),
  people: z.number().int(),
  /** Ids; names stand beside the rows. */
  tags: z.array(id),
  leaders: z.array(id),
});
export type TreeRow = z.output<typeof treeRow>;

export const notCountedReason = z.enum(['begins later', 'has ended', 'paused', 'asking', 'group not active']);

export const groupLeader = z.object({
  id,
  name: z.string(),
  powers: z.array(z.enum(powers)),
  firstDay: day.nullable(),
  lastDay: day.nullable(),
});
export type GroupLeader = z.output<typeof groupLeader>;

/** An invitation that nobody has followed yet. */
export const invited = z.object({ id, email: z.string(), name: z.string(), leads: z.boolean(), until: moment });
export type Invited = z.output<typeof invited>;

export const handout = z.object({ id, title: z.string(), url: z.string().nullable(), uploadId: id.nullable() });

export const groupSheet = z.object({
  id,
  name: z.string(),
  description: z.string().nullable(),
  youngLearners: z.boolean(),
  state: z.enum(['active', 'archived']),
  firstDay: day.nullable(),
  lastDay: day.nullable(),
  path: z.array(named),
  below: z.number().int(),
  idNumber: z.string().nullable(),
  colour: z.enum(groupColours).nullable(),
  pictureId: id.nullable(),
  contact: named.nullable(),
  signInPrefix: z.string().nullable(),
  handouts: z.array(handout),
  leaders: z.array(groupLeader),
  invited: z.array(invited),
  tags: z.array(named),
  people: z.object({
    counted: z.number().int(),
    leaders: z.number().int(),
    inSeveral: z.number().int(),
    notCounted: z.array(z.object({ reason: notCountedReason, people: z.number().int() })),
  }),
  courses: z.object({ open: z.number().int(), fromAbove: z.number().int(), blocked: z.number().int() }),
  /** null: no licence pays for anything here. */
  seats: z.object({ used: z.number().int(), inLine: z.number().int() }).nullable(),
  progress: tally,
  may: z.object({
    managePeople: z.boolean(),
    shapeGroups: z.boolean(),
    openCourses: z.boolean(),
    seeProgress: z.boolean(),
    bringIn: z.boolean(),
    export: z.boolean(),
    /** Move, archive and delete the group itself: it hangs on a group that the reader may shape. */
    shapeItself: z.boolean(),
    appointLeaders: z.boolean(),
    helpSignIn: z.boolean(),
  }),
});
export type GroupSheet = z.output<typeof groupSheet>;

export const groupRoutes = defineRoutes({
  tree: {
    method: 'GET',
    path: '/api/v1/groups',
    room: 'groups',
    who: 'leader',
    summary: 'All groups of the own branches, with people',
    response: z.object({ groups: z.array(treeRow), tags: z.array(named), leaders: z.array(named) }),
  },
  treeProgress: {
    method: 'GET',
    path: '/api/v1/group-progress',
    room: 'groups',
    who: 'leader',
    summary: 'Progress of the branch of every group; apart, since it takes longer than the tree',
    response: z.object({ groups: z.array(z.object({ id, tally })) }),
  },
  group: {
    method: 'GET',
    path: '/api/v1/groups/:groupId',
    room: 'groups',
    who: 'leader',
    summary: 'One group: its five figures and who leads it',
    params: groupParams,
    query: scopeQuery,
    response: groupSheet,
  },
  upload: {
    method: 'POST',
    path: '/api/v1/uploads',
    room: 'groups',
    who: 'leader',
    once: true,
    summary: 'A picture (PNG, JPEG or WebP) or a small file, as base64, to hang on a group afterwards',
    body: z.strictObject({ fileName: z.string().trim().min(1).max(200), base64: z.base64().max(3_000_000) }),
    response: z.object({ id, isPicture: z.boolean() }),
  },
  groupPicture: {
    method: 'GET',
    path: '/api/v1/groups/:groupId/picture',
    room: 'groups',
    who: 'signed in',
    summary: 'The picture of a group, for its people and leaders',
    params: groupParams,
    response: 'file',
  },
  handoutFile: {
    method: 'GET',
    path: '/api/v1/groups/:groupId/handouts/:handoutId',
    room: 'groups',
    who: 'signed in',
    summary: 'A file for the people of a group',
    params: groupParams.extend({ handoutId: idInPath }),
    response: 'file',
  },
  missing: {
    method: 'GET',
    path: '/api/v1/missing',
    room: 'groups',
    who: 'administrator',
    summary: 'What is still missing before a learner can work',
    response: z.object({ groups: z.boolean(), people: z.boolean(), courses: z.boolean(), access: z.boolean(), signIns: z.boolean() }),
  },
});
