import { sql } from 'drizzle-orm';
import { bigint, boolean, check, index, integer, jsonb, pgTable, primaryKey, text, uuid } from 'drizzle-orm/pg-core';
import { day, id, moment, ref } from './columns.ts';
import { groups } from './groups.ts';
import { person } from './people.ts';

export const changeLog = pgTable(
  'change_log',
  {
    id: id(),
    requestId: uuid().notNull().unique(),
    kind: text().notNull(),
    actorId: ref(() => person.id),
    madeAt: moment().notNull().defaultNow(),
    /** Numbers and ids, never a personal value. */
    summary: jsonb().notNull(),
    undoOf: bigint({ mode: 'number' }),
    undoneBy: bigint({ mode: 'number' }),
    /** The automatic rule that made it, in the name of its maker. */
    ruleId: bigint({ mode: 'number' }),
  },
  (t) => [index('change_log_actor').on(t.actorId), index('change_log_rule').on(t.ruleId)],
);

/** The groups a change touched, for showing each leader their own part of the log. */
export const changeGroup = pgTable(
  'change_group',
  {
    changeId: ref(() => changeLog.id).notNull(),
    groupId: ref(() => groups.id).notNull(),
  },
  (t) => [primaryKey({ columns: [t.changeId, t.groupId] }), index('change_group_group').on(t.groupId)],
);

/** One touched subject: the row that ended and the row that began, in the table that `kind` names. */
export const changeSubject = pgTable(
  'change_subject',
  {
    id: id(),
    changeId: ref(() => changeLog.id).notNull(),
    kind: text().notNull(),
    personId: bigint({ mode: 'number' }),
    groupId: bigint({ mode: 'number' }),
    beforeRow: bigint({ mode: 'number' }),
    afterRow: bigint({ mode: 'number' }),
    /** What a row that is changed in place held before: ids and numbers. */
    before: jsonb(),
  },
  (t) => [
    index('change_subject_change').on(t.changeId),
    index('change_subject_person').on(t.personId),
    check('change_subject_some', sql`num_nonnulls(${t.beforeRow}, ${t.afterRow}) > 0`),
  ],
);

/** An undo begins rows anew as they once stood: which row stands for which earlier one. */
export const restoredRow = pgTable(
  'restored_row',
  {
    kind: text().notNull(),
    wasRow: bigint({ mode: 'number' }).notNull(),
    nowRow: bigint({ mode: 'number' }).notNull(),
  },
  (t) => [primaryKey({ columns: [t.kind, t.wasRow] })],
);

/** Rows that became another account's when one joined it, by their key in the table that `place` (`table.column`) names: undo gives them back. */
export const joinedRow = pgTable(
  'joined_row',
  {
    id: id(),
    changeId: ref(() => changeLog.id).notNull(),
    personId: ref(() => person.id).notNull(),
    goneId: ref(() => person.id).notNull(),
    place: text().notNull(),
    key: jsonb().notNull(),
  },
  (t) => [index('joined_row_change').on(t.changeId), index('joined_row_person').on(t.personId), index('joined_row_gone').on(t.goneId)],
);

/** By which version of the code everything derived was last made from scratch; another version makes it again when it starts. */
export const derivedVersion = pgTable('derived_version', { version: integer().primaryKey() });

/** Raised by triggers with whatever alters the tree or what is said about courses; both are cached under it. */
export const structureVersion = pgTable(
  'structure_version',
  { onlyOne: boolean().primaryKey().default(true), version: bigint({ mode: 'number' }).notNull() },
  (t) => [check('structure_version_only_one', sql`${t.onlyOne}`)],
);

/** Raised by each change that holds the roster lock alone, in its own transaction. */
export const rosterVersion = pgTable(
  'roster_version',
  { onlyOne: boolean().primaryKey().default(true), version: bigint({ mode: 'number' }).notNull().default(0) },
  (t) => [check('roster_version_only_one', sql`${t.onlyOne}`)],
);

/** What somebody who is not signed in sent with a request id, for a day: pressed again after a cut connection it is one act. */
export const outsideRequest = pgTable(
  'outside_request',
  {
    requestId: uuid().primaryKey(),
    /** Keyed hash of what was sent, without the password. */
    sentHash: text().notNull(),
    outcome: jsonb().notNull(),
    madeAt: moment().notNull().defaultNow(),
  },
  (t) => [index('outside_request_made').on(t.madeAt)],
);

export const dayTurn = pgTable('day_turn', {
  day: day().primaryKey(),
  doneAt: moment().notNull().defaultNow(),
  /** When everybody whose day has come was reminded. */
  remindedAt: moment(),
});
