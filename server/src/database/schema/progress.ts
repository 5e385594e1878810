import { sql } from 'drizzle-orm';
import {
  boolean,
  check,
  doublePrecision,
  index,
  integer,
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
    doneElsewhere: boolean().notNull().default(false),
    elsewhereReason: text(),
    seatId: ref(() => seat.id),
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
    index('enrolment_course').on(t.courseId),
    check('enrolment_status', sql`${t.status} in ('not begun', 'under way', 'done')`),
    check('enrolment_done_has_day', sql`(${t.status} = 'done') = (${t.doneDay} is not null)`),
    check('enrolment_score', sql`${t.score} between 0 and 100`),
  ],
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
  },
  (t) => [primaryKey({ columns: [t.enrolmentId, t.activityId] }), check('activity_result_score', sql`${t.score} between 0 and 100`)],
);

/** Reports that came in, so that the same one counts once. */
export const report = pgTable('report', {
  id: uuid().primaryKey(),
  sourceId: ref(() => source.id).notNull(),
  receivedAt: moment().notNull().defaultNow(),
});

/** One opening of a course in an outside player: what its token is bound to. */
export const launch = pgTable('launch', {
  id: uuid().primaryKey(),
  personId: ref(() => person.id).notNull(),
  courseId: ref(() => course.id).notNull(),
  endsAt: moment().notNull(),
});
