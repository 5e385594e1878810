import { sql } from 'drizzle-orm';
import { boolean, check, index, jsonb, pgTable, pgView, primaryKey, smallint, text, uniqueIndex } from 'drizzle-orm/pg-core';
import { groups } from './groups.ts';
import { history, id, idList, moment, numbered, ref, stands } from './columns.ts';

/** An outside system that reports work, with its own key. */
export const source = pgTable('source', {
  id: id(),
  key: text().notNull().unique(),
  secret: text().notNull(),
  name: text().notNull(),
  /** Of the password with which it sends statements (RFC 7617); null: it has none. */
  passwordHash: text(),
  /** It may report on every course; else on those that come from it or are named for it. */
  allCourses: boolean().notNull().default(false),
  madeAt: moment().notNull().defaultNow(),
  /** Nothing is taken from it any more. */
  endedAt: moment(),
});

/** Which course it is; what it says of itself stands in its versions. */
export const course = pgTable(
  'course',
  {
    id: id(),
    sourceId: ref(() => source.id),
    /** The number that the course platform gives it; null: made here. */
    externalId: text(),
  },
  (t) => [uniqueIndex('course_external').on(t.sourceId, t.externalId)],
);

/** What the course platform offered when it was asked: a change takes from it exactly what was looked at. */
export const courseFeed = pgTable('course_feed', { id: id(), at: moment().notNull().defaultNow(), courses: jsonb().notNull() });

/** Courses of others on which a source may report. */
export const sourceCourse = pgTable(
  'source_course',
  { sourceId: ref(() => source.id).notNull(), courseId: ref(() => course.id).notNull() },
  (t) => [primaryKey({ columns: [t.sourceId, t.courseId] }), index('source_course_course').on(t.courseId)],
);

const courseVersionColumns = {
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
  /** The branch whose own course it is: opened nowhere else, and seen by nobody else. null: everybody's. */
  homeId: ref(() => groups.id),
  /** Words that it is found by, each once. */
  tags: text()
    .array()
    .notNull()
    .default(sql`'{}'`),
  ...history,
};

export const courseVersion = pgTable('course_version', courseVersionColumns, (t) => [
  uniqueIndex('course_version_standing').on(t.courseId).where(stands(t)),
  uniqueIndex('course_version_name')
    .on(sql`coalesce(${t.homeId}, 0)`, t.nameKey)
    .where(stands(t)),
  uniqueIndex('course_version_code')
    .on(sql`coalesce(${t.homeId}, 0)`, t.code)
    .where(stands(t)),
  check('course_version_terms', sql`${t.terms} in ('everyone', 'group', 'request')`),
  check('course_version_pass_score', sql`${t.passScore} between 0 and 100`),
  check('course_version_valid', sql`${t.validMonths} between 1 and 600`),
  check('course_version_reopens', sql`${t.reopensDays} between 0 and 3650 and (${t.reopensDays} is null or ${t.validMonths} is not null)`),
  index('course_version_home').on(t.homeId).where(stands(t)),
  check('course_version_home_terms', sql`${t.homeId} is null or ${t.terms} = 'group'`),
  check('course_version_in_order', sql`${t.untilAt} >= ${t.fromAt}`),
]);
export const courseNow = pgView('course_now', { id: numbered(), ...courseVersionColumns }).existing();

/** Which unit of which course it is. */
export const unit = pgTable('unit', { id: id(), courseId: ref(() => course.id).notNull(), externalId: text() }, (t) => [
  uniqueIndex('unit_external').on(t.courseId, t.externalId),
]);

const unitVersionColumns = {
  rowId: id(),
  unitId: ref(() => unit.id).notNull(),
  courseId: ref(() => course.id).notNull(),
  position: smallint().notNull(),
  name: text().notNull(),
  ...history,
};

/** Where a unit stands in its course, and its name. One that was taken out has no version that stands. */
export const unitVersion = pgTable('unit_version', unitVersionColumns, (t) => [
  uniqueIndex('unit_version_standing').on(t.unitId).where(stands(t)),
  uniqueIndex('unit_version_position').on(t.courseId, t.position).where(stands(t)),
  check('unit_version_in_order', sql`${t.untilAt} >= ${t.fromAt}`),
]);
export const unitNow = pgView('unit_now', { id: numbered(), ...unitVersionColumns }).existing();

export const activity = pgTable('activity', { id: id(), courseId: ref(() => course.id).notNull(), externalId: text() }, (t) => [
  uniqueIndex('activity_external').on(t.courseId, t.externalId),
]);

const activityVersionColumns = {
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
  /** What is to be read, opened or taken before a learner ticks it off (contract, activityContent). */
  content: jsonb(),
  ...history,
};

export const activityVersion = pgTable('activity_version', activityVersionColumns, (t) => [
  check('activity_version_finished_by', sql`${t.finishedBy} in ('player', 'marker', 'learner')`),
  check('activity_version_hand_in', sql`(${t.finishedBy} = 'marker') = (${t.handIn} is not null)`),
  uniqueIndex('activity_version_standing').on(t.activityId).where(stands(t)),
  uniqueIndex('activity_version_position').on(t.unitId, t.position).where(stands(t)),
  index('activity_version_course').on(t.courseId).where(stands(t)),
  check('activity_version_in_order', sql`${t.untilAt} >= ${t.fromAt}`),
]);
export const activityNow = pgView('activity_now', { id: numbered(), ...activityVersionColumns }).existing();

export const courseSet = pgTable('course_set', { id: id() });

const courseSetVersionColumns = {
  rowId: id(),
  courseSetId: ref(() => courseSet.id).notNull(),
  name: text().notNull(),
  nameKey: text().notNull(),
  position: smallint().notNull().default(0),
  ...history,
};

export const courseSetVersion = pgTable('course_set_version', courseSetVersionColumns, (t) => [
  uniqueIndex('course_set_version_standing').on(t.courseSetId).where(stands(t)),
  uniqueIndex('course_set_version_name').on(t.nameKey).where(stands(t)),
  check('course_set_version_in_order', sql`${t.untilAt} >= ${t.fromAt}`),
]);
export const courseSetNow = pgView('course_set_now', { id: numbered(), ...courseSetVersionColumns }).existing();

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
