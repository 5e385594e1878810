import { longestGroupName } from '@gate-roster/core';
import { z } from 'zod';
import { newLeader } from './accounts.changes.ts';
import { mostSeats } from './seats.changes.ts';
import { colour, day, groupIds, id, shortText, tagName } from './shapes.ts';

const newGroup = z.strictObject({
  name: z.string().max(400),
  within: z.number().int().min(0).nullable(),
  like: id.nullable(),
  leaders: z.array(newLeader).max(20),
});
export type NewGroup = z.output<typeof newGroup>;

export const groupValues = z.strictObject({
  name: z.string().max(longestGroupName * 3),
  idNumber: z.string().trim().max(60).nullable(),
  description: z.string().trim().max(2000).nullable(),
  colour: colour.nullable(),
  pictureId: id.nullable(),
  contactId: id.nullable(),
  firstDay: day.nullable(),
  lastDay: day.nullable(),
  signInPrefix: z.string().trim().max(12).nullable(),
  youngLearners: z.boolean(),
  tags: z.array(tagName).max(50),
  handouts: z.array(z.strictObject({ title: shortText, url: z.string().trim().max(2000).nullable(), uploadId: id.nullable() })).max(50),
});
export type GroupValues = z.output<typeof groupValues>;

/** Kinds of change of this room. */
export const groupsChanges = [
  z.strictObject({ kind: z.literal('make-groups'), parentId: id, groups: z.array(newGroup).min(1).max(2000) }),
  /** A new group with everything it begins with. */
  z.strictObject({
    kind: z.literal('make-client'),
    parentId: id,
    name: z.string().max(400),
    firstDay: day.nullable(),
    lastDay: day.nullable(),
    leader: newLeader.nullable(),
    /** Courses and course sets that it opens. */
    opens: z.array(z.union([z.strictObject({ courseId: id }), z.strictObject({ courseSetId: id })])).max(50),
    seats: z.discriminatedUnion('how', [
      z.strictObject({ how: z.literal('none') }),
      /** A licence of its own for each course or set. */
      z.strictObject({ how: z.literal('own'), seats: mostSeats }),
      /** So many of a licence that stands above. */
      z.strictObject({ how: z.literal('limit'), licenceId: id, most: mostSeats }),
    ]),
    /** With a join code that has no end. */
    code: z.boolean(),
  }),
  z.strictObject({ kind: z.literal('edit-group'), groupId: id, values: groupValues.partial() }),
  z.strictObject({ kind: z.literal('move-groups'), groupIds, intoId: id }),
  z.strictObject({ kind: z.literal('set-group-state'), groupIds, state: z.enum(['active', 'archived']) }),
  z.strictObject({ kind: z.literal('delete-groups'), groupIds, subgroups: z.enum(['move up', 'go too']) }),
] as const;
