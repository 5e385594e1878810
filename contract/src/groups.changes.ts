import { longestGroupName } from '@gate-roster/core';
import { z } from 'zod';
import { newLeader } from './accounts.changes.ts';
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
  z.strictObject({ kind: z.literal('edit-group'), groupId: id, values: groupValues.partial() }),
  z.strictObject({ kind: z.literal('move-groups'), groupIds, intoId: id }),
  z.strictObject({ kind: z.literal('set-group-state'), groupIds, state: z.enum(['active', 'archived']) }),
  z.strictObject({ kind: z.literal('delete-groups'), groupIds, subgroups: z.enum(['move up', 'go too']) }),
] as const;
