import { z } from 'zod';
import { defineRoutes } from './route.ts';
import { day, groupParams, id, named, scopeQuery, tally } from './shapes.ts';

export const treeRow = z.object({
  id,
  parentId: id.nullable(),
  name: z.string(),
  state: z.enum(['active', 'archived']),
  people: z.number().int(),
  tally,
});
export type TreeRow = z.output<typeof treeRow>;

export const notCountedReason = z.enum(['begins later', 'has ended', 'paused', 'asking', 'group not active']);

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
  leaders: z.array(named),
  tags: z.array(named),
  people: z.object({
    counted: z.number().int(),
    leaders: z.number().int(),
    inSeveral: z.number().int(),
    notCounted: z.array(z.object({ reason: notCountedReason, people: z.number().int() })),
  }),
  courses: z.object({ open: z.number().int(), fromAbove: z.number().int(), blocked: z.number().int() }),
  progress: tally,
  may: z.object({
    managePeople: z.boolean(),
    shapeGroups: z.boolean(),
    openCourses: z.boolean(),
    seeProgress: z.boolean(),
    bringIn: z.boolean(),
    export: z.boolean(),
  }),
});
export type GroupSheet = z.output<typeof groupSheet>;

export const groupRoutes = defineRoutes({
  tree: {
    method: 'GET',
    path: '/api/v1/groups',
    room: 'groups',
    who: 'leader',
    summary: 'All groups of the own branches, with people and progress',
    response: z.object({ groups: z.array(treeRow) }),
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
});
