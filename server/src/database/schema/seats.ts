import { sql } from 'drizzle-orm';
import { bigint, check, index, integer, pgTable, text, uniqueIndex } from 'drizzle-orm/pg-core';
import { daysInOrder, history, id, moment, ref, span, stands } from './columns.ts';
import { course, courseSet } from './courses.ts';
import { groups } from './groups.ts';
import { person } from './people.ts';

export const licence = pgTable(
  'licence',
  {
    id: id(),
    name: text().notNull(),
    seats: integer().notNull(),
    ...span,
    courseId: ref(() => course.id),
    courseSetId: ref(() => courseSet.id),
    homeGroupId: ref(() => groups.id).notNull(),
    onLeaving: text({ enum: ['comes back', 'comes back if not begun', 'stays used'] }).notNull(),
    ...history,
  },
  (t) => [
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
    ...history,
  },
  (t) => [
    index('seat_of_person').on(t.personId),
    uniqueIndex('seat_standing').on(t.licenceId, t.personId).where(stands(t)),
    index('seat_group').on(t.groupId).where(stands(t)),
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
