import { sql } from 'drizzle-orm';
import { bigint, boolean, check, index, integer, pgTable, pgView, primaryKey, smallint, text, uniqueIndex } from 'drizzle-orm/pg-core';
import { bytes, day, daysInOrder, history, id, moment, numbered, ref, span, stands } from './columns.ts';

export const organisation = pgTable(
  'organisation',
  {
    id: smallint().primaryKey().default(1),
    name: text().notNull(),
    timeZone: text().notNull(),
    /** An open enrolment is due soon from so many days before its due day on. */
    dueSoonDays: smallint().notNull().default(7),
    /** A change can be undone for so many days. */
    undoDays: smallint().notNull().default(180),
    /** Markers are written to about work that has waited for so many days; 0: never. */
    markReminderDays: smallint().notNull().default(3),
    /** No letter about messages leaves from this hour on until that one, unless it is urgent; the same hour twice: at any time. */
    quietFrom: smallint().notNull().default(0),
    quietUntil: smallint().notNull().default(0),
    createdAt: moment().notNull().defaultNow(),
  },
  (t) => [check('organisation_only_one', sql`${t.id} = 1`)],
);

export const groups = pgTable('groups', {
  id: id(),
  createdAt: moment().notNull().defaultNow(),
});

/** Pictures and small files, kept where everything else is. */
export const upload = pgTable('upload', {
  id: id(),
  fileName: text().notNull(),
  mimeType: text().notNull(),
  content: bytes().notNull(),
  madeBy: bigint({ mode: 'number' }).notNull(),
  madeAt: moment().notNull().defaultNow(),
});

const groupVersionColumns = {
  rowId: id(),
  groupId: ref(() => groups.id).notNull(),
  parentId: ref(() => groups.id),
  name: text().notNull(),
  nameKey: text().notNull(),
  state: text({ enum: ['active', 'archived'] })
    .notNull()
    .default('active'),
  idNumber: text(),
  idIssuer: ref(() => groups.id),
  description: text(),
  colour: text(),
  pictureId: ref(() => upload.id),
  /** A person; personal values refer to groups, so this has no foreign key here. */
  contactId: bigint({ mode: 'number' }),
  signInPrefix: text(),
  youngLearners: boolean().notNull().default(false),
  ...span,
  ...history,
};

export const groupVersion = pgTable('group_version', groupVersionColumns, (t) => [
  uniqueIndex('group_version_id_number')
    .on(t.idIssuer, t.idNumber)
    .where(sql`${t.untilAt} is null and ${t.idNumber} is not null`),
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
]);
export const groupNow = pgView('group_now', { id: numbered(), ...groupVersionColumns }).existing();

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

/** On which days a group lay below which others, from `fromDay` up to, not including, `untilDay`. Derived from the history of the tree. */
export const branchDay = pgTable(
  'branch_day',
  {
    ancestorId: ref(() => groups.id).notNull(),
    groupId: ref(() => groups.id).notNull(),
    fromDay: day(),
    untilDay: day(),
  },
  (t) => [index('branch_day_group').on(t.groupId, t.ancestorId)],
);

/** A link or a small file for the people of a group. */
export const handout = pgTable(
  'handout',
  {
    rowId: id(),
    groupId: ref(() => groups.id).notNull(),
    title: text().notNull(),
    url: text(),
    uploadId: ref(() => upload.id),
    ...history,
  },
  (t) => [index('handout_group').on(t.groupId).where(stands(t)), check('handout_one', sql`num_nonnulls(${t.url}, ${t.uploadId}) = 1`)],
);
