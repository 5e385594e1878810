import { z } from 'zod';
import { notCountedReason } from './groups.ts';
import { defineRoutes } from './route.ts';
import { day, groupParams, id, idInPath, lateness, moment, named, scopeQuery, status, yesNo } from './shapes.ts';

/** The filter of a people list; shared by the list, its export and links to it. */
export const peopleFilter = scopeQuery.extend({
  search: z.string().trim().max(100).default(''),
  counted: yesNo.default('yes'),
  tag: idInPath.optional(),
  sort: z.enum(['name', '-name', '-active']).default('name'),
});
export type PeopleFilter = z.output<typeof peopleFilter>;

export const personRow = z.object({
  id,
  givenName: z.string(),
  familyName: z.string(),
  email: z.string().nullable(),
  idNumber: z.string().nullable(),
  groups: z.array(named),
  tags: z.array(named),
  cameBy: z.string(),
  since: day.nullable(),
  all: z.number().int(),
  done: z.number().int(),
  underWay: z.number().int(),
  overdue: z.number().int(),
  activeAt: moment.nullable(),
  notCounted: notCountedReason.nullable(),
});
export type PersonRow = z.output<typeof personRow>;

/** One link of the chain that decided, in words' parts: names are null where they lie outside the reader's groups. */
export const whyStep = z.object({
  kind: z.enum(['terms', 'grant', 'firm', 'person', 'inactive', 'archived']),
  verdict: z.enum(['decided', 'overruled', 'not in force']),
  effect: z.enum(['open', 'block']).nullable(),
  some: z.boolean(),
  at: named.nullable(),
  path: named.nullable(),
  outside: z.boolean(),
  firstDay: day.nullable(),
  lastDay: day.nullable(),
  terms: z.enum(['everyone', 'group', 'request']).nullable(),
});
export type WhyStep = z.output<typeof whyStep>;

export const personSheet = z.object({
  id,
  givenName: z.string(),
  familyName: z.string(),
  email: z.string().nullable(),
  signInName: z.string().nullable(),
  idNumber: z.string().nullable(),
  state: z.enum(['asking', 'active', 'paused', 'ended']),
  activeAt: moment.nullable(),
  tags: z.array(named),
  groups: z.array(
    z.object({
      id,
      name: z.string(),
      path: z.array(z.string()),
      since: day,
      firstDay: day.nullable(),
      lastDay: day.nullable(),
      cameBy: z.string(),
    }),
  ),
  courses: z.array(
    z.object({
      id,
      name: z.string(),
      open: z.boolean(),
      units: z.number().int(),
      allUnits: z.number().int(),
      opensLater: day.nullable(),
      due: day.nullable(),
      status,
      lateness,
      score: z.number().nullable(),
      why: z.array(whyStep),
    }),
  ),
});
export type PersonSheet = z.output<typeof personSheet>;

const page = { after: z.string().max(400).optional(), limit: z.coerce.number().int().min(1).max(200).default(100) };

export const peopleRoutes = defineRoutes({
  groupPeople: {
    method: 'GET',
    path: '/api/v1/groups/:groupId/people',
    room: 'people',
    who: 'leader',
    summary: 'People of a group or branch, a page at a time',
    params: groupParams,
    query: peopleFilter.extend(page),
    response: z.object({ people: z.array(personRow), next: z.string().nullable(), matching: z.number().int(), total: z.number().int() }),
  },
  groupPeopleFile: {
    method: 'GET',
    path: '/api/v1/groups/:groupId/people.csv',
    room: 'people',
    who: 'leader',
    summary: 'The same list as a CSV file that can be brought in again',
    params: groupParams,
    query: peopleFilter,
    response: 'csv',
  },
  person: {
    method: 'GET',
    path: '/api/v1/people/:personId',
    room: 'people',
    who: 'leader',
    summary: 'One person: groups, courses, and why each is open or not',
    params: z.object({ personId: idInPath }),
    response: personSheet,
  },
  branchTags: {
    method: 'GET',
    path: '/api/v1/groups/:groupId/tags',
    room: 'people',
    who: 'leader',
    summary: 'Tags that people of the branch have',
    params: groupParams,
    response: z.object({ tags: z.array(z.object({ id, name: z.string(), people: z.number().int() })) }),
  },
  find: {
    method: 'GET',
    path: '/api/v1/find',
    room: 'people',
    who: 'leader',
    summary: 'Find groups and people by name, address, sign-in name or ID number',
    query: z.strictObject({ q: z.string().trim().min(1).max(100) }),
    response: z.object({
      groups: z.array(z.object({ id, name: z.string(), path: z.array(z.string()) })),
      people: z.array(z.object({ id, givenName: z.string(), familyName: z.string(), group: named.nullable() })),
    }),
  },
});
