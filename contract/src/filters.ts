import { accessStates, asksWhatIsClosed, type Filter } from '@gate-roster/core';
import { z } from 'zod';
import { defineRoutes } from './route.ts';
import { day, groupParams, id, lateness, named, status } from './shapes.ts';

const ids = z.array(id).min(1).max(200);
const is = z.boolean();
const span = { from: day.nullable(), until: day.nullable() };
const days = z.number().int().min(0).max(3650);
const states = ['asking', 'active', 'paused', 'ended'] as const;
const ways = ['file', 'hand', 'join code', 'invitation', 'rule', 'feed', 'undo'] as const;
/** What is known of somebody’s address; why one does not work is nobody’s business. */
export const addressStates = ['none', 'unconfirmed', 'confirmed', 'does not work'] as const;

/** So many people can be named in a filter, which has to fit into an address. */
export const mostNamedPeople = 500;

/** One part of a filter; core says what each means. */
export const filterPart = z.discriminatedUnion('part', [
  z.strictObject({ part: z.literal('words'), text: z.string().trim().min(1).max(100) }),
  z.strictObject({ part: z.literal('people'), how: z.enum(['only', 'without']), ids: z.array(id).min(1).max(mostNamedPeople) }),
  z.strictObject({ part: z.literal('groups'), how: z.enum(['in', 'not in']), ids, withSubgroups: z.boolean() }),
  z.strictObject({ part: z.literal('tags'), how: z.enum(['any', 'all', 'none']), ids }),
  z.strictObject({ part: z.literal('list'), how: z.enum(['in', 'not in']), id }),
  z.strictObject({ part: z.literal('state'), of: z.array(z.enum(states)).min(1) }),
  z.strictObject({ part: z.literal('came'), by: z.array(z.enum(ways)), ...span }),
  z.strictObject({ part: z.literal('active'), how: z.enum(['within', 'before', 'never']), days }),
  z.strictObject({ part: z.literal('led by'), ids }),
  z.strictObject({ part: z.literal('signed in'), is }),
  z.strictObject({ part: z.literal('name hidden'), is }),
  z.strictObject({ part: z.literal('several groups'), is }),
  z.strictObject({ part: z.literal('young learner'), is }),
  z.strictObject({ part: z.literal('address'), of: z.array(z.enum(addressStates)).min(1) }),
  z.strictObject({ part: z.literal('skill'), how: z.enum(['shown', 'not shown']), ids }),
  z.strictObject({ part: z.literal('course'), courses: z.array(id).max(200), sets: z.array(id).max(200) }),
  z.strictObject({ part: z.literal('access'), of: z.array(z.enum(accessStates)).min(1) }),
  z.strictObject({ part: z.literal('status'), of: z.array(status).min(1) }),
  z.strictObject({ part: z.literal('lateness'), of: z.array(lateness).min(1) }),
  z.strictObject({ part: z.literal('exempt'), is }),
  z.strictObject({ part: z.literal('seat'), of: z.array(z.enum(['has', 'in line', 'none'])).min(1) }),
  z.strictObject({ part: z.literal('score'), from: z.number().min(0).max(100), to: z.number().min(0).max(100) }),
  z.strictObject({ part: z.literal('done'), ...span }),
  z.strictObject({ part: z.literal('worked'), ...span }),
  z.strictObject({ part: z.literal('due'), days }),
]);

export const mostParts = 20;
export const filter = z
  .array(filterPart)
  .max(mostParts)
  .refine((parts) => !asksWhatIsClosed(parts) || parts.some(({ part }) => part === 'course'), 'Blocked and not open: of which course?');

/** A filter as written in an address: its JSON; nothing: no filter. */
export const filterInAddress = z
  .string()
  .max(8000)
  .default('')
  .transform((text, context): Filter => {
    const parsed = text === '' ? { success: true as const, data: [] } : filter.safeParse(jsonOf(text));
    if (parsed.success) return parsed.data;
    context.addIssue({ code: 'custom', message: parsed.error.issues[0]?.message ?? 'no filter' });
    return z.NEVER;
  });

/** A filter for an address: `people?filter=[{"part":"tags",…}]`; nothing for no filter. */
export const writeFilter = (parts: Filter): string => (parts.length === 0 ? '' : JSON.stringify(parts));

function jsonOf(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch {
    return null;
  }
}

const counted = named.extend({ people: z.number().int() });

export const filterRoutes = defineRoutes({
  filterNames: {
    method: 'GET',
    path: '/api/v1/groups/:groupId/filter-names',
    room: 'filters',
    who: 'leader',
    summary: 'What a filter of a branch can name besides groups: tags, own lists, leaders, courses and course sets',
    params: groupParams,
    response: z.object({
      tags: z.array(counted),
      lists: z.array(counted),
      leaders: z.array(named),
      courses: z.array(named),
      courseSets: z.array(named),
      skills: z.array(named),
    }),
  },
});
export type FilterNames = z.output<(typeof filterRoutes)['filterNames']['response']>;
