import { type AnyColumn, type SQL, sql } from 'drizzle-orm';
import {
  bigint,
  boolean,
  check,
  customType,
  date,
  doublePrecision,
  index,
  integer,
  jsonb,
  pgTable,
  primaryKey,
  smallint,
  text,
  timestamp,
  unique,
  uniqueIndex,
  uuid,
} from 'drizzle-orm/pg-core';

/*
 * The truth, and beside it what is derived from it in the same transaction: group_branch, membership_set,
 * membership_set_group, set_in_branch, entitlement, entitlement_due, person.set_id, person.counted and
 * person.own_windows. `npm run rebuild` makes the derived part anew; a test compares the two.
 *
 * Rows with from_at and until_at are never overwritten: a change ends one and begins another (until_at null: it stands).
 */

const citext = customType<{ data: string }>({ dataType: () => 'citext' });
const id = () => bigint({ mode: 'number' }).primaryKey().generatedAlwaysAsIdentity();
const ref = (to: () => AnyColumn) => bigint({ mode: 'number' }).references(to as never);
const moment = () => timestamp({ withTimezone: true });
const day = () => date({ mode: 'string' });
const idList = () => bigint({ mode: 'number' }).array();
const history = { fromAt: moment().notNull().defaultNow(), untilAt: moment() };
const span = { firstDay: day(), lastDay: day() };
const stands = (table: { untilAt: AnyColumn }): SQL => sql`${table.untilAt} is null`;
const daysInOrder = (name: string, table: { firstDay: AnyColumn; lastDay: AnyColumn }) =>
  check(name, sql`${table.firstDay} <= ${table.lastDay}`);

export const organisation = pgTable(
  'organisation',
  {
    id: smallint().primaryKey().default(1),
    name: text().notNull(),
    timeZone: text().notNull(),
    createdAt: moment().notNull().defaultNow(),
  },
  (t) => [check('organisation_only_one', sql`${t.id} = 1`)],
);

// groups

export const groups = pgTable(
  'groups',
  {
    id: id(),
    idNumber: text(),
    idIssuer: bigint({ mode: 'number' }),
    description: text(),
    signInPrefix: text(),
    youngLearners: boolean().notNull().default(false),
    createdAt: moment().notNull().defaultNow(),
  },
  (t) => [
    uniqueIndex('groups_id_number')
      .on(t.idIssuer, t.idNumber)
      .where(sql`${t.idNumber} is not null`),
  ],
);

export const groupVersion = pgTable(
  'group_version',
  {
    rowId: id(),
    groupId: ref(() => groups.id).notNull(),
    parentId: ref(() => groups.id),
    name: text().notNull(),
    nameKey: text().notNull(),
    state: text({ enum: ['active', 'archived'] })
      .notNull()
      .default('active'),
    ...span,
    ...history,
  },
  (t) => [
    uniqueIndex('group_version_standing').on(t.groupId).where(stands(t)),
    uniqueIndex('group_version_sibling_name')
      .on(t.parentId, t.nameKey)
      .where(sql`${t.untilAt} is null and ${t.parentId} is not null`),
    uniqueIndex('group_version_one_root')
      .on(sql`(${t.parentId} is null)`)
      .where(sql`${t.untilAt} is null and ${t.parentId} is null`),
    index('group_version_group').on(t.groupId),
    daysInOrder('group_version_days', t),
    check('group_version_state', sql`${t.state} in ('active', 'archived')`),
    check('group_version_no_self', sql`${t.parentId} <> ${t.groupId}`),
  ],
);

/** Closure: every group with itself and all above it. Derived. */
export const groupBranch = pgTable(
  'group_branch',
  {
    ancestorId: ref(() => groups.id).notNull(),
    groupId: ref(() => groups.id).notNull(),
    depth: integer().notNull(),
  },
  (t) => [primaryKey({ columns: [t.ancestorId, t.groupId] }), index('group_branch_group').on(t.groupId)],
);

// people

/** All who are in exactly these groups today. Derived. */
export const membershipSet = pgTable('membership_set', {
  id: id(),
  key: text().notNull().unique(),
  /** Counted people in it; and those of them for whom the set's windows speak. */
  counted: integer().notNull().default(0),
  countedAlike: integer().notNull().default(0),
});

export const membershipSetGroup = pgTable(
  'membership_set_group',
  {
    setId: ref(() => membershipSet.id).notNull(),
    groupId: ref(() => groups.id).notNull(),
  },
  (t) => [primaryKey({ columns: [t.setId, t.groupId] }), index('membership_set_group_group').on(t.groupId)],
);

