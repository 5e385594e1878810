import { sql } from 'drizzle-orm';
import {
  bigint,
  boolean,
  check,
  doublePrecision,
  index,
  integer,
  jsonb,
  pgTable,
  primaryKey,
  smallint,
  text,
  unique,
  uniqueIndex,
  uuid,
} from 'drizzle-orm/pg-core';
import { day, id, idList, moment, ref } from './columns.ts';
import { activity, course, source } from './courses.ts';
import { groups } from './groups.ts';
import { person } from './people.ts';
import { seat } from './seats.ts';

export const enrolment = pgTable(
  'enrolment',
  {
    id: id(),
    personId: ref(() => person.id).notNull(),
    courseId: ref(() => course.id).notNull(),
    round: smallint().notNull().default(1),
    /** The latest round; earlier ones keep their result. */
    isCurrent: boolean().notNull().default(true),
    roundOpenedDay: day(),
    status: text({ enum: ['not begun', 'under way', 'done'] }).notNull(),
    begunAt: moment(),
    doneAt: moment(),
    doneDay: day(),
    /** 0 to 100, mean of the scored activities. */
    score: doublePrecision(),
    finishedActivities: smallint().notNull().default(0),
    exempt: boolean().notNull().default(false),
    exemptReason: text(),
    /** Done only because access narrowed to what was finished; taken back when it widens. */
    doneByNarrowing: boolean().notNull().default(false),
    doneElsewhere: boolean().notNull().default(false),
    elsewhereReason: text(),
    seatId: ref(() => seat.rowId),
    /** The paths that were open when the work was done. */
    viaGroups: idList()
      .notNull()
      .default(sql`'{}'`),
  },
  (t) => [
    unique('enrolment_round').on(t.personId, t.courseId, t.round),
    uniqueIndex('enrolment_current')
      .on(t.personId, t.courseId)
      .where(sql`${t.isCurrent}`),
    /** Those whose status can follow from other units being open (`canTurnOf`). */
    index('enrolment_can_turn')
      .on(t.personId, t.courseId)
      .where(sql`${t.isCurrent} and not ${t.exempt} and (${t.status} = 'under way' or ${t.doneByNarrowing})`),
    index('enrolment_course').on(t.courseId),
    index('enrolment_begun_at').on(t.begunAt),
    index('enrolment_done_at')
      .on(t.doneAt)
      .where(sql`${t.status} = 'done' and ${t.isCurrent}`),
    check('enrolment_status', sql`${t.status} in ('not begun', 'under way', 'done')`),
    check('enrolment_done_has_day', sql`(${t.status} = 'done') = (${t.doneDay} is not null)`),
    check('enrolment_score', sql`${t.score} between 0 and 100`),
  ],
);

/** The transaction that wrote a row. Its number never comes twice. */
const inTransaction = () =>
  bigint({ mode: 'number' })
    .notNull()
    .default(sql`pg_current_xact_id()::text::bigint`);

/**
 * What the counted learners of a membership set come to on a day, for each course and (0) for all: kept so that a report adds up
 * thousands of rows and not every enrolment (progress/standings.ts). Worked out, never the truth; hence no references.
 */
export const standing = pgTable(
  'standing',
  {
    setId: bigint({ mode: 'number' }).notNull(),
    courseId: bigint({ mode: 'number' }).notNull(),
    day: day().notNull(),
    all: integer().notNull(),
    done: integer().notNull(),
    underWay: integer().notNull(),
    exempt: integer().notNull(),
    overdue: integer().notNull(),
    scoreSum: doublePrecision().notNull(),
    scored: integer().notNull(),
    /** Does whoever sees all groups of the set see all of this? */
    whole: boolean().notNull(),
  },
  (t) => [
    primaryKey({ columns: [t.setId, t.courseId] }),
    // Everything that the bars of a tree read, so that they read the index alone.
    index('standing_in_all')
      .on(t.setId, t.day, t.whole, t.all, t.done, t.underWay, t.exempt, t.overdue, t.scoreSum, t.scored)
      .where(sql`${t.courseId} = 0`),
  ],
);

