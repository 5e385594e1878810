import { powers } from '@gate-roster/core';
import { z } from 'zod';
import { chosenPeople, matchingPeople } from './chosen-people.ts';
import { notCountedReason } from './groups.ts';
import { addressStates, filterInAddress } from './filters.ts';
import { defineRoutes } from './route.ts';
import { day, groupParams, id, idInPath, lateness, moment, named, pageOfNames, scopeQuery, status, yesNo } from './shapes.ts';

/** Which people of a scope a list shows; shared by the list, its export and links to it. */
export const peopleFilter = scopeQuery.extend({
  /** Counted learners, the people who are not counted, or (for administrators) people in no group at all. */
  counted: z.enum(['yes', 'no', 'nowhere']).default('yes'),
  filter: filterInAddress,
  /** Those who fit the filter, or the others. */
  fits: yesNo.default('yes'),
  sort: z.enum(['name', '-name', 'active', '-active']).default('name'),
});
export type PeopleFilter = z.output<typeof peopleFilter>;

const coloured = named.extend({ colour: z.string().nullable() });

export const personRow = z.object({
  id,
  givenName: z.string(),
  familyName: z.string(),
  email: z.string().nullable(),
  idNumber: z.string().nullable(),
  groups: z.array(named),
  tags: z.array(coloured),
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
  addressState: z.enum(addressStates),
  signInName: z.string().nullable(),
  idNumber: z.string().nullable(),
  state: z.enum(['asking', 'active', 'paused', 'ended']),
  firstDay: day.nullable(),
  lastDay: day.nullable(),
  nameHidden: z.boolean(),
  hasPassword: z.boolean(),
  activeAt: moment.nullable(),
  tags: z.array(coloured),
  leads: z.array(z.object({ id, name: z.string(), powers: z.array(z.enum(powers)), lastDay: day.nullable() })),
  /** To the questions of the codes they came by. */
  answers: z.array(z.object({ label: z.string(), answer: z.string() })),
  may: z.object({
    /** Reset, one-time sign-in, change of address, merge, erase, export. */
    account: z.boolean(),
    managePeople: z.boolean(),
    /** The group in whose name the reader can make exceptions for them in courses; null: none. */
    exceptIn: id.nullable(),
    /** Have a letter with a sign-in sent to the address on file. */
    letter: z.boolean(),
    seeAs: z.boolean(),
  }),
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
  /** Parts of running splits in which they are, of groups where the reader opens courses. */
  inParts: z.array(z.object({ splitId: id, groupId: id, split: z.string(), part: z.string(), until: moment })),
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
      /** Place in line for a seat. */
      inLine: z.number().int().nullable(),
      /** It asks for a seat, and no licence can pay for one. */
      noLicence: z.boolean(),
      /** They asked for it, and nobody has decided. */
      asked: z.boolean(),
      /** The licence whose seat they use. */
      seat: z.string().nullable(),
      /** Which time they do it; when it is no longer valid and opens again; and how it was done before. */
      round: z.number().int(),
      validUntil: day.nullable(),
      reopensOn: day.nullable(),
      earlier: z.array(z.object({ doneDay: day, score: z.number().nullable() })),
      /** What is said of this person alone. */
      exceptions: z.array(
        z.object({
          what: z.enum(['open', 'block', 'more time', 'exempt', 'done elsewhere']),
          firstDay: day.nullable(),
          /** The last day, the day on which it was done elsewhere, or before which it is not due. */
          day: day.nullable(),
          reason: z.string().nullable(),
          proof: z.string().nullable(),
        }),
      ),
      why: z.array(whyStep),
    }),
  ),
});
export type PersonSheet = z.output<typeof personSheet>;

export const mostLetters = 500;
const personParams = z.object({ personId: idInPath });

/** How a course stood, or will stand, for somebody on a day. */
export const courseOnDay = z.object({
  id,
  name: z.string(),
  open: z.boolean(),
  units: z.number().int(),
  allUnits: z.number().int(),
  opensLater: day.nullable(),
  why: z.array(whyStep),
});
export type CourseOnDay = z.output<typeof courseOnDay>;

