import { onLeavings } from '@gate-roster/core';
import { z } from 'zod';
import { defineRoutes } from './route.ts';
import { day, groupParams, id, idInPath, moment, mostPassedOver, named, numberInAddress } from './shapes.ts';

/** How a licence is used in a group with all below it. */
export const seatGroup = z.object({
  id,
  name: z.string(),
  depth: z.number().int(),
  used: z.number().int(),
  /** Held while somebody pays to come in: neither in use nor free. */
  held: z.number().int(),
  /** The limit set there; null: none. */
  most: z.number().int().nullable(),
  /** The smallest remainder that the reader may know of; null: whatever lies above says. */
  free: z.number().int().nullable(),
  inLine: z.number().int(),
  mayLimit: z.boolean(),
  /** When free seats run out at the rate of the last weeks; null: the row has no limit and is not the home, or the reader sees too little of it. */
  forecast: z
    .discriminatedUnion('kind', [
      z.object({ kind: z.literal('too little') }),
      z.object({ kind: z.literal('ends first') }),
      z.object({ kind: z.literal('runs out'), day, early: day, late: day.nullable() }),
    ])
    .nullable(),
});

export const licenceSheet = z.object({
  id,
  name: z.string(),
  /** The course or course set it pays for. */
  about: named,
  isSet: z.boolean(),
  /** Ids of the courses it pays for today. */
  courses: z.array(id),
  home: named,
  firstDay: day.nullable(),
  lastDay: day.nullable(),
  onLeaving: z.enum(onLeavings),
  byHand: z.boolean(),
  /** What a seat costs without tax, in minor units; null: none can be ordered. */
  price: z.number().int().nullable(),
  currency: z.string(),
  needsApproval: z.boolean(),
  duringSplits: z.boolean(),
  renewMonths: z.number().int().nullable(),
  idNumber: z.string().nullable(),
  idleDays: z.number().int().nullable(),
  inForce: z.boolean(),
  /** All seats; null for a reader who does not see its home. */
  seats: z.number().int().nullable(),
  mayEdit: z.boolean(),
  groups: z.array(seatGroup),
});
export type LicenceSheet = z.output<typeof licenceSheet>;

export const seatLists = ['in use', 'in line', 'gave up'] as const;
export type SeatList = (typeof seatLists)[number];

export const seatRoutes = defineRoutes({
  seats: {
    method: 'GET',
    path: '/api/v1/groups/:groupId/seats',
    room: 'seats',
    who: 'leader',
    summary: 'Licences that pay in the branch: seats used, free, limited and waited for, by group',
    params: groupParams,
    response: z.object({ licences: z.array(licenceSheet), mayMake: z.boolean(), courseSets: z.array(named) }),
  },
  seatStory: {
    method: 'GET',
    path: '/api/v1/groups/:groupId/seats/:licenceId/story',
    room: 'seats',
    who: 'leader',
    summary: 'How a licence was used in the branch week by week, and seats that lie idle there',
    params: groupParams.extend({ licenceId: idInPath }),
    response: z.object({
      /** At the end of these days, oldest first; `seats` null: the reader does not see the home. */
      points: z.array(z.object({ day, used: z.number().int(), seats: z.number().int().nullable() })),
      /** People who have had a seat for so many days and begun nothing that it pays for. */
      idle: z.object({ days: z.number().int(), people: z.number().int() }),
      /** People who gave up their place in line. */
      gaveUp: z.number().int(),
    }),
  },
  seatPeople: {
    method: 'GET',
    path: '/api/v1/groups/:groupId/seats/people',
    room: 'seats',
    who: 'leader',
    summary: 'People of the branch who use a seat, who are in line for one in the order of the line, or who gave up their place',
    params: groupParams,
    query: z.strictObject({
      list: z.enum(seatLists),
      licence: idInPath.optional(),
      after: numberInAddress(0, mostPassedOver).optional(),
    }),
    response: z.object({
      /** `about`: the group whose number it counts in, or the course that is waited for; `isHeld`: they wait until a seat is given to them. */
      people: z.array(z.object({ key: id, id, name: z.string(), about: z.string(), since: moment, isHeld: z.boolean() })),
      next: z.number().int().nullable(),
      /** People, each once. */
      total: z.number().int(),
      may: z.object({ handOut: z.boolean() }),
    }),
  },
});
