import { z } from 'zod';
import { messageKinds, tallyFor } from './messages.changes.ts';
import { defineRoutes } from './route.ts';
import { day, groupParams, id, idInPath, moment, named, numberInAddress, scopeQuery } from './shapes.ts';

const messageParams = z.object({ messageId: idInPath });

/** What is counted of a message; only of those whom it reaches now. */
const reached = z.object({
  people: z.number().int(),
  seen: z.number().int(),
  done: z.number().int(),
  answered: z.number().int(),
});

/** A reminder is written by a branch's own setting, as a message to those whose day has come. */
export const shownKinds = [...messageKinds, 'reminder'] as const;
export type ShownKind = (typeof shownKinds)[number];

export const messageRow = z.object({
  id,
  kind: z.enum(shownKinds),
  title: z.string(),
  group: named,
  /** Groups it goes to; none: chosen people. */
  toGroups: z.array(named),
  withSubgroups: z.boolean(),
  by: z.string(),
  sentAt: moment,
  /** It has not left yet. */
  isWaiting: z.boolean(),
  dueDay: day.nullable(),
  pinnedUntil: day.nullable(),
  urgent: z.boolean(),
  tags: z.array(z.string()),
  reached,
});
export type MessageRow = z.output<typeof messageRow>;

export const messageAnswer = z.object({
  id,
  /** null: a young learner, to other learners. */
  by: z.string().nullable(),
  personId: id.nullable(),
  isMine: z.boolean(),
  /** To one reader only. */
  to: z.string().nullable(),
  words: z.string(),
  at: moment,
  isHidden: z.boolean(),
});
export type MessageAnswer = z.output<typeof messageAnswer>;

const choice = z.object({ text: z.string(), people: z.number().int() });
const messageFile = z.object({ id, name: z.string() });

export const messageSheet = messageRow.extend({
  body: z.string(),
  answers: z.boolean(),
  several: z.boolean(),
  choices: z.array(choice),
  closes: z.boolean(),
  isNamed: z.boolean(),
  tally: z.enum(tallyFor),
  /** What was said in own words; null: nobody may. */
  ownWords: z.array(z.object({ words: z.string(), by: z.string().nullable() })).nullable(),
  /** Of a task that is done by handing in. */
  activity: z.string().nullable(),
  files: z.array(messageFile),
  /** Nobody can answer any more. */
  isClosed: z.boolean(),
  /** Everybody it reaches reads the answers. */
  isCommon: z.boolean(),
  thread: z.array(messageAnswer),
  letters: z.object({ sent: z.number().int(), waiting: z.number().int(), cameBack: z.number().int(), noAddress: z.number().int() }),
  may: z.object({ write: z.boolean() }),
});
export type MessageSheet = z.output<typeof messageSheet>;

export const readerLists = ['seen', 'not seen', 'done', 'not done', 'chose'] as const;

export const myMessage = z.object({
  id,
  kind: z.enum(shownKinds),
  title: z.string(),
  body: z.string(),
  /** The group in whose name it was written, when it is one of the reader's. */
  group: z.string(),
  by: z.string(),
  sentAt: moment,
  isPinned: z.boolean(),
  urgent: z.boolean(),
  dueDay: day.nullable(),
  isSeen: z.boolean(),
  isDone: z.boolean(),
  choices: z.array(z.string()),
  several: z.boolean(),
  chosen: z.array(z.number().int()),
  /** What they said in their own words; null: they may not. */
  ownWords: z.string().nullable(),
  /** How many chose what; null: not for them, or not yet. */
  tally: z.array(z.number().int()).nullable(),
  /** Its day is past, and it closed then. */
  isOver: z.boolean(),
  activity: z.object({ courseId: id, name: z.string() }).nullable(),
  files: z.array(messageFile),
  /** They may answer. */
  answers: z.boolean(),
  isCommon: z.boolean(),
  thread: z.array(messageAnswer),
});
export type MyMessage = z.output<typeof myMessage>;

export const letterChoices = ['at once', 'once a day', 'never'] as const;
const answerWords = z.string().trim().min(1).max(4000);