export const setInBranch = pgTable(
  'set_in_branch',
  {
    ancestorId: ref(() => groups.id).notNull(),
    setId: ref(() => membershipSet.id).notNull(),
  },
  (t) => [primaryKey({ columns: [t.ancestorId, t.setId] }), index('set_in_branch_set').on(t.setId)],
);

export const person = pgTable(
  'person',
  {
    id: id(),
    role: text({ enum: ['administrator', 'none'] })
      .notNull()
      .default('none'),
    /** Derived: the set of the groups they are in today. */
    setId: ref(() => membershipSet.id).notNull(),
    /** Derived: active today, and in a group today. */
    counted: boolean().notNull().default(false),
    /** Derived: has days or grants of their own, so that the set's windows do not speak for them. */
    ownWindows: boolean().notNull().default(false),
    signedInAt: moment(),
    activeAt: moment(),
    createdAt: moment().notNull().defaultNow(),
  },
  (t) => [index('person_set').on(t.setId), check('person_role', sql`${t.role} in ('administrator', 'none')`)],
);

/** The one place that holds personal values. */
export const personal = pgTable(
  'personal',
  {
    rowId: id(),
    personId: ref(() => person.id).notNull(),
    givenName: text().notNull(),
    familyName: text().notNull(),
    email: citext(),
    signInName: citext(),
    idNumber: text(),
    idIssuer: ref(() => groups.id),
    nameHidden: boolean().notNull().default(false),
    ...history,
  },
  (t) => [
    uniqueIndex('personal_standing').on(t.personId).where(stands(t)),
    uniqueIndex('personal_email')
      .on(t.email)
      .where(sql`${t.untilAt} is null and ${t.email} is not null`),
    uniqueIndex('personal_sign_in_name')
      .on(t.signInName)
      .where(sql`${t.untilAt} is null and ${t.signInName} is not null`),
    uniqueIndex('personal_id_number')
      .on(t.idIssuer, t.idNumber)
      .where(sql`${t.untilAt} is null and ${t.idNumber} is not null`),
    index('personal_person').on(t.personId),
    check('personal_id_number_issued', sql`(${t.idNumber} is null) = (${t.idIssuer} is null)`),
  ],
);

export const personState = pgTable(
  'person_state',
  {
    rowId: id(),
    personId: ref(() => person.id).notNull(),
    state: text({ enum: ['asking', 'active', 'paused', 'ended'] }).notNull(),
    ...span,
    ...history,
  },
  (t) => [
    uniqueIndex('person_state_standing').on(t.personId).where(stands(t)),
    daysInOrder('person_state_days', t),
    check('person_state_state', sql`${t.state} in ('asking', 'active', 'paused', 'ended')`),
  ],
);

export const credential = pgTable('credential', {
  personId: ref(() => person.id).primaryKey(),
  passwordHash: text().notNull(),
  changedAt: moment().notNull().defaultNow(),
});

export const membership = pgTable(
  'membership',
  {
    rowId: id(),
    personId: ref(() => person.id).notNull(),
    groupId: ref(() => groups.id).notNull(),
    ...span,
    cameBy: text({ enum: ['file', 'hand', 'join code', 'invitation', 'rule', 'feed', 'undo'] }).notNull(),
    ...history,
  },
  (t) => [
    uniqueIndex('membership_standing').on(t.personId, t.groupId).where(stands(t)),
    index('membership_group').on(t.groupId).where(stands(t)),
    index('membership_person').on(t.personId),
    daysInOrder('membership_days', t),
  ],
);

export const leadership = pgTable(
  'leadership',
  {
    rowId: id(),
    personId: ref(() => person.id).notNull(),
    groupId: ref(() => groups.id).notNull(),
    powers: text().array().notNull(),
    ...span,
    ...history,
  },
  (t) => [
    uniqueIndex('leadership_standing').on(t.personId, t.groupId).where(stands(t)),
    index('leadership_group').on(t.groupId),
    daysInOrder('leadership_days', t),
  ],
);

export const tag = pgTable(
  'tag',
  {
    id: id(),
    name: text().notNull(),
    nameKey: text().notNull(),
    branchId: ref(() => groups.id).notNull(),
    colour: text(),
  },
  (t) => [unique('tag_name').on(t.branchId, t.nameKey)],
);

