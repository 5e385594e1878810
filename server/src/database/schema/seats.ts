import { sql } from 'drizzle-orm';
import { bigint, boolean, check, index, integer, pgTable, text, uniqueIndex } from 'drizzle-orm/pg-core';
import { daysInOrder, history, id, moment, ref, span, stands } from './columns.ts';
import { changeLog } from './changes.ts';
import { course, courseSet } from './courses.ts';
import { groups } from './groups.ts';
import { person } from './people.ts';

/** A licence through all its versions. */
export const licence = pgTable('licence', { id: id(), fromAt: moment().notNull().defaultNow() });

export const licenceVersion = pgTable(
  'licence_version',
  {
    rowId: id(),
    licenceId: ref(() => licence.id).notNull(),
    /** Its home: only access through groups of this branch may use it. */
    groupId: ref(() => groups.id).notNull(),
    name: text().notNull(),
    seats: integer().notNull(),
    ...span,
    courseId: ref(() => course.id),
    courseSetId: ref(() => courseSet.id),
    onLeaving: text({ enum: ['comes back', 'comes back if not begun', 'stays used'] }).notNull(),
    /** Those entitled wait until a seat is given to them. */
    byHand: boolean().notNull().default(false),
    ...history,
  },
  (t) => [
    uniqueIndex('licence_version_standing').on(t.licenceId).where(stands(t)),
    check('licence_seats', sql`${t.seats} >= 0`),
    check('licence_about_one', sql`num_nonnulls(${t.courseId}, ${t.courseSetId}) = 1`),
    check('licence_on_leaving', sql`${t.onLeaving} in ('comes back', 'comes back if not begun', 'stays used')`),
    daysInOrder('licence_days', t),
  ],
);

export const seatLimit = pgTable(
  'seat_limit',
  {
    rowId: id(),
    licenceId: ref(() => licence.id).notNull(),
    groupId: ref(() => groups.id).notNull(),
    most: integer().notNull(),
    ...history,
  },
  (t) => [uniqueIndex('seat_limit_standing').on(t.licenceId, t.groupId).where(stands(t)), check('seat_limit_most', sql`${t.most} >= 0`)],
);

export const seat = pgTable(
  'seat',
  {
    id: id(),
    licenceId: ref(() => licence.id).notNull(),
    personId: ref(() => person.id).notNull(),
    /** The group of the membership it is charged to. */
    groupId: ref(() => groups.id).notNull(),
    /** When they got it, however often it was charged elsewhere since. */
    gotAt: moment().notNull(),
    /** The change that brought it; null: the day's turn did. */
    changeId: ref(() => changeLog.id),
    ...history,
  },
  (t) => [
    index('seat_of_person').on(t.personId),
    uniqueIndex('seat_standing').on(t.licenceId, t.personId).where(stands(t)),
    index('seat_group').on(t.groupId).where(stands(t)),
    index('seat_of_change').on(t.changeId),
  ],
);

/** What was decided about one person’s seat of a licence by hand. */
export const seatWord = pgTable(
  'seat_word',
  {
    rowId: id(),
    personId: ref(() => person.id).notNull(),
    licenceId: ref(() => licence.id).notNull(),
    word: text({ enum: ['given', 'taken back'] }).notNull(),
    madeBy: ref(() => person.id).notNull(),
    ...history,
  },
  (t) => [
    uniqueIndex('seat_word_standing').on(t.personId, t.licenceId).where(stands(t)),
    index('seat_word_person').on(t.personId),
    index('seat_word_licence').on(t.licenceId),
    index('seat_word_made_by').on(t.madeBy),
    check('seat_word_word', sql`${t.word} in ('given', 'taken back')`),
    check('seat_word_in_order', sql`${t.untilAt} >= ${t.fromAt}`),
  ],
);

export const seatLine = pgTable(
  'seat_line',
  {
    id: id(),
    personId: ref(() => person.id).notNull(),
    courseId: ref(() => course.id).notNull(),
    since: moment().notNull(),
    fileRow: integer(),
    place: bigint({ mode: 'number' }).notNull(),
    untilAt: moment(),
  },
  (t) => [
    index('seat_line_of_person').on(t.personId),
    uniqueIndex('seat_line_standing').on(t.personId, t.courseId).where(stands(t)),
    uniqueIndex('seat_line_place').on(t.courseId, t.place).where(stands(t)),
  ],
);
