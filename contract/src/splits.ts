import { z } from 'zod';
import { defineRoutes } from './route.ts';
import { groupParams, id, moment, named } from './shapes.ts';
import { splitPart } from './splits.changes.ts';

/** Members of a group that can be divided by hand; of more the list would be no use. */
export const mostDivided = 1000;

const splitRow = z.object({
  id,
  name: z.string(),
  /** People who are no longer in the group are left out. `called`: its name, or its leader's. */
  parts: z.array(splitPart.extend({ called: z.string() })),
  /** Until when it runs; null: it does not. */
  runsUntil: moment.nullable(),
  startedAt: moment.nullable(),
  by: z.string().nullable(),
  may: z.object({ edit: z.boolean(), stop: z.boolean() }),
});
export type SplitRow = z.output<typeof splitRow>;

const splitMember = z.object({
  id,
  name: z.string(),
  /** Mean score over everything they have one in; null: none. */
  score: z.number().nullable(),
  tags: z.array(id),
  /** When they last did something in the player or ticked something off, within the last minutes. */
  workingAt: moment.nullable(),
});
export type SplitMember = z.output<typeof splitMember>;

export const splitRoutes = defineRoutes({
  splits: {
    method: 'GET',
    path: '/api/v1/groups/:groupId/splits',
    room: 'splits',
    who: 'leader',
    summary: 'Splits of a group, with its people, its leaders and the courses that can be allowed',
    params: groupParams,
    response: z.object({
      splits: z.array(splitRow),
      members: z.array(splitMember),
      /** How many there are; beyond what can be divided, none are listed. */
      count: z.number().int(),
      leaders: z.array(named),
      tags: z.array(named),
      courses: z.array(named.extend({ units: z.array(named) })),
      may: z.object({ make: z.boolean() }),
    }),
  },
});
