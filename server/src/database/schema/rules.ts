import { sql } from 'drizzle-orm';
import { bigint, boolean, check, index, jsonb, pgTable, primaryKey, smallint, text, unique, uniqueIndex } from 'drizzle-orm/pg-core';
import { changeLog } from './changes.ts';
import { history, id, moment, ref, stands } from './columns.ts';
import { groups } from './groups.ts';
import { person } from './people.ts';

/** Which automatic rule it is; what it says stands in its versions. */
export const rule = pgTable('rule', {
  id: id(),
  /** It has no powers to act with, or something that it names is gone; it says so and waits. */
  pausedFor: text({ enum: ['powers', 'gone'] }),
});

export const ruleVersion = pgTable(
  'rule_version',
  {
    rowId: id(),
    ruleId: ref(() => rule.id).notNull(),
    groupId: ref(() => groups.id).notNull(),
    name: text().notNull(),
    /** What sets it off, which filter counts, and what it does; as core says (rules/rule.ts, filters/filter.ts). */
    setOff: jsonb().notNull(),
    filter: jsonb().notNull(),
    acts: jsonb().notNull(),
    /** It acts only when a leader says so. */
    asksFirst: boolean().notNull().default(false),
    isOn: boolean().notNull(),
    /** What happened before that sets nothing off; null: it is off. */
    onSince: moment(),
    madeBy: ref(() => person.id).notNull(),
    /** The branch in whose name its maker spoke; null: an administrator. */
    makerBranchId: ref(() => groups.id),
    ...history,
  },
  (t) => [
    uniqueIndex('rule_version_standing').on(t.ruleId).where(stands(t)),
    index('rule_version_group').on(t.groupId).where(stands(t)),
    index('rule_version_made_by').on(t.madeBy),
    index('rule_version_maker_branch').on(t.makerBranchId),
    check('rule_version_on_since', sql`${t.isOn} = (${t.onSince} is not null)`),
    check('rule_version_in_order', sql`${t.untilAt} >= ${t.fromAt}`),
  ],
);

/** For a person and an occasion a rule acts once, or does not and says why. */
export const ruleAct = pgTable(
  'rule_act',
  {
    id: id(),
    ruleId: ref(() => rule.id).notNull(),
    personId: ref(() => person.id).notNull(),
    /** What tells one occasion from another of the same kind. */
    occasion: text().notNull(),
    at: moment().notNull().defaultNow(),
    outcome: text({ enum: ['acted', 'before', 'nothing to do', 'chain', 'undo', 'asked', 'left alone'] }).notNull(),
    changeId: ref(() => changeLog.id),
  },
  (t) => [
    unique('rule_act_once').on(t.ruleId, t.personId, t.occasion),
    index('rule_act_person').on(t.personId, t.at),
    index('rule_act_change').on(t.changeId),
    check('rule_act_outcome', sql`${t.outcome} in ('acted', 'before', 'nothing to do', 'chain', 'undo', 'asked', 'left alone')`),
    index('rule_act_asked')
      .on(t.ruleId)
      .where(sql`outcome = 'asked'`),
  ],
);

/** People for whom a course that a rule waits for is open, since when. Gone when it closes, so that it can open anew. */
export const ruleHold = pgTable(
  'rule_hold',
  {
    ruleId: ref(() => rule.id).notNull(),
    personId: ref(() => person.id).notNull(),
    since: moment().notNull().defaultNow(),
  },
  (t) => [primaryKey({ columns: [t.ruleId, t.personId] }), index('rule_hold_person').on(t.personId)],
);

/** What a rule did followed from this change: undoing the one offers to undo the other. */
export const ruleCause = pgTable(
  'rule_cause',
  {
    changeId: ref(() => changeLog.id).notNull(),
    causeId: ref(() => changeLog.id).notNull(),
  },
  (t) => [primaryKey({ columns: [t.changeId, t.causeId] }), index('rule_cause_cause').on(t.causeId)],
);

/** Something happened to a person, to a group’s people, or (neither) may have to everybody: rules are asked, and the row is gone. */
export const ruleEvent = pgTable(
  'rule_event',
  {
    id: id(),
    personId: bigint({ mode: 'number' }),
    groupId: bigint({ mode: 'number' }),
    what: text({ enum: ['people', 'access', 'progress', 'day'] }).notNull(),
    /** How many acts of rules it follows from. */
    depth: smallint().notNull().default(0),
    /** An undo: it sets nothing off. */
    isQuiet: boolean().notNull().default(false),
    madeAt: moment().notNull().defaultNow(),
    /** The change that made it happen; null: none did. */
    changeId: bigint({ mode: 'number' }),
  },
  (t) => [check('rule_event_what', sql`${t.what} in ('people', 'access', 'progress', 'day')`)],
);
