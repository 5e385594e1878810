import { sql } from 'drizzle-orm';
import { bigint, boolean, check, index, integer, pgTable, primaryKey, smallint, text, uniqueIndex } from 'drizzle-orm/pg-core';
import { daysInOrder, history, id, moment, ref, span, stands } from './columns.ts';

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
