import { sql } from 'drizzle-orm';
import { boolean, check, doublePrecision, index, pgTable, pgView, text, uniqueIndex } from 'drizzle-orm/pg-core';
import { day, history, id, moment, numbered, ref, stands } from './columns.ts';
import { course, courseSet } from './courses.ts';
import { groups, upload } from './groups.ts';
import { person } from './people.ts';

/** A certificate that can be given: for what, in which words. Its current values are in its version. */
export const certificateForm = pgTable('certificate_form', { id: id() });

const certificateFormVersionColumns = {
  rowId: id(),
  formId: ref(() => certificateForm.id).notNull(),
  /** Learners of its branch can be given it. */
  groupId: ref(() => groups.id).notNull(),
  /** One course, or a set; neither: all that the group opens. */
  courseId: ref(() => course.id),
  courseSetId: ref(() => courseSet.id),
  title: text().notNull(),
  words: text().notNull(),
  logoId: ref(() => upload.id),
  showsScore: boolean().notNull().default(false),
  /** Given as soon as it is earned; else by a leader. */
  byItself: boolean().notNull().default(false),
  ...history,
};

export const certificateFormVersion = pgTable('certificate_form_version', certificateFormVersionColumns, (t) => [
  uniqueIndex('certificate_form_version_current').on(t.formId).where(stands(t)),
  index('certificate_form_version_group').on(t.groupId),
  check('certificate_form_version_about', sql`num_nonnulls(${t.courseId}, ${t.courseSetId}) <= 1`),
  check('certificate_form_version_in_order', sql`${t.untilAt} >= ${t.fromAt}`),
]);
export const certificateFormNow = pgView('certificate_form_now', { id: numbered(), ...certificateFormVersionColumns }).existing();

/** A certificate that was given. One that is withdrawn has no current row; its number is never given again. */
export const certificate = pgTable(
  'certificate',
  {
    rowId: id(),
    number: text().notNull(),
    formId: ref(() => certificateForm.id).notNull(),
    personId: ref(() => person.id).notNull(),
    /** Name of the course, set or group when it was given. */
    about: text().notNull(),
    day: day().notNull(),
    score: doublePrecision(),
    validUntil: day(),
    givenAt: moment().notNull(),
    /** null: by itself. */
    givenBy: ref(() => person.id),
    /** Number of the one that it replaces. */
    replaces: text(),
    /** The holder lets the check page show their name. */
    nameShown: boolean().notNull().default(false),
    ...history,
  },
  (t) => [
    uniqueIndex('certificate_current').on(t.number).where(stands(t)),
    index('certificate_number').on(t.number, t.rowId),
    index('certificate_of_form').on(t.formId, t.personId),
    index('certificate_person').on(t.personId),
    index('certificate_given_by').on(t.givenBy),
    index('certificate_replaces').on(t.replaces),
    check('certificate_in_order', sql`${t.untilAt} >= ${t.fromAt}`),
  ],
);
