import { sql } from 'drizzle-orm';
import { boolean, check, index, jsonb, pgTable, primaryKey, smallint, text, uniqueIndex } from 'drizzle-orm/pg-core';
import { history, id, idList, moment, ref, stands } from './columns.ts';

/** An outside system that reports work, with its own key. */
export const source = pgTable('source', {
  id: id(),
  key: text().notNull().unique(),
  secret: text().notNull(),
  name: text().notNull(),
});

/** Which course it is; what it says of itself stands in its versions. */
export const course = pgTable('course', { id: id(), sourceId: ref(() => source.id) });

export const courseVersion = pgTable(
  'course_version',
  {
    rowId: id(),
    courseId: ref(() => course.id).notNull(),
    name: text().notNull(),
    nameKey: text().notNull(),
    code: text(),
    subject: text(),
    description: text(),
    terms: text({ enum: ['everyone', 'group', 'request'] }).notNull(),
    archived: boolean().notNull().default(false),
    /** 0 to 100; null: any score will do. */
    passScore: smallint(),
    /** Activities that make it done; null: all of the open units. */
    doneByActivities: idList(),
    validMonths: smallint(),
    /** It opens again so many days before it is no longer valid. */
    reopensDays: smallint(),
    ...history,
  },
  (t) => [
    uniqueIndex('course_version_standing').on(t.courseId).where(stands(t)),
    uniqueIndex('course_version_name').on(t.nameKey).where(stands(t)),
    uniqueIndex('course_version_code').on(t.code).where(stands(t)),
    check('course_version_terms', sql`${t.terms} in ('everyone', 'group', 'request')`),
    check('course_version_pass_score', sql`${t.passScore} between 0 and 100`),
    check('course_version_valid', sql`${t.validMonths} between 1 and 600`),
    check(
      'course_version_reopens',
      sql`${t.reopensDays} between 0 and 3650 and (${t.reopensDays} is null or ${t.validMonths} is not null)`,
    ),
    check('course_version_in_order', sql`${t.untilAt} >= ${t.fromAt}`),
  ],
);

/** Which unit of which course it is. */
export const unit = pgTable('unit', { id: id(), courseId: ref(() => course.id).notNull() });

/** Where a unit stands in its course, and its name. One that was taken out has no version that stands. */
export const unitVersion = pgTable(
  'unit_version',
  {
    rowId: id(),
    unitId: ref(() => unit.id).notNull(),
    courseId: ref(() => course.id).notNull(),
    position: smallint().notNull(),
    name: text().notNull(),
    ...history,
  },
  (t) => [
    uniqueIndex('unit_version_standing').on(t.unitId).where(stands(t)),
    uniqueIndex('unit_version_position').on(t.courseId, t.position).where(stands(t)),
    check('unit_version_in_order', sql`${t.untilAt} >= ${t.fromAt}`),
  ],
);

export const activity = pgTable('activity', { id: id(), courseId: ref(() => course.id).notNull() });

export const activityVersion = pgTable(
  'activity_version',
  {
    rowId: id(),
    activityId: ref(() => activity.id).notNull(),
    unitId: ref(() => unit.id).notNull(),
    courseId: ref(() => course.id).notNull(),
    position: smallint().notNull(),
    name: text().notNull(),
    scored: boolean().notNull(),
    /** Who finishes it: the outside player, somebody who marks what is handed in, or the learner by a tick. */
    finishedBy: text({ enum: ['player', 'marker', 'learner'] })
      .notNull()
      .default('player'),
    /** What is to be handed in and how it is marked (core, HandIn). */
    handIn: jsonb(),
    ...history,
  },
  (t) => [
    check('activity_version_finished_by', sql`${t.finishedBy} in ('player', 'marker', 'learner')`),
    check('activity_version_hand_in', sql`(${t.finishedBy} = 'marker') = (${t.handIn} is not null)`),
    uniqueIndex('activity_version_standing').on(t.activityId).where(stands(t)),
    uniqueIndex('activity_version_position').on(t.unitId, t.position).where(stands(t)),
    index('activity_version_course').on(t.courseId).where(stands(t)),
    check('activity_version_in_order', sql`${t.untilAt} >= ${t.fromAt}`),
  ],
);

export const courseSet = pgTable('course_set', { id: id() });

export const courseSetVersion = pgTable(
  'course_set_version',
  {
    rowId: id(),
    courseSetId: ref(() => courseSet.id).notNull(),
    name: text().notNull(),
    nameKey: text().notNull(),
    position: smallint().notNull().default(0),
    ...history,
  },
  (t) => [
    uniqueIndex('course_set_version_standing').on(t.courseSetId).where(stands(t)),
    uniqueIndex('course_set_version_name').on(t.nameKey).where(stands(t)),
    check('course_set_version_in_order', sql`${t.untilAt} >= ${t.fromAt}`),
  ],
);

/** What a set holds: courses, and other sets with all that they hold. */
export const courseSetItem = pgTable(
  'course_set_item',
  {
    rowId: id(),
    courseSetId: ref(() => courseSet.id).notNull(),
    courseId: ref(() => course.id),
    innerSetId: ref(() => courseSet.id),
    ...history,
  },
  (t) => [
    uniqueIndex('course_set_item_course').on(t.courseSetId, t.courseId).where(stands(t)),
    uniqueIndex('course_set_item_set').on(t.courseSetId, t.innerSetId).where(stands(t)),
    index('course_set_item_of_course').on(t.courseId).where(stands(t)),
    check('course_set_item_one', sql`num_nonnulls(${t.courseId}, ${t.innerSetId}) = 1`),
    check('course_set_item_not_itself', sql`${t.innerSetId} <> ${t.courseSetId}`),
    check('course_set_item_in_order', sql`${t.untilAt} >= ${t.fromAt}`),
  ],
);

/** Which courses a set holds, also through sets in it: the longest-standing way to each, as old as its latest step. Derived by a trigger. */
export const courseInSet = pgTable(
  'course_in_set',
  {
    courseSetId: ref(() => courseSet.id).notNull(),
    courseId: ref(() => course.id).notNull(),
    since: moment().notNull(),
  },
  (t) => [primaryKey({ columns: [t.courseSetId, t.courseId] }), index('course_in_set_course').on(t.courseId)],
);
