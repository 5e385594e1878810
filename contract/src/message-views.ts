import { letterKinds, reminderOccasions } from '@gate-roster/core';
import { z } from 'zod';
import { happenedKinds } from './messages.changes.ts';
import { defineRoutes } from './route.ts';
import { day, groupParams, id, idInPath, moment, named, scopeQuery } from './shapes.ts';

/* The views beside what is written to groups: what is on its way, what people are reminded of, and what happened. */

export const reminderRow = z.object({
  occasion: z.enum(reminderOccasions),
  /** null: for all courses of which its group says nothing else. */
  course: named.nullable(),
  /** Whose setting it is; null: a group that the reader does not see. */
  group: named.nullable(),
  where: z.enum(['here', 'above', 'below']),
  /** It counts in the group that was asked for; else one nearer says otherwise, or it is of a group below. */
  counts: z.boolean(),
  /** null: nobody is reminded. */
  days: z.number().int().nullable(),
  text: z.object({ subject: z.string(), body: z.string() }).nullable(),
  by: z.string().nullable(),
});
export type ReminderRow = z.output<typeof reminderRow>;

/** People who would be reminded of one thing on one day, if nothing changes. */
export const rehearsedReminder = z.object({
  day,
  occasion: z.enum(reminderOccasions),
  /** Course, group, licence or what a certificate is for. */
  about: z.string(),
  aboutId: id,
  people: z.number().int(),
});
export type RehearsedReminder = z.output<typeof rehearsedReminder>;

export const letterStates = ['waiting', 'sent', 'bounced'] as const;

/** A letter to somebody of the scope; what it says is theirs. */
export const outgoingLetter = z.object({
  id,
  person: named,
  kind: z.enum(letterKinds),
  state: z.enum(letterStates),
  /** When it left or came back; of one that waits, when it is tried next. */
  at: moment,
  /** What the mail server said. */
  trouble: z.string().nullable(),
  /** Letters to this address have stopped. */
  hasStopped: z.boolean(),
});
export type OutgoingLetter = z.output<typeof outgoingLetter>;

/** Something that happened in a group, to somebody or to the group. */
export const happening = z.object({
  kind: z.enum(happenedKinds),
  at: moment,
  group: named.nullable(),
  /** null: nobody in particular, or somebody whose name is hidden from the reader. */
  person: z.object({ id: id.nullable(), name: z.string().nullable() }).nullable(),
  /** A course, an activity or a handout. */
  about: z.string().nullable(),
  score: z.number().nullable(),
});
export type Happening = z.output<typeof happening>;

const before = moment.optional();

export const messageViewRoutes = defineRoutes({
  reminders: {
    method: 'GET',
    path: '/api/v1/groups/:groupId/reminders',
    room: 'messages',
    who: 'leader',
    summary: 'When people of the group are reminded: what counts there, and what groups below say otherwise',
    params: groupParams,
    response: z.object({ settings: z.array(reminderRow), may: z.object({ write: z.boolean() }) }),
  },
  rehearseReminders: {
    method: 'GET',
    path: '/api/v1/groups/:groupId/reminders/rehearsal',
    room: 'messages',
    who: 'leader',
    summary: 'Who would be reminded of what on which of the next days, if nothing changes; with a day, their names',
    params: groupParams,
    query: scopeQuery.extend({ day: day.optional(), occasion: z.enum(reminderOccasions).optional(), aboutId: idInPath.optional() }),
    response: z.object({
      lines: z.array(rehearsedReminder),
      /** Of one line. */
      names: z.array(z.object({ id, name: z.string() })),
      more: z.number().int(),
    }),
  },
  goingOut: {
    method: 'GET',
    path: '/api/v1/groups/:groupId/going-out',
    room: 'messages',
    who: 'leader',
    summary: 'Messages that have not left yet, and emails to people of the scope: waiting, sent, come back',
    params: groupParams,
    query: scopeQuery.extend({ state: z.enum(letterStates).optional(), after: idInPath.optional() }),
    response: z.object({
      messages: z.array(z.object({ id, title: z.string(), group: named, sendAt: moment })),
      /** People whose email about messages waits for its day. */
      digests: z.number().int(),
      letters: z.array(outgoingLetter),
      next: id.nullable(),
      counts: z.object({ waiting: z.number().int(), sent: z.number().int(), bounced: z.number().int(), stopped: z.number().int() }),
    }),
  },
  happened: {
    method: 'GET',
    path: '/api/v1/groups/:groupId/happened',
    room: 'messages',
    who: 'leader',
    summary: 'What happened in the scope, latest first',
    params: groupParams,
    query: scopeQuery.extend({ kinds: z.string().max(200).optional(), before }),
    response: z.object({
      events: z.array(happening),
      next: moment.nullable(),
      /** What the group's members are shown. */
      members: z.object({ kinds: z.array(z.enum(happenedKinds)), from: named.nullable(), isOwn: z.boolean() }),
      may: z.object({ set: z.boolean() }),
    }),
  },
  myHappenings: {
    method: 'GET',
    path: '/api/v1/my/groups/:groupId/happened',
    room: 'messages',
    who: 'signed in',
    summary: 'What happened in a group of the reader’s, as far as it is shown to its members',
    params: groupParams,
    query: z.strictObject({ before }),
    response: z.object({ isShown: z.boolean(), events: z.array(happening), next: moment.nullable() }),
  },
});
