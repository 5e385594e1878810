import { z } from 'zod';
import { due } from './access.changes.ts';
import { defineRoutes } from './route.ts';
import { day, groupParams, id, named } from './shapes.ts';

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

export const accessGrid = z.object({
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
