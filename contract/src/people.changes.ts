import { z } from 'zod';
import { chosenPeople } from './chosen-people.ts';
import { colour, day, id, tagName } from './shapes.ts';

export const personValues = z.strictObject({
  givenName: z.string().trim().max(120),
  familyName: z.string().trim().max(120),
  email: z.string().trim().max(254).nullable(),
  signInName: z.string().trim().min(2).max(60).nullable(),
  idNumber: z.string().trim().max(60).nullable(),
  nameHidden: z.boolean(),
});

export type PersonValues = z.output<typeof personValues>;

/** Kinds of change of this room. */
export const peopleChanges = [
  z.strictObject({
    kind: z.literal('add-members'),
    groupId: id,
    personIds: chosenPeople,
    firstDay: day.nullable(),
    lastDay: day.nullable(),
  }),
  z.strictObject({ kind: z.literal('remove-members'), groupId: id, personIds: chosenPeople }),
  z.strictObject({ kind: z.literal('move-members'), fromId: id, intoId: id, personIds: chosenPeople }),
  z.strictObject({
    kind: z.literal('tag-people'),
    personIds: chosenPeople,
    groupId: id,
    add: z.array(tagName).max(50),
    remove: z.array(id).max(50),
  }),
  z.strictObject({ kind: z.literal('edit-tag'), tagId: id, name: tagName, colour: colour.nullable() }),
  z.strictObject({ kind: z.literal('merge-tags'), tagId: id, gone: z.array(id).min(1).max(50) }),
  z.strictObject({ kind: z.literal('edit-person'), personId: id, values: personValues.partial() }),
  z.strictObject({
    kind: z.literal('set-person-state'),
    personIds: chosenPeople,
    state: z.enum(['active', 'paused', 'ended']),
    firstDay: day.nullable(),
    lastDay: day.nullable(),
  }),
  z.strictObject({ kind: z.literal('merge-people'), personId: id, goneId: id }),
  z.strictObject({ kind: z.literal('erase-person'), personId: id }),
] as const;
