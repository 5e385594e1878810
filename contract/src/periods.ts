import { z } from 'zod';
import { defineRoutes } from './route.ts';
import { day, groupParams, id, moment, named } from './shapes.ts';

export const periodRoutes = defineRoutes({
  period: {
    method: 'GET',
    path: '/api/v1/groups/:groupId/period',
    room: 'periods',
    who: 'leader',
    summary: 'What the end of a period means for a branch: what stands in it, and the groups whose people move on',
    params: groupParams,
    response: z.object({
      lastDay: day.nullable(),
      codes: z.number().int(),
      invitations: z.number().int(),
      asking: z.number().int(),
      rules: z.number().int(),
      splits: z.number().int(),
      /** Occasions of which people of the branch are reminded, by its own settings or those above. */
      reminders: z.number().int(),
      seats: z.object({ used: z.number().int(), stayUsed: z.number().int() }),
      /** People of the branch, and those of them who are in no other group, lead none and can be acted on. */
      people: z.number().int(),
      onlyHere: z.number().int(),
      /** From the top down, as they stand. */
      groups: z.array(named.extend({ depth: z.number().int(), people: z.number().int() })),
      parent: named.nullable(),
      /** When it was closed last, and whether that can still be undone. */
      closed: z.object({ changeId: id, at: moment, canUndo: z.boolean() }).nullable(),
    }),
  },
});
