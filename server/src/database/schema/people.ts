import type { Power } from '@gate-roster/core';
import { sql } from 'drizzle-orm';
import { bigint, boolean, check, index, integer, pgTable, pgView, primaryKey, text, uniqueIndex, uuid } from 'drizzle-orm/pg-core';
import { citext, day, daysInOrder, history, id, moment, numbered, ref, span, stands } from './columns.ts';
import { groups } from './groups.ts';

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
    /** When they last looked at progress as a leader, and when that was the time before. */
    lookedAt: moment(),
    lookedBefore: moment(),
    /** Emptied for good: only the number is left. */
    erasedAt: moment(),
    createdAt: moment().notNull().defaultNow(),
    /** When letters about messages go: the first of a day at once, all of a day in the morning, or none but urgent ones. */
    letters: text({ enum: ['at once', 'once a day', 'never'] })
      .notNull()
      .default('at once'),
    /** The last day on which such a letter went. */
    digestDay: day(),
    /** Stands in the address by which these letters are stopped without signing in. */
    stopKey: uuid().notNull().defaultRandom(),
  },
  (t) => [
    index('person_set').on(t.setId),
    index('person_not_counted')
      .on(t.id)
      .where(sql`not ${t.counted}`),
    check('person_role', sql`${t.role} in ('administrator', 'none')`),
    check('person_letters', sql`${t.letters} in ('at once', 'once a day', 'never')`),
    uniqueIndex('person_stop_key').on(t.stopKey),
  ],
);

const personalColumns = {
  rowId: id(),
  personId: ref(() => person.id).notNull(),
  givenName: text().notNull(),
  familyName: text().notNull(),
  /** As it was given; any number of accounts may carry the same one. It identifies nobody until it is confirmed. */
  email: citext(),
  signInName: citext(),
  idNumber: text(),
  idIssuer: ref(() => groups.id),
  nameHidden: boolean().notNull().default(false),
  /** Where letters about a young learner may go. */
  guardianEmail: citext(),
  /** The same address once it is confirmed: shown to be theirs by a letter to it, or vouched for by an administrator. */
  confirmedEmail: citext(),
  /** The last address did not work: its owner said it is not theirs, letters came back, or an administrator took it off. */
  addressFailed: boolean().notNull().default(false),
  ...history,
};

/** The one place that holds personal values. */
export const personal = pgTable('personal', personalColumns, (t) => [
  uniqueIndex('personal_standing').on(t.personId).where(stands(t)),
  index('personal_email')
    .on(t.email)
    .where(sql`${t.untilAt} is null and ${t.email} is not null`),
  uniqueIndex('personal_confirmed_email')
    .on(t.confirmedEmail)
    .where(sql`${t.untilAt} is null and ${t.confirmedEmail} is not null`),
  check('personal_confirmed_is_email', sql`${t.confirmedEmail} = ${t.email}`),
  check('personal_sign_in_name_no_address', sql`${t.signInName} not like '%@%'`),
  uniqueIndex('personal_sign_in_name')
    .on(t.signInName)
    .where(sql`${t.untilAt} is null and ${t.signInName} is not null`),
  uniqueIndex('personal_id_number')
    .on(t.idIssuer, t.idNumber)
    .where(sql`${t.untilAt} is null and ${t.idNumber} is not null`),
  index('personal_person').on(t.personId),
  check('personal_id_number_issued', sql`(${t.idNumber} is null) = (${t.idIssuer} is null)`),
]);
export const personalNow = pgView('personal_now', personalColumns).existing();

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
    index('person_state_of_person').on(t.personId),
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
    /** By which code; codes refer to groups and people, so this has no foreign key here. */
    joinCodeId: bigint({ mode: 'number' }),
    ...history,
  },
  (t) => [
    uniqueIndex('membership_standing').on(t.personId, t.groupId).where(stands(t)),
    index('membership_group').on(t.groupId).where(stands(t)),
    index('membership_with_days')
      .on(t.groupId)
      .where(sql`${stands(t)} and (${t.firstDay} is not null or ${t.lastDay} is not null)`),
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
    powers: text().array().$type<Power[]>().notNull(),
    ...span,
    ...history,
  },
  (t) => [
    index('leadership_of_person').on(t.personId),
    uniqueIndex('leadership_standing').on(t.personId, t.groupId).where(stands(t)),
    index('leadership_group').on(t.groupId),
    daysInOrder('leadership_days', t),
  ],
);

export const tag = pgTable('tag', {
  id: id(),
  branchId: ref(() => groups.id).notNull(),
});

const tagValues = {
  rowId: id(),
  branchId: ref(() => groups.id).notNull(),
  name: text().notNull(),
  nameKey: text().notNull(),
  colour: text(),
};

export const tagVersion = pgTable('tag_version', { ...tagValues, tagId: ref(() => tag.id).notNull(), ...history }, (t) => [
  uniqueIndex('tag_version_standing').on(t.tagId).where(stands(t)),
  uniqueIndex('tag_version_name').on(t.branchId, t.nameKey).where(stands(t)),
]);
export const tagNow = pgView('tag_now', { id: numbered(), ...tagValues }).existing();

export const personTag = pgTable(
  'person_tag',
  {
    rowId: id(),
    personId: ref(() => person.id).notNull(),
    tagId: ref(() => tag.id).notNull(),
    ...history,
  },
  (t) => [
    index('person_tag_of_person').on(t.personId),
    uniqueIndex('person_tag_standing').on(t.personId, t.tagId).where(stands(t)),
    index('person_tag_tag').on(t.tagId),
  ],
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

/** Somebody's own named set of people; nobody else sees it. */
export const personalList = pgTable(
  'personal_list',
  {
    id: id(),
    ownerId: ref(() => person.id).notNull(),
    name: text().notNull(),
    nameKey: text().notNull(),
    createdAt: moment().notNull().defaultNow(),
  },
  (t) => [uniqueIndex('personal_list_name').on(t.ownerId, t.nameKey)],
);

export const personalListPerson = pgTable(
  'personal_list_person',
  {
    listId: bigint({ mode: 'number' })
      .notNull()
      .references(() => personalList.id, { onDelete: 'cascade' }),
    personId: ref(() => person.id).notNull(),
  },
  (t) => [primaryKey({ columns: [t.listId, t.personId] }), index('personal_list_person_person').on(t.personId)],
);
