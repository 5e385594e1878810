import { z } from 'zod';
import { defineRoutes } from './route.ts';
import { day, groupParams, id, named } from './shapes.ts';

/** How a course stands for a group, for somebody who is in it and nowhere else. */
export const accessCell = z.object({
  state: z.enum(['here', 'above', 'part', 'later', 'blocked', 'closed']),
  units: z.number().int(),
  opensOn: day.nullable(),
  /** What opens it is said at this very group. */
  openedHere: z.boolean(),
  /** Standing grants made at this very group about this course, and whether the reader may take them back. */
  grants: z.array(z.object({ id, effect: z.enum(['open', 'block']), mayEnd: z.boolean() })),
  /** The group whose word decided; null when the course's own terms did, or it lies outside. */
  decidedAt: named.nullable(),
});
export type AccessCell = z.output<typeof accessCell>;

export const accessGrid = z.object({
  courses: z.array(z.object({ id, name: z.string(), units: z.array(named), set: z.string().nullable() })),
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

export const accessRoutes = defineRoutes({
  accessGrid: {
    method: 'GET',
    path: '/api/v1/groups/:groupId/access',
    room: 'access',
    who: 'leader',
    summary: 'Which course is open to which group of the branch, and by whose word',
    params: groupParams,
    response: accessGrid,
  },
});