export const peopleRoutes = defineRoutes({
  groupPeople: {
    method: 'GET',
    path: '/api/v1/groups/:groupId/people',
    room: 'people',
    who: 'leader',
    summary: 'People of a group or branch, a page at a time',
    params: groupParams,
    query: peopleFilter.extend(pageOfNames),
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
    params: personParams,
    response: personSheet,
  },
  branchTags: {
    method: 'GET',
    path: '/api/v1/groups/:groupId/tags',
    room: 'people',
    who: 'leader',
    summary: 'Tags that people of the branch have',
    params: groupParams,
    response: z.object({
      tags: z.array(z.object({ id, name: z.string(), colour: z.string().nullable(), people: z.number().int(), isOwn: z.boolean() })),
    }),
  },
  find: {
    method: 'GET',
    path: '/api/v1/find',
    room: 'people',
    who: 'leader',
    summary: 'Find groups and people by name, address, sign-in name or ID number, and courses and course sets by name or code',
    /** `leaders`: only people who lead a group. */
    query: z.strictObject({ q: z.string().trim().min(1).max(100), leaders: yesNo.optional() }),
    response: z.object({
      groups: z.array(z.object({ id, name: z.string(), path: z.array(z.string()) })),
      people: z.array(z.object({ id, givenName: z.string(), familyName: z.string(), group: named.nullable() })),
      courses: z.array(named.extend({ code: z.string().nullable(), isSet: z.boolean() })),
    }),
  },
  chosenNumbers: {
    method: 'POST',
    path: '/api/v1/people/chosen',
    room: 'people',
    who: 'leader',
    summary: 'The numbers of all who match, for what is done one by one',
    body: matchingPeople,
    response: z.object({ ids: z.array(id) }),
  },
  personFile: {
    method: 'GET',
    path: '/api/v1/people/:personId/export',
    room: 'people',
    who: 'leader',
    summary: 'All that is kept on a person, as JSON',
    params: personParams,
    response: z.record(z.string(), z.unknown()),
  },
  hangingOn: {
    method: 'GET',
    path: '/api/v1/people/:personId/hanging',
    room: 'accounts',
    who: 'leader',
    summary: 'What hangs on somebody who leads',
    params: personParams,
    response: z.object({
      leads: z.array(
        z.object({ groupId: id, group: z.string(), powers: z.array(z.enum(powers)), others: z.number().int(), asking: z.number().int() }),
      ),
      contact: z.array(z.object({ groupId: id, group: z.string() })),
      codes: z.array(z.object({ groupId: id, group: z.string(), codeId: id, code: z.string() })),
    }),
  },
  sendSignIn: {
    method: 'POST',
    path: '/api/v1/people/:personId/sign-in-letter',
    room: 'accounts',
    who: 'leader',
    once: true,
    summary: 'Send a one-time sign-in to the address on file',
    params: personParams,
    response: 'nothing',
  },
  sendSignIns: {
    method: 'POST',
    path: '/api/v1/people/sign-in-letters',
    room: 'accounts',
    who: 'leader',
    once: true,
    summary: 'The same to many: whoever has no address, got one within the hour, or is not helped by the reader gets none',
    body: z.strictObject({ personIds: z.array(id).min(1).max(mostLetters) }),
    response: z.object({ sent: z.number().int(), notSent: z.number().int() }),
  },
  oneTimeSignIn: {
    method: 'POST',
    path: '/api/v1/people/:personId/one-time-sign-in',
    room: 'accounts',
    who: 'leader',
    summary: 'A one-time sign-in to hand over, shown once',
    params: personParams,
    response: z.object({ link: z.string(), until: moment }),
  },
  endSessions: {
    method: 'DELETE',
    path: '/api/v1/people/:personId/sessions',
    room: 'accounts',
    who: 'leader',
    summary: 'End all sessions of an account',
    params: personParams,
    response: 'nothing',
  },
  lists: {
    method: 'GET',
    path: '/api/v1/lists',
    room: 'people',
    who: 'leader',
    summary: 'Own named sets of people',
    response: z.object({ lists: z.array(z.object({ id, name: z.string(), people: z.number().int() })) }),
  },
  makeList: {
    method: 'POST',
    path: '/api/v1/lists',
    room: 'people',
    who: 'leader',
    once: true,
    summary: 'Keep people as an own list; one of the same name gets them too',
    body: z.strictObject({ name: z.string().trim().min(1).max(80), personIds: chosenPeople }),
    response: named,
  },
  leaveList: {
    method: 'POST',
    path: '/api/v1/lists/:listId/leave',
    room: 'people',
    who: 'leader',
    once: true,
    summary: 'Take people off an own list',
    params: z.object({ listId: idInPath }),
    body: z.strictObject({ personIds: chosenPeople }),
    response: 'nothing',
  },
  dropList: {
    method: 'DELETE',
    path: '/api/v1/lists/:listId',
    room: 'people',
    who: 'leader',
    once: true,
    summary: 'Drop an own list; the people stay',
    params: z.object({ listId: idInPath }),
    response: 'nothing',
  },
});
