import { sql } from 'drizzle-orm';
import { bigint, boolean, check, index, integer, pgTable, text, uniqueIndex } from 'drizzle-orm/pg-core';
import { day, daysInOrder, history, id, idList, moment, ref, span, stands } from './columns.ts';
import { course, courseSet } from './courses.ts';
import { groups } from './groups.ts';
import { person } from './people.ts';

export const grant = pgTable(
  'access_grant',
  {
    rowId: id(),
    groupId: ref(() => groups.id),
    personId: ref(() => person.id),
    withSubgroups: boolean().notNull().default(true),
    courseId: ref(() => course.id),
    courseSetId: ref(() => courseSet.id),
    effect: text({ enum: ['open', 'block'] }).notNull(),
    firm: boolean().notNull().default(false),
    ...span,
    units: idList(),
    dueDay: day(),
    dueDays: integer(),
    dueLeastDays: integer(),
    dueFirm: boolean().notNull().default(false),
    licences: idList(),
    otherLicences: boolean().notNull().default(true),
    note: text(),
    makerBranchId: ref(() => groups.id),
    /** It answers a learner who asked for a course that is open on request. */
    byRequest: boolean().notNull().default(false),
    madeBy: ref(() => person.id),
    /** When it was first made: an undo that brings it back, or a change of some of it, leaves this as it was. */
    madeAt: moment().notNull().defaultNow(),
    ...history,
  },
  (t) => [
    index('access_grant_of_person').on(t.personId),
    index('access_grant_made_by').on(t.madeBy),
    index('access_grant_group').on(t.groupId).where(stands(t)),
    index('access_grant_person')
      .on(t.personId)
      .where(sql`${t.untilAt} is null and ${t.personId} is not null`),
    index('access_grant_course').on(t.courseId).where(stands(t)),
    check('access_grant_for_one', sql`num_nonnulls(${t.groupId}, ${t.personId}) = 1`),
    check('access_grant_about_one', sql`num_nonnulls(${t.courseId}, ${t.courseSetId}) = 1`),
    check('access_grant_effect', sql`${t.effect} in ('open', 'block')`),
    check('access_grant_units_of_course', sql`${t.units} is null or ${t.courseId} is not null`),
    check('access_grant_firm_blocks', sql`not ${t.firm} or ${t.effect} = 'block'`),
    check('access_grant_due_opens', sql`${t.effect} = 'open' or num_nonnulls(${t.dueDay}, ${t.dueDays}, ${t.dueLeastDays}) = 0`),
    check('access_grant_one_due', sql`num_nonnulls(${t.dueDay}, ${t.dueDays}) <= 1`),
    daysInOrder('access_grant_days', t),
  ],
);

/** What holds for one person in one course, whatever their groups say: more time, exempt, or done elsewhere. */
export const courseException = pgTable(
  'course_exception',
  {
    rowId: id(),
    personId: ref(() => person.id).notNull(),
    courseId: ref(() => course.id).notNull(),
    kind: text({ enum: ['more time', 'exempt', 'done elsewhere'] }).notNull(),
    /** More time: due not before it. Done elsewhere: when. */
    day: day(),
    reason: text(),
    /** Where that can be seen: an address on the web. */
    proof: text(),
    makerBranchId: ref(() => groups.id),
    madeBy: ref(() => person.id),
    madeAt: moment().notNull().defaultNow(),
    ...history,
  },
  (t) => [
    uniqueIndex('course_exception_standing').on(t.personId, t.courseId, t.kind).where(stands(t)),
    index('course_exception_person').on(t.personId),
    index('course_exception_course').on(t.courseId),
    index('course_exception_made_by').on(t.madeBy),
    check('course_exception_kind', sql`${t.kind} in ('more time', 'exempt', 'done elsewhere')`),
    check('course_exception_day', sql`(${t.kind} = 'exempt') = (${t.day} is null)`),
    check('course_exception_in_order', sql`${t.untilAt} >= ${t.fromAt}`),
  ],
);

/** A window in which a course is open to a membership set, or to a person with windows of their own. Derived. */
export const entitlement = pgTable(
  'entitlement',
  {
    id: id(),
    /** Set and course refer without a key: looking up both for each of thousands of windows took a third of writing them, under the lock. */
    setId: bigint({ mode: 'number' }),
    personId: ref(() => person.id),
    courseId: bigint({ mode: 'number' }).notNull(),
    ...span,
    units: idList().notNull(),
    /** Groups of the set by whose path it is open. */
    viaGroups: idList().notNull(),
    /** The grants that opened it. */
    byGrants: idList().notNull(),
    /** When due for everybody alike; see entitlement_due where it depends on when one could begin. */
    dueDay: day(),
    dueIsOwn: boolean().notNull().default(false),
    /** Every way to it has to be paid for, by these licences or (others) by any that covers course and path. */
    needsSeat: boolean().notNull().default(false),
    payers: idList()
      .notNull()
      .default(sql`'{}'`),
    otherPayers: boolean().notNull().default(false),
  },
  (t) => [
    index('entitlement_set').on(t.setId, t.courseId),
    index('entitlement_person')
      .on(t.personId, t.courseId)
      .where(sql`${t.personId} is not null`),
    index('entitlement_course').on(t.courseId),
    check('entitlement_for_one', sql`num_nonnulls(${t.setId}, ${t.personId}) = 1`),
  ],
);

/** One open path of a window whose due day depends on the person. Derived. */
export const entitlementDue = pgTable(
  'entitlement_due',
  {
    id: id(),
    entitlementId: bigint({ mode: 'number' })
      .notNull()
      .references(() => entitlement.id, { onDelete: 'cascade' }),
    groupId: ref(() => groups.id),
    /** The grant that opened the path; worked out, hence no reference. */
    grantId: bigint({ mode: 'number' }),
    /** The grant's own first day, or the day it was made; not before the course came into the set it names. */
    grantDay: day(),
    dueDay: day(),
    dueDays: integer(),
    leastDays: integer(),
    firm: boolean().notNull(),
    /** More time was given: not before this day. */
    notBefore: day(),
  },
  (t) => [index('entitlement_due_window').on(t.entitlementId)],
);

/** A learner asks for a course that is open on request. A decision begins another row. */
export const courseRequest = pgTable(
  'course_request',
  {
    rowId: id(),
    personId: ref(() => person.id).notNull(),
    courseId: ref(() => course.id).notNull(),
    state: text({ enum: ['asking', 'opened', 'turned away'] }).notNull(),
    askedAt: moment().notNull().defaultNow(),
    /** What the learner said. A personal value: emptied when the person is erased. */
    asking: text(),
    /** What was answered. Personal likewise. */
    word: text(),
    decidedBy: ref(() => person.id),
    ...history,
  },
  (t) => [
    uniqueIndex('course_request_standing').on(t.personId, t.courseId).where(stands(t)),
    index('course_request_person').on(t.personId),
    index('course_request_course').on(t.courseId),
    index('course_request_decided_by').on(t.decidedBy),
    index('course_request_waiting')
      .on(t.askedAt)
      .where(sql`${t.untilAt} is null and ${t.state} = 'asking'`),
    check('course_request_state', sql`${t.state} in ('asking', 'opened', 'turned away')`),
    check('course_request_in_order', sql`${t.untilAt} >= ${t.fromAt}`),
  ],
);