export const messageRoutes = defineRoutes({
  messages: {
    method: 'GET',
    path: '/api/v1/groups/:groupId/messages',
    room: 'messages',
    who: 'leader',
    summary: 'What was written in the scope, latest first',
    params: groupParams,
    query: scopeQuery.extend({ after: idInPath.optional(), tag: z.string().max(60).optional(), kind: z.enum(shownKinds).optional() }),
    response: z.object({
      messages: z.array(messageRow),
      next: id.nullable(),
      may: z.object({ write: z.boolean() }),
      tags: z.array(z.string()),
    }),
  },
  message: {
    method: 'GET',
    path: '/api/v1/messages/:messageId',
    room: 'messages',
    who: 'leader',
    summary: 'One message: its words, its answers, and whom it has reached',
    params: messageParams,
    response: messageSheet,
  },
  messageReaders: {
    method: 'GET',
    path: '/api/v1/messages/:messageId/readers',
    room: 'messages',
    who: 'leader',
    summary: 'Who has seen it, done it or chosen, and who has not',
    params: messageParams,
    query: z.strictObject({ list: z.enum(readerLists), choice: numberInAddress(0, 19).optional() }),
    response: z.object({ people: z.array(z.object({ id, name: z.string() })), more: z.number().int() }),
  },
  writeAnswer: {
    method: 'POST',
    path: '/api/v1/messages/:messageId/answers',
    room: 'messages',
    who: 'leader',
    summary: 'Answer in the thread, or one reader alone',
    params: messageParams,
    body: z.strictObject({ words: answerWords, toPersonId: id.nullable(), requestId: z.uuid() }),
    response: z.object({}),
  },
  hideAnswer: {
    method: 'POST',
    path: '/api/v1/messages/:messageId/answers/:answerId/hidden',
    room: 'messages',
    who: 'leader',
    summary: 'Hide an answer, or show it again',
    params: messageParams.extend({ answerId: idInPath }),
    body: z.strictObject({ hidden: z.boolean() }),
    response: z.object({}),
  },
  closeThread: {
    method: 'POST',
    path: '/api/v1/messages/:messageId/closed',
    room: 'messages',
    who: 'leader',
    summary: 'Take no more answers, or take them again',
    params: messageParams,
    body: z.strictObject({ closed: z.boolean() }),
    response: z.object({}),
  },
  messageFile: {
    method: 'GET',
    path: '/api/v1/messages/:messageId/files/:fileId',
    room: 'messages',
    who: 'signed in',
    summary: 'A file of a message, for those whom it reaches and those who lead there',
    params: messageParams.extend({ fileId: idInPath }),
    response: 'file',
  },
  handInActivities: {
    method: 'GET',
    path: '/api/v1/groups/:groupId/hand-in-activities',
    room: 'messages',
    who: 'leader',
    summary: 'Activities of open courses that ask for work, for a task that is done by handing in',
    params: groupParams,
    response: z.object({ activities: z.array(z.object({ id, name: z.string(), course: z.string() })) }),
  },
  myMessages: {
    method: 'GET',
    path: '/api/v1/my/messages',
    room: 'messages',
    who: 'signed in',
    summary: 'What was written to the reader, pinned ones first, then the latest',
    response: z.object({ messages: z.array(myMessage), unseen: z.number().int(), letters: z.enum(letterChoices) }),
  },
  readMessage: {
    method: 'POST',
    path: '/api/v1/my/messages/:messageId',
    room: 'messages',
    who: 'signed in',
    summary: 'See a message; tick its task; choose among its answers',
    params: messageParams,
    body: z.strictObject({
      done: z.boolean().optional(),
      choices: z.array(z.number().int().min(0).max(19)).max(20).optional(),
      ownWords: z.string().trim().max(300).optional(),
    }),
    response: z.object({}),
  },
  answerMessage: {
    method: 'POST',
    path: '/api/v1/my/messages/:messageId/answers',
    room: 'messages',
    who: 'signed in',
    summary: 'Answer what was written to the reader',
    params: messageParams,
    body: z.strictObject({ words: answerWords, requestId: z.uuid() }),
    response: z.object({}),
  },
  chooseLetters: {
    method: 'POST',
    path: '/api/v1/my/letters',
    room: 'messages',
    who: 'signed in',
    summary: 'When letters about messages go to the reader',
    body: z.strictObject({ letters: z.enum(letterChoices) }),
    response: z.object({}),
  },
  stopLetters: {
    method: 'POST',
    path: '/api/v1/letters/stop',
    room: 'messages',
    who: 'anyone',
    summary: 'Stop letters about messages, by the key that stands in each of them',
    body: z.strictObject({ key: z.uuid() }),
    response: z.object({}),
  },
  stopLettersAtOnce: {
    method: 'POST',
    path: '/api/v1/letters/stop/:key',
    room: 'messages',
    who: 'anyone',
    summary: 'The same by a button of the mail program, in one click (RFC 8058)',
    params: z.object({ key: z.uuid() }),
    response: 'nothing',
  },
});
