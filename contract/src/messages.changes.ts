import { letterKinds, reminderOccasions } from '@gate-roster/core';
import { z } from 'zod';
import { chosenPeople } from './chosen-people.ts';
import { filter } from './filters.ts';
import { day, id, moment, shortText, tagName } from './shapes.ts';

/** Whom a message reaches: whole groups with whoever comes later, chosen people, or those who fit a filter now. */
export const messageAudience = z.discriminatedUnion('to', [
  /** `onlyNow`: those who are in the groups when it is sent, and nobody later. */
  z.strictObject({
    to: z.literal('groups'),
    groupIds: z.array(id).min(1).max(200),
    withSubgroups: z.boolean(),
    onlyNow: z.boolean().optional(),
  }),
  z.strictObject({ to: z.literal('people'), personIds: chosenPeople }),
  z.strictObject({ to: z.literal('filter'), withSubgroups: z.boolean(), filter }),
]);
export type MessageAudience = z.output<typeof messageAudience>;

export const messageKinds = ['message', 'task', 'question'] as const;
export type MessageKind = (typeof messageKinds)[number];

/** Leaders alone; also those who have chosen; everybody once the due day is past. */
export const tallyFor = ['leaders', 'who chose', 'after due'] as const;

export const messageValues = z.strictObject({
  kind: z.enum(messageKinds),
  title: shortText,
  body: z.string().trim().max(10_000),
  /** Those it reaches can answer. */
  answers: z.boolean(),
  /** Its letter goes at once, whatever they have chosen. */
  urgent: z.boolean(),
  pinnedUntil: day.nullable(),
  /** Of a task or question. */
  dueDay: day.nullable(),
  /** After its due day it can no longer be done, or chosen. */
  closes: z.boolean(),
  /** Of a task: it is done by handing in the work that this activity asks for. */
  activityId: id.nullable(),
  /** Of a question. */
  choices: z.array(shortText).max(20),
  several: z.boolean(),
  /** Instead of a choice, or beside it, they may say something in their own words. */
  ownWords: z.boolean(),
  /** Those who lead there see who chose what. */
  isNamed: z.boolean(),
  /** Who sees how many chose what. */
  tally: z.enum(tallyFor),
  tags: z.array(tagName).max(10),
  /** Files that were sent before, by the writer. */
  fileIds: z.array(id).max(10),
  /** null: now. */
  sendAt: moment.nullable(),
});
export type MessageValues = z.output<typeof messageValues>;

/** A message with nothing to it but its words. */
export const plainValues: Omit<MessageValues, 'title' | 'body'> = {
  kind: 'message',
  answers: true,
  urgent: false,
  pinnedUntil: null,
  dueDay: null,
  closes: false,
  activityId: null,
  choices: [],
  several: false,
  ownWords: false,
  isNamed: true,
  tally: 'leaders',
  tags: [],
  fileIds: [],
  sendAt: null,
};

/** What is told of a group. */
export const happenedKinds = ['came in', 'began', 'finished', 'scored', 'new course', 'new handout', 'new leader'] as const;
export type HappenedKind = (typeof happenedKinds)[number];

/** What a branch says of one occasion: so many days before or after it, with a text of its own or (null) the usual one. */
export const reminderValues = z.strictObject({
  days: z.number().int().min(0).max(365),
  text: z.strictObject({ subject: z.string().max(300), body: z.string().max(4000) }).nullable(),
  /** Those whose day has passed already are reminded too; else only those whose day is yet to come. */
  alsoPassed: z.boolean(),
});
export type ReminderValues = z.output<typeof reminderValues>;

/** Kinds of change of this room. */
export const messagesChanges = [
  z.strictObject({
    kind: z.literal('edit-letter'),
    groupId: id,
    letter: z.enum(letterKinds),
    text: z.strictObject({ subject: z.string().max(300), body: z.string().max(10_000) }).nullable(),
  }),
  /** Who the letters of a branch come from by name, and the picture over them; null: as the groups above have it. */
  z.strictObject({
    kind: z.literal('set-letter-look'),
    groupId: id,
    look: z
      .strictObject({
        senderName: z
          .string()
          .trim()
          .min(1)
          .max(80)
          .regex(/^[^<>"@\p{Cc}]+$/u, 'No address and no line ends')
          .nullable(),
        logoId: id.nullable(),
      })
      .refine(({ senderName, logoId }) => senderName !== null || logoId !== null, 'Says nothing')
      .nullable(),
  }),
  z.strictObject({
    kind: z.literal('send-message'),
    /** The group in whose name it is written; everybody it reaches is in its branch. */
    groupId: id,
    audience: messageAudience,
    values: messageValues,
  }),
  z.strictObject({ kind: z.literal('withdraw-message'), messageId: id }),
  z.strictObject({
    kind: z.literal('set-reminder'),
    /** It counts in the branch of this group, unless a group nearer to somebody says otherwise. */
    groupId: id,
    /** null: for all courses of which the group says nothing else. */
    courseId: id.nullable(),
    occasion: z.enum(reminderOccasions),
    /** 'nobody': nobody in the branch is reminded; null: the group says nothing, and one above counts. */
    values: z.union([reminderValues, z.literal('nobody')]).nullable(),
  }),
  z.strictObject({
    kind: z.literal('show-members'),
    groupId: id,
    /** What members of the group, and of groups below that say nothing else, are told; null: as the groups above say. */
    kinds: z.array(z.enum(happenedKinds)).max(7).nullable(),
  }),
] as const;
