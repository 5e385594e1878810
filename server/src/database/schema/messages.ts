import { sql } from 'drizzle-orm';
import { bigint, boolean, check, index, integer, pgTable, primaryKey, smallint, text, unique, uniqueIndex } from 'drizzle-orm/pg-core';
import { citext, day, history, id, idList, moment, ref, stands } from './columns.ts';
import { activity, course } from './courses.ts';
import { groups, upload } from './groups.ts';
import { person } from './people.ts';

/** Letters on their way, and those that went. */
export const letter = pgTable(
  'letter',
  {
    id: id(),
    personId: ref(() => person.id),
    invitationId: bigint({ mode: 'number' }),
    /** Which of the application's own letters it is. */
    kind: text().notNull().default('invitation'),
    address: citext().notNull(),
    subject: text().notNull(),
    body: text().notNull(),
    madeAt: moment().notNull().defaultNow(),
    sendAt: moment().notNull().defaultNow(),
    state: text({ enum: ['waiting', 'sent', 'bounced'] })
      .notNull()
      .default('waiting'),
    tries: integer().notNull().default(0),
    /** Until then one process has it in hand. */
    leasedUntil: moment(),
    sentAt: moment(),
    /** What the mail server said when it refused. */
    trouble: text(),
    /** Where its reader can stop letters of this kind. */
    stopUrl: text(),
    /** As the branch's letters looked when it was written. */
    senderName: text(),
    logoId: ref(() => upload.id),
  },
  (t) => [
    index('letter_person').on(t.personId),
    index('letter_address').on(t.address, t.madeAt),
    index('letter_invitation').on(t.invitationId),
    index('letter_waiting')
      .on(t.sendAt)
      .where(sql`${t.state} = 'waiting'`),
    check('letter_state', sql`${t.state} in ('waiting', 'sent', 'bounced')`),
  ],
);

/** A branch's own text for a kind of letter; the nearest one up from a group counts. */
export const letterTemplate = pgTable(
  'letter_template',
  {
    rowId: id(),
    groupId: ref(() => groups.id).notNull(),
    kind: text().notNull(),
    subject: text().notNull(),
    body: text().notNull(),
    ...history,
  },
  (t) => [uniqueIndex('letter_template_standing').on(t.groupId, t.kind).where(stands(t))],
);

/** Who a branch's letters come from by name, and the picture over them; the nearest one up from a group counts. */
export const letterLook = pgTable(
  'letter_look',
  {
    rowId: id(),
    groupId: ref(() => groups.id).notNull(),
    senderName: text(),
    logoId: ref(() => upload.id),
    ...history,
  },
  (t) => [
    uniqueIndex('letter_look_standing').on(t.groupId).where(stands(t)),
    check('letter_look_says', sql`num_nonnulls(${t.senderName}, ${t.logoId}) > 0`),
    check('letter_look_in_order', sql`${t.untilAt} >= ${t.fromAt}`),
  ],
);

/** What the simulated mail server received; it belongs to the stand-in, not to the application. */
export const receivedMail = pgTable('received_mail', {
  id: id(),
  recipient: citext().notNull(),
  sender: text().notNull().default(''),
  subject: text().notNull(),
  plain: text().notNull(),
  html: text().notNull(),
  receivedAt: moment().notNull().defaultNow(),
});

/** Something that was written to people. What it says stands in its version. */
export const message = pgTable('message', {
  id: id(),
  madeAt: moment().notNull().defaultNow(),
  /** When those it reaches were put down for a letter; null: not yet. */
  toldAt: moment(),
  /** Nobody can answer from then on. */
  closedAt: moment(),
});

export const messageVersion = pgTable(
  'message_version',
  {
    rowId: id(),
    messageId: ref(() => message.id).notNull(),
    kind: text({ enum: ['message', 'task', 'question', 'reminder'] }).notNull(),
    title: text().notNull(),
    body: text().notNull(),
    /** The group in whose name it was written. */
    groupId: ref(() => groups.id).notNull(),
    /** Whole groups, with whoever comes later; null: chosen people. */
    toGroups: idList(),
    withSubgroups: boolean().notNull().default(true),
    answers: boolean().notNull().default(true),
    urgent: boolean().notNull().default(false),
    pinnedUntil: day(),
    /** Of a task. */
    dueDay: day(),
    /** Of a question. */
    choices: text().array(),
    several: boolean().notNull().default(false),
    /** After its due day it can no longer be done, or chosen. */
    closes: boolean().notNull().default(false),
    /** Of a task: done by handing in what this activity asks for. */
    activityId: ref(() => activity.id),
    ownWords: boolean().notNull().default(false),
    isNamed: boolean().notNull().default(true),
    tally: text({ enum: ['leaders', 'who chose', 'after due'] })
      .notNull()
      .default('leaders'),
    tags: text()
      .array()
      .notNull()
      .default(sql`'{}'`),
    fileIds: idList()
      .notNull()
      .default(sql`'{}'`),
    madeBy: ref(() => person.id).notNull(),
    sentAt: moment().notNull(),
    ...history,
  },
  (t) => [
    uniqueIndex('message_version_standing').on(t.messageId).where(stands(t)),
    index('message_version_group').on(t.groupId, t.sentAt),
    index('message_version_activity').on(t.activityId).where(stands(t)),
    check('message_version_tally', sql`${t.tally} in ('leaders', 'who chose', 'after due')`),
    index('message_version_made_by').on(t.madeBy),
    index('message_version_to_groups').using('gin', t.toGroups),
    check('message_version_kind', sql`${t.kind} in ('message', 'task', 'question', 'reminder')`),
    check('message_version_choices', sql`(${t.kind} = 'question') = (${t.choices} is not null)`),
    check('message_version_in_order', sql`${t.untilAt} >= ${t.fromAt}`),
  ],
);

