import { sql } from 'drizzle-orm';
import { bigint, check, index, jsonb, pgTable, smallint, text, uniqueIndex } from 'drizzle-orm/pg-core';
import { history, id, moment, ref, stands } from './columns.ts';
import { course } from './courses.ts';
import { groups } from './groups.ts';
import { person } from './people.ts';
import { licence } from './seats.ts';

/** Which split it is; what it says stands in its versions. */
export const split = pgTable('split', { id: id() });

export const splitVersion = pgTable(
  'split_version',
  {
    rowId: id(),
    splitId: ref(() => split.id).notNull(),
    groupId: ref(() => groups.id).notNull(),
    name: text().notNull(),
    /** Its parts as contract says (splits.changes.ts, `splitPart`), without their people. */
    parts: jsonb().notNull(),
    /** It runs from then until then; null: it does not. */
    runsFrom: moment(),
    runsUntil: moment(),
    madeBy: ref(() => person.id).notNull(),
    /** The branch in whose name its leader spoke; null: an administrator. */
    makerBranchId: ref(() => groups.id),
    ...history,
  },
  (t) => [
    uniqueIndex('split_version_standing').on(t.splitId).where(stands(t)),
    index('split_version_group').on(t.groupId).where(stands(t)),
    index('split_version_split').on(t.splitId, t.untilAt),
    index('split_version_made_by').on(t.madeBy),
    index('split_version_maker_branch').on(t.makerBranchId),
    check('split_version_runs', sql`num_nulls(${t.runsFrom}, ${t.runsUntil}) in (0, 2) and coalesce(${t.runsFrom} < ${t.runsUntil}, true)`),
    check('split_version_in_order', sql`${t.untilAt} >= ${t.fromAt}`),
  ],
);

/** Somebody in a part of a split. */
export const splitMember = pgTable(
  'split_member',
  {
    rowId: id(),
    splitId: ref(() => split.id).notNull(),
    /** The key of the part. */
    part: smallint().notNull(),
    personId: ref(() => person.id).notNull(),
    ...history,
  },
  (t) => [
    uniqueIndex('split_member_standing').on(t.splitId, t.personId).where(stands(t)),
    index('split_member_person').on(t.personId),
    check('split_member_in_order', sql`${t.untilAt} >= ${t.fromAt}`),
  ],
);

/** Somebody without a seat began to work on what a split opened, and the licences that could pay allow it. It stands in the ledger. */
export const splitUse = pgTable(
  'split_use',
  {
    id: id(),
    splitId: ref(() => split.id).notNull(),
    licenceId: ref(() => licence.id).notNull(),
    courseId: ref(() => course.id).notNull(),
    /** As in the ledger: the number stays when the group is gone or the person erased. */
    groupId: bigint({ mode: 'number' }).notNull(),
    personId: ref(() => person.id).notNull(),
    at: moment().notNull().defaultNow(),
  },
  (t) => [index('split_use_group').on(t.groupId), index('split_use_person').on(t.personId)],
);
