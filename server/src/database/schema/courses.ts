import { sql } from 'drizzle-orm';
import { boolean, check, pgTable, smallint, text, unique, uniqueIndex } from 'drizzle-orm/pg-core';
import { history, id, idList, ref, stands } from './columns.ts';

/** An outside system that reports work, with its own key. */
export const source = pgTable('source', {
  id: id(),
  key: text().notNull().unique(),
  secret: text().notNull(),
  name: text().notNull(),
});

export const course = pgTable(
  'course',
  {
    id: id(),
    sourceId: ref(() => source.id),
    name: text().notNull(),
    nameKey: text().notNull().unique(),
    description: text(),
    /** 0 to 100; null: any score will do. */
    passScore: smallint(),
    /** Activities that make it done; null: all of the open units. */
    doneByActivities: idList(),
    validMonths: smallint(),
    reopensDays: smallint(),
  },
  (t) => [check('course_pass_score', sql`${t.passScore} between 0 and 100`)],
);

export const courseTerms = pgTable(
  'course_terms',
  {
    rowId: id(),
    courseId: ref(() => course.id).notNull(),
    terms: text({ enum: ['everyone', 'group', 'request'] }).notNull(),
    archived: boolean().notNull().default(false),
    ...history,
  },
  (t) => [
    uniqueIndex('course_terms_standing').on(t.courseId).where(stands(t)),
    check('course_terms_terms', sql`${t.terms} in ('everyone', 'group', 'request')`),
  ],
);

export const unit = pgTable(
  'unit',
  {
    id: id(),
    courseId: ref(() => course.id).notNull(),
    position: smallint().notNull(),
    name: text().notNull(),
  },
  (t) => [unique('unit_position').on(t.courseId, t.position)],
);

export const activity = pgTable(
  'activity',
  {
    id: id(),
    unitId: ref(() => unit.id).notNull(),
    position: smallint().notNull(),
    name: text().notNull(),
    scored: boolean().notNull(),
  },
  (t) => [unique('activity_position').on(t.unitId, t.position)],
);

export const courseSet = pgTable('course_set', {
  id: id(),
  name: text().notNull(),
  nameKey: text().notNull().unique(),
  position: smallint().notNull().default(0),
});

export const courseSetCourse = pgTable(
  'course_set_course',
  {
    rowId: id(),
    courseSetId: ref(() => courseSet.id).notNull(),
    courseId: ref(() => course.id).notNull(),
    ...history,
  },
  (t) => [uniqueIndex('course_set_course_standing').on(t.courseSetId, t.courseId).where(stands(t))],
);