/** Somebody whom a message reached by name, or who has looked at it, done it or chosen. */
export const messageReader = pgTable(
  'message_reader',
  {
    messageId: ref(() => message.id).notNull(),
    personId: ref(() => person.id).notNull(),
    isChosen: boolean().notNull().default(false),
    seenAt: moment(),
    doneAt: moment(),
    /** Places of the choices. */
    choices: integer().array(),
    /** Emptied when the person is erased. */
    ownWords: text(),
  },
  (t) => [primaryKey({ columns: [t.messageId, t.personId] }), index('message_reader_person').on(t.personId)],
);

export const messageAnswer = pgTable(
  'message_answer',
  {
    id: id(),
    messageId: ref(() => message.id).notNull(),
    personId: ref(() => person.id).notNull(),
    /** To one reader only; null: to the thread, or to those who wrote. */
    toPersonId: ref(() => person.id),
    /** Emptied when the person is erased. */
    words: text().notNull(),
    at: moment().notNull().defaultNow(),
    hiddenBy: ref(() => person.id),
  },
  (t) => [
    index('message_answer_message').on(t.messageId, t.id),
    index('message_answer_person').on(t.personId),
    index('message_answer_to_person').on(t.toPersonId),
    index('message_answer_hidden_by').on(t.hiddenBy),
  ],
);

/** Whoever is to be told of a message by letter. */
export const messageNotice = pgTable(
  'message_notice',
  {
    messageId: ref(() => message.id).notNull(),
    personId: ref(() => person.id).notNull(),
    sentAt: moment(),
  },
  (t) => [
    primaryKey({ columns: [t.messageId, t.personId] }),
    index('message_notice_person').on(t.personId),
    index('message_notice_waiting')
      .on(t.personId)
      .where(sql`${t.sentAt} is null`),
  ],
);

/** Letters to an address that came back, one after the other; the count ends with one that arrives. */
export const addressBounce = pgTable('address_bounce', {
  address: citext().primaryKey(),
  inARow: smallint().notNull(),
  lastAt: moment().notNull().defaultNow(),
});

/** When people of a branch are reminded of what; the nearest one up from a group counts. */
export const reminderSetting = pgTable(
  'reminder_setting',
  {
    rowId: id(),
    groupId: ref(() => groups.id).notNull(),
    /** null: of all courses. */
    courseId: ref(() => course.id),
    occasion: text().notNull(),
    /** null: nobody is reminded. */
    days: smallint(),
    /** null: the usual text. */
    subject: text(),
    body: text(),
    /** Whose day was before this one is not reminded; null: everybody. */
    fromDay: day(),
    madeBy: ref(() => person.id).notNull(),
    ...history,
  },
  (t) => [
    uniqueIndex('reminder_setting_standing')
      .on(t.groupId, t.occasion, sql`coalesce(${t.courseId}, 0)`)
      .where(stands(t)),
    index('reminder_setting_course').on(t.courseId),
    index('reminder_setting_made_by').on(t.madeBy),
    check('reminder_setting_text', sql`(${t.subject} is null) = (${t.body} is null)`),
    check('reminder_setting_in_order', sql`${t.untilAt} >= ${t.fromAt}`),
  ],
);

/** Somebody was reminded of something: once for each thing, round and occasion, whatever the number of groups. */
export const reminded = pgTable(
  'reminded',
  {
    personId: ref(() => person.id).notNull(),
    occasion: text().notNull(),
    /** Which course, group, licence or form of certificate. */
    aboutId: bigint({ mode: 'number' }).notNull(),
    /** The day on which the round opened, or on which it ends. */
    round: day(),
    messageId: ref(() => message.id).notNull(),
  },
  (t) => [
    unique('reminded_once').on(t.personId, t.occasion, t.aboutId, t.round).nullsNotDistinct(),
    index('reminded_message').on(t.messageId),
  ],
);

/** What the members of a branch are told of what happens there; the nearest one up from a group counts. */
export const memberStream = pgTable(
  'member_stream',
  {
    rowId: id(),
    groupId: ref(() => groups.id).notNull(),
    kinds: text().array().notNull(),
    madeBy: ref(() => person.id).notNull(),
    ...history,
  },
  (t) => [
    uniqueIndex('member_stream_standing').on(t.groupId).where(stands(t)),
    index('member_stream_made_by').on(t.madeBy),
    check('member_stream_in_order', sql`${t.untilAt} >= ${t.fromAt}`),
  ],
);
