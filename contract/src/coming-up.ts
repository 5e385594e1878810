import { z } from 'zod';
import { defineRoutes } from './route.ts';
import { day, groupParams, id, idInPath, moment, mostPassedOver, named, numberInAddress, scopeQuery, yesNo } from './shapes.ts';

/** What a day can do by itself. */
export const comingKinds = [
  'opens',
  'closes',
  'due',
  'opens again',
  'memberships end',
  'accounts end',
  'seats come back',
  'group begins',
  'group ends',
  'leader ends',
  'code ends',
  'licence ends',
] as const;
export type ComingKind = (typeof comingKinds)[number];

export const mostComingDays = 366;

const comingLine = z.object({
  /** The first and the last day of which it speaks: few people on each of some days stand together by week. */
  day,
  lastDay: day,
  week: yesNo,
  kind: z.enum(comingKinds),
  course: named.nullable(),
  /** Where it was said, or what ends; null: at several groups, or outside what the reader sees. */
  group: named.nullable(),
  /** A code, a licence or a leader, by name. */
  name: z.string().nullable(),
  /** A licence. */
  licenceId: id.nullable(),
  people: z.number().int(),
  /** Of them: who have not begun what is due, who lose what they have not finished, who would be in no group, who have used a code. */
  some: z.number().int(),
  /** The most uses of a code, the seats of a licence. */
  most: z.number().int().nullable(),
});
export type ComingLine = z.output<typeof comingLine>;

const days = numberInAddress(1, mostComingDays).default(60);

export const comingUpRoutes = defineRoutes({
  comingUp: {
    method: 'GET',
    path: '/api/v1/groups/:groupId/coming-up',
    room: 'access',
    who: 'leader',
    summary: 'What the next days will do by themselves in the scope, if nothing changes',
    params: groupParams,
    query: scopeQuery.extend({ days, kind: z.enum(comingKinds).optional() }),
    response: z.object({ until: day, lines: z.array(comingLine), more: z.number().int() }),
  },
  comingPeople: {
    method: 'GET',
    path: '/api/v1/groups/:groupId/coming-up/people',
    room: 'access',
    who: 'leader',
    summary: 'The people behind a line of what is coming up, a page at a time',
    params: groupParams,
    query: scopeQuery.extend({
      /** As the line says. */
      day,
      week: yesNo.default('no'),
      days,
      kind: z.enum(comingKinds),
      courseId: idInPath.optional(),
      aboutGroupId: idInPath.optional(),
      after: numberInAddress(0, mostPassedOver).default(0),
    }),
    response: z.object({ people: z.array(named.extend({ some: z.boolean() })), next: z.number().int().nullable() }),
  },
  myCalendar: {
    method: 'GET',
    path: '/api/v1/my/calendar',
    room: 'access',
    who: 'leader',
    summary: 'Whether the reader has a calendar address, since when, and when a calendar last asked for it',
    response: z.object({ madeAt: moment.nullable(), readAt: moment.nullable() }),
  },
  replaceCalendar: {
    method: 'POST',
    path: '/api/v1/my/calendar',
    room: 'access',
    who: 'leader',
    summary: 'A secret calendar address of what is coming up; the one before stops working',
    body: z.strictObject({}),
    response: z.object({ key: z.string() }),
  },
  stopCalendar: {
    method: 'DELETE',
    path: '/api/v1/my/calendar',
    room: 'access',
    who: 'leader',
    summary: 'Stop the calendar address',
    response: 'nothing',
  },
  calendar: {
    method: 'GET',
    path: '/api/v1/calendars/:key',
    room: 'access',
    who: 'anyone',
    summary: 'What is coming up, as a calendar; the address is the key',
    params: z.object({ key: z.string().min(20).max(60) }),
    response: 'calendar',
  },
});