/** Sets whose standing is no longer what is kept; written with what alters it. */
export const standingMark = pgTable('standing_mark', { setId: bigint({ mode: 'number' }).notNull(), inTransaction: inTransaction() });

/** Marks that were taken into account, for an hour: processes that keep columns of enrolments read what they have not yet read (progress/columns). */
export const standingSettled = pgTable(
  'standing_settled',
  { setId: bigint({ mode: 'number' }).notNull(), inTransaction: inTransaction(), at: moment().notNull().defaultNow() },
  (t) => [index('standing_settled_transaction').on(t.inTransaction), index('standing_settled_at').on(t.at)],
);

export const activityResult = pgTable(
  'activity_result',
  {
    enrolmentId: ref(() => enrolment.id).notNull(),
    activityId: ref(() => activity.id).notNull(),
    finished: boolean().notNull(),
    score: doublePrecision(),
    tries: integer().notNull().default(1),
    lastAt: moment().notNull(),
    /** What was known before its reports were kept one by one (core: TriesResult); null: nothing. */
    before: jsonb(),
  },
  (t) => [
    primaryKey({ columns: [t.enrolmentId, t.activityId] }),
    index('activity_result_scored_at')
      .on(t.lastAt)
      .where(sql`${t.score} is not null`),
    check('activity_result_score', sql`${t.score} between 0 and 100`),
  ],
);

/** What a screen of progress showed, kept under a name. */
export const keptView = pgTable(
  'kept_view',
  {
    id: id(),
    ownerId: ref(() => person.id).notNull(),
    groupId: ref(() => groups.id).notNull(),
    name: text().notNull(),
    shown: jsonb().notNull(),
    /** For the leaders of the branch too; each sees their own branch in it. */
    forLeaders: boolean().notNull(),
    /** Its figures as they stood on that day; null: it shows how things stand. */
    frozen: jsonb(),
    frozenDay: day(),
    madeAt: moment().notNull().defaultNow(),
  },
  (t) => [uniqueIndex('kept_view_name').on(t.ownerId, t.name), index('kept_view_group').on(t.groupId)],
);

/** With which kept view somebody begins after signing in. */
export const startView = pgTable(
  'start_view',
  {
    personId: ref(() => person.id).primaryKey(),
    viewId: bigint({ mode: 'number' })
      .notNull()
      .references(() => keptView.id, { onDelete: 'cascade' }),
  },
  (t) => [index('start_view_of').on(t.viewId)],
);

/** A kept view that goes out by letter to chosen leaders. */
export const reportLetter = pgTable(
  'report_letter',
  {
    id: id(),
    viewId: bigint({ mode: 'number' })
      .notNull()
      .unique()
      .references(() => keptView.id, { onDelete: 'cascade' }),
    every: text({ enum: ['week', 'month'] }).notNull(),
    nextDay: day().notNull(),
    /** When it was last asked for, and when a reader last opened it from a letter. */
    askedAt: moment().notNull().defaultNow(),
    openedAt: moment(),
    /** Nobody opened it for three months. */
    stoppedAt: moment(),
  },
  (t) => [check('report_letter_every', sql`${t.every} in ('week', 'month')`)],
);

export const reportLetterReader = pgTable(
  'report_letter_reader',
  {
    letterId: bigint({ mode: 'number' })
      .notNull()
      .references(() => reportLetter.id, { onDelete: 'cascade' }),
    personId: ref(() => person.id).notNull(),
  },
  (t) => [primaryKey({ columns: [t.letterId, t.personId] }), index('report_letter_reader_person').on(t.personId)],
);

/** A link to one view, for people without an account. */
export const sharedView = pgTable(
  'shared_view',
  {
    id: id(),
    hash: text().notNull().unique(),
    madeBy: ref(() => person.id).notNull(),
    groupId: ref(() => groups.id).notNull(),
    title: text().notNull(),
    shown: jsonb().notNull(),
    says: jsonb().notNull(),
    withNames: boolean().notNull(),
    /** The table as it was on that day; null: it is worked out whenever it is opened. */
    frozen: jsonb(),
    frozenDay: day(),
    lastDay: day().notNull(),
    madeAt: moment().notNull().defaultNow(),
    withdrawnAt: moment(),
    opened: integer().notNull().default(0),
    openedAt: moment(),
  },
  (t) => [
    index('shared_view_made_by').on(t.madeBy),
    index('shared_view_group').on(t.groupId),
    check('shared_view_frozen', sql`${t.frozen} is null or not ${t.withNames}`),
  ],
);