export const personTag = pgTable(
  'person_tag',
  {
    rowId: id(),
    personId: ref(() => person.id).notNull(),
    tagId: ref(() => tag.id).notNull(),
    ...history,
  },
  (t) => [uniqueIndex('person_tag_standing').on(t.personId, t.tagId).where(stands(t)), index('person_tag_tag').on(t.tagId)],
);

export const groupTag = pgTable(
  'group_tag',
  {
    rowId: id(),
    groupId: ref(() => groups.id).notNull(),
    tagId: ref(() => tag.id).notNull(),
    ...history,
  },
  (t) => [uniqueIndex('group_tag_standing').on(t.groupId, t.tagId).where(stands(t))],
);

// courses

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

// access

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
    madeBy: ref(() => person.id),
    ...history,
  },
  (t) => [
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

/** A window in which a course is open to a membership set, or to a person with windows of their own. Derived. */
export const entitlement = pgTable(
  'entitlement',
  {
    id: id(),
    setId: ref(() => membershipSet.id),
    personId: ref(() => person.id),
    courseId: ref(() => course.id).notNull(),
    ...span,
    units: idList().notNull(),
    /** Groups of the set by whose path it is open. */
    viaGroups: idList().notNull(),
    /** The grants that opened it. */
    byGrants: idList().notNull(),
    /** When due for everybody alike; see entitlement_due where it depends on when one could begin. */
    dueDay: day(),
    dueIsOwn: boolean().notNull().default(false),
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
    /** The grant's own first day, or the day it was made. */
    grantDay: day(),
    dueDay: day(),
    dueDays: integer(),
    leastDays: integer(),
    firm: boolean().notNull(),
  },
  (t) => [index('entitlement_due_window').on(t.entitlementId)],
);

// seats

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
  (t) => [uniqueIndex('seat_standing').on(t.licenceId, t.personId).where(stands(t)), index('seat_group').on(t.groupId).where(stands(t))],
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
    uniqueIndex('seat_line_standing').on(t.personId, t.courseId).where(stands(t)),
    uniqueIndex('seat_line_place').on(t.courseId, t.place).where(stands(t)),
  ],
);

// progress

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

// accounts

export const session = pgTable(
  'session',
  {
    sid: text().primaryKey(),
    sess: jsonb().notNull(),
    expire: timestamp({ precision: 6 }).notNull(),
  },
  (t) => [index('session_expire').on(t.expire), index('session_person').on(sql`((${t.sess} ->> 'personId'))`)],
);

/** What all processes of this site share and nobody else knows. */
export const siteSecret = pgTable('site_secret', { name: text().primaryKey(), value: text().notNull() });

export const rateLimit = pgTable('rate_limit', {
  key: text().primaryKey(),
  points: integer().notNull().default(0),
  expire: bigint({ mode: 'number' }),
});

// changes

export const changeLog = pgTable(
  'change_log',
  {
    id: id(),
    requestId: uuid().notNull().unique(),
    kind: text().notNull(),
    actorId: ref(() => person.id),
    madeAt: moment().notNull().defaultNow(),
    /** Numbers and ids, never a personal value. */
    summary: jsonb().notNull(),
    undoOf: bigint({ mode: 'number' }),
    undoneBy: bigint({ mode: 'number' }),
  },
  (t) => [index('change_log_actor').on(t.actorId)],
);

/** The groups a change touched, for showing each leader their own part of the log. */
export const changeGroup = pgTable(
  'change_group',
  {
    changeId: ref(() => changeLog.id).notNull(),
    groupId: ref(() => groups.id).notNull(),
  },
  (t) => [primaryKey({ columns: [t.changeId, t.groupId] }), index('change_group_group').on(t.groupId)],
);

/** One touched subject: the row that ended and the row that began, in the table that `kind` names. */
export const changeSubject = pgTable(
  'change_subject',
  {
    id: id(),
    changeId: ref(() => changeLog.id).notNull(),
    kind: text({ enum: ['group', 'personal', 'person', 'membership', 'person tag', 'grant'] }).notNull(),
    personId: bigint({ mode: 'number' }),
    groupId: bigint({ mode: 'number' }),
    beforeRow: bigint({ mode: 'number' }),
    afterRow: bigint({ mode: 'number' }),
  },
  (t) => [
    index('change_subject_change').on(t.changeId),
    index('change_subject_person').on(t.personId),
    check('change_subject_some', sql`num_nonnulls(${t.beforeRow}, ${t.afterRow}) > 0`),
  ],
);

export const dayTurn = pgTable('day_turn', { day: day().primaryKey(), doneAt: moment().notNull().defaultNow() });
