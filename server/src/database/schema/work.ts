import { sql } from 'drizzle-orm';
import { boolean, check, doublePrecision, index, integer, pgTable, pgView, smallint, text, unique, uniqueIndex } from 'drizzle-orm/pg-core';
import { bytes, history, id, idList, moment, numbered, ref, stands } from './columns.ts';
import { activity, course } from './courses.ts';
import { person } from './people.ts';
import { enrolment } from './progress.ts';

/** A named thing that work can show. Its name is in its version. */
export const skill = pgTable('skill', { id: id() });

const skillVersionColumns = {
  rowId: id(),
  skillId: ref(() => skill.id).notNull(),
  /** null: work in any course can show it. */
  courseId: ref(() => course.id),
  name: text().notNull(),
  nameKey: text().notNull(),
  ...history,
};

export const skillVersion = pgTable('skill_version', skillVersionColumns, (t) => [
  uniqueIndex('skill_version_current').on(t.skillId).where(stands(t)),
  uniqueIndex('skill_version_name')
    .on(sql`coalesce(${t.courseId}, 0)`, t.nameKey)
    .where(stands(t)),
  check('skill_version_in_order', sql`${t.untilAt} >= ${t.fromAt}`),
]);
export const skillNow = pgView('skill_now', { id: numbered(), ...skillVersionColumns }).existing();

/** What a learner hands in for one activity, in one round of its course. */
export const work = pgTable(
  'work',
  {
    id: id(),
    enrolmentId: ref(() => enrolment.id).notNull(),
    activityId: ref(() => activity.id).notNull(),
    /** Whose enrolment it is, so that lists of waiting pieces read no enrolments. */
    personId: ref(() => person.id).notNull(),
  },
  (t) => [
    unique('work_of_enrolment').on(t.enrolmentId, t.activityId),
    index('work_activity').on(t.activityId),
    index('work_person').on(t.personId),
  ],
);

/** One go at a piece of work. */
export const workVersion = pgTable(
  'work_version',
  {
    id: id(),
    workId: ref(() => work.id).notNull(),
    number: smallint().notNull(),
    /** What its mark says of it is stored here too, so that the list of waiting pieces reads an index. */
    state: text({ enum: ['draft', 'waiting', 'sent back', 'marked'] })
      .notNull()
      .default('draft'),
    words: text().notNull().default(''),
    link: text(),
    /** Skills that the learner claims to show. */
    skillIds: idList()
      .notNull()
      .default(sql`'{}'`),
    madeAt: moment().notNull().defaultNow(),
    handedInAt: moment(),
    /** When its markers were written to, since it waits. */
    remindedAt: moment(),
    /** Handed in after its due day. */
    isLate: boolean().notNull().default(false),
  },
  (t) => [
    unique('work_version_number').on(t.workId, t.number),
    index('work_version_queue')
      .on(t.handedInAt, t.id)
      .where(sql`${t.state} = 'waiting'`),
    index('work_version_state').on(t.state, t.handedInAt, t.id),
    check('work_version_state_known', sql`${t.state} in ('draft', 'waiting', 'sent back', 'marked')`),
    check('work_version_handed_in', sql`(${t.state} = 'draft') = (${t.handedInAt} is null)`),
  ],
);

export const workFile = pgTable(
  'work_file',
  {
    id: id(),
    versionId: ref(() => workVersion.id).notNull(),
    fileName: text().notNull(),
    /** By its bytes, never by its name. */
    mimeType: text().notNull(),
    size: integer().notNull(),
    content: bytes().notNull(),
  },
  (t) => [index('work_file_version').on(t.versionId)],
);

/** What a marker decided about a version; a corrected mark ends and another begins. */
export const mark = pgTable(
  'mark',
  {
    rowId: id(),
    versionId: ref(() => workVersion.id).notNull(),
    verdict: text({ enum: ['sent back', 'marked'] }).notNull(),
    /** From 0 to the activity's best; null when it was sent back. */
    score: doublePrecision(),
    /** Points for each line of the rubric, in its order. */
    points: integer().array(),
    /** Skills that the marker confirms. */
    skillIds: idList()
      .notNull()
      .default(sql`'{}'`),
    comment: text().notNull().default(''),
    markedBy: ref(() => person.id).notNull(),
    markedAt: moment().notNull(),
    ...history,
  },
  (t) => [
    uniqueIndex('mark_current').on(t.versionId).where(stands(t)),
    index('mark_marked_by').on(t.markedBy),
    index('mark_marked_at').on(t.markedAt),
    index('mark_skills').using('gin', t.skillIds),
    check('mark_verdict', sql`${t.verdict} in ('sent back', 'marked')`),
    check('mark_in_order', sql`${t.untilAt} >= ${t.fromAt}`),
  ],
);

/** A marker who has a piece open: until then nobody else marks it. */
export const workClaim = pgTable(
  'work_claim',
  {
    versionId: ref(() => workVersion.id)
      .primaryKey()
      .notNull(),
    personId: ref(() => person.id).notNull(),
    untilAt: moment().notNull(),
  },
  (t) => [index('work_claim_person').on(t.personId)],
);