/** A file of results that an administrator brought in. */
export const resultFile = pgTable(
  'result_file',
  {
    id: id(),
    name: text().notNull(),
    byId: ref(() => person.id).notNull(),
    at: moment().notNull().defaultNow(),
    /** Lines that counted. */
    rows: integer().notNull(),
    takenBackAt: moment(),
  },
  (t) => [index('result_file_by').on(t.byId)],
);

/**
 * Each statement of a source's, so that the same one counts once and a voided one no more: what is read of it when it counts. Work that
 * was handed in by a source, and a statement that takes another back, have no activity here.
 */
export const report = pgTable(
  'report',
  {
    id: uuid().notNull(),
    sourceId: ref(() => source.id).notNull(),
    receivedAt: moment().notNull().defaultNow(),
    /** A keyed hash of what was said, to tell the same from another under the same id; null: it was not kept then. */
    digest: text(),
    personId: ref(() => person.id),
    enrolmentId: ref(() => enrolment.id),
    activityId: ref(() => activity.id),
    finished: boolean(),
    score: doublePrecision(),
    at: moment(),
    /** Why it is kept and does not count: the unit was not open then, or its verb says nothing of progress. */
    notCounted: text({ enum: ['not open', 'other verb'] }),
    /** The file that brought it. */
    resultFileId: ref(() => resultFile.id),
  },
  (t) => [
    primaryKey({ columns: [t.sourceId, t.id] }),
    index('report_of_result').on(t.enrolmentId, t.activityId),
    index('report_of_person').on(t.personId),
    index('report_of_source').on(t.sourceId, t.receivedAt),
    index('report_of_file')
      .on(t.resultFileId)
      .where(sql`${t.resultFileId} is not null`),
    check('report_not_counted', sql`${t.notCounted} in ('not open', 'other verb')`),
    check('report_counts_for', sql`${t.notCounted} is null or ${t.enrolmentId} is null`),
  ],
);

/** What a statement said, but for what is personal in it. Partitioned by month of receipt (migration 0042, standards/statement-months.ts). */
export const statement = pgTable(
  'statement',
  {
    sourceId: ref(() => source.id).notNull(),
    id: uuid().notNull(),
    receivedAt: moment().notNull(),
    personId: ref(() => person.id),
    said: jsonb().notNull(),
  },
  (t) => [primaryKey({ columns: [t.sourceId, t.id, t.receivedAt] }), index('statement_of_person').on(t.personId)],
);

/** Actor, free texts and whatever else of a statement may name somebody; erasing the person empties it. */
export const statementPersonal = pgTable(
  'statement_personal',
  {
    sourceId: ref(() => source.id).notNull(),
    id: uuid().notNull(),
    personId: ref(() => person.id).notNull(),
    said: jsonb().notNull(),
  },
  (t) => [primaryKey({ columns: [t.sourceId, t.id] }), index('statement_personal_of_person').on(t.personId)],
);

/** Reports that their source took back; a void may come before what it voids. */
export const reportVoid = pgTable(
  'report_void',
  {
    reportId: uuid().notNull(),
    sourceId: ref(() => source.id).notNull(),
    receivedAt: moment().notNull().defaultNow(),
  },
  (t) => [primaryKey({ columns: [t.sourceId, t.reportId] })],
);

/** One opening of a course in an outside player: what its token is bound to. */
export const launch = pgTable(
  'launch',
  {
    id: uuid().primaryKey(),
    personId: ref(() => person.id).notNull(),
    courseId: ref(() => course.id).notNull(),
    endsAt: moment().notNull(),
  },
  (t) => [index('launch_of_person').on(t.personId)],
);
