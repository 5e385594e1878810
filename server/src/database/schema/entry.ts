import type { Power, RosterField } from '@gate-roster/core';
import { sql } from 'drizzle-orm';
import { boolean, check, index, integer, jsonb, pgTable, primaryKey, text, uniqueIndex, uuid, bigint } from 'drizzle-orm/pg-core';
import { bytes, citext, history, id, idList, moment, ref, stands } from './columns.ts';
import { groups } from './groups.ts';
import { person } from './people.ts';

/** A code that lets people in. What it says now stands in its version; how often it was used is counted here, exactly. */
export const joinCode = pgTable('join_code', {
  id: id(),
  madeAt: moment().notNull().defaultNow(),
  uses: integer().notNull().default(0),
});

export const joinCodeVersion = pgTable(
  'join_code_version',
  {
    rowId: id(),
    codeId: ref(() => joinCode.id).notNull(),
    /** The first of its groups: in whose branch the code stands. */
    groupId: ref(() => groups.id).notNull(),
    /** Every group it opens, that one too. */
    groupIds: idList().notNull(),
    code: text().notNull(),
    codeKey: text().notNull(),
    isChosen: boolean().notNull().default(false),
    /** Who made it, or took it over. */
    madeBy: ref(() => person.id),
    /** A few words by which its makers tell it from others. */
    note: text(),
    tags: text().array().notNull(),
    /** A code for leaders: the powers it gives in its groups. */
    powers: text().array().$type<Power[]>(),
    firstAt: moment(),
    lastAt: moment(),
    useLimit: integer(),
    emailEnding: text(),
    needsDecision: boolean().notNull().default(false),
    /** What coming in costs without tax, in minor units of the site's currency; null: nothing. */
    price: integer(),
    paused: boolean().notNull().default(false),
    /** What it asks at registration (core: JoinAsks). */
    asks: jsonb().notNull(),
    ...history,
  },
  (t) => [
    index('join_code_version_made_by').on(t.madeBy),
    uniqueIndex('join_code_version_standing').on(t.codeId).where(stands(t)),
    uniqueIndex('join_code_version_key').on(t.codeKey).where(stands(t)),
    index('join_code_version_group').on(t.groupId).where(stands(t)),
    check('join_code_version_price', sql`${t.price} is null or (${t.price} > 0 and not ${t.needsDecision} and ${t.powers} is null)`),
    check('join_code_version_limit', sql`${t.useLimit} > 0`),
    check('join_code_version_moments', sql`${t.firstAt} <= ${t.lastAt}`),
    check('join_code_version_chosen', sql`not ${t.isChosen} or (${t.useLimit} is not null and ${t.lastAt} is not null)`),
    check('join_code_version_groups', sql`${t.groupId} = ${t.groupIds}[1]`),
  ],
);

/** Who came in, or asked to, by which code. */
export const joinCodeUse = pgTable(
  'join_code_use',
  {
    codeId: ref(() => joinCode.id).notNull(),
    personId: ref(() => person.id).notNull(),
    at: moment().notNull().defaultNow(),
    /** What was answered to the code's questions, with the questions as they then were. Personal values: emptied when the person is erased. */
    answers: jsonb().$type<{ label: string; answer: string }[]>().notNull().default([]),
  },
  (t) => [primaryKey({ columns: [t.codeId, t.personId] }), index('join_code_use_person').on(t.personId)],
);

/**
 * Somebody who comes in by a code that has a price. Until they have paid they are in no group; one use of the code, and the seats that
 * they will need, are held for them for a while.
 */
export const paidEntry = pgTable(
  'paid_entry',
  {
    id: uuid().primaryKey(),
    codeId: ref(() => joinCode.id).notNull(),
    personId: ref(() => person.id).notNull(),
    /** The groups that they come into. */
    groupIds: idList().notNull(),
    /** The account was made by this, and works only once it is paid. */
    isNew: boolean().notNull(),
    /** What they gave at registration. Personal values: emptied when the person is erased. */
    answers: jsonb().$type<{ label: string; answer: string }[]>().notNull(),
    idNumber: text(),
    /** As it was shown to them: in minor units, the rate in hundredths of a percent. */
    price: integer().notNull(),
    vatRate: integer().notNull(),
    currency: text().notNull(),
    net: bigint({ mode: 'number' }).notNull(),
    vat: bigint({ mode: 'number' }).notNull(),
    state: text({ enum: ['paying', 'paid', 'given up'] }).notNull(),
    askedAt: moment().notNull(),
    /** Until then a use of the code is held; null: none is. */
    heldUntil: moment(),
  },
  (t) => [
    index('paid_entry_person').on(t.personId),
    index('paid_entry_code').on(t.codeId),
    uniqueIndex('paid_entry_paying')
      .on(t.personId, t.codeId)
      .where(sql`${t.state} = 'paying'`),
    index('paid_entry_held')
      .on(t.heldUntil)
      .where(sql`${t.heldUntil} is not null`),
    check('paid_entry_state', sql`${t.state} in ('paying', 'paid', 'given up')`),
  ],
);

/** Somebody who asks to come into a group; a code for several groups makes a row for each. A decision begins another row. */
export const joinRequest = pgTable(
  'join_request',
  {
    rowId: id(),
    personId: ref(() => person.id).notNull(),
    codeId: ref(() => joinCode.id).notNull(),
    groupId: ref(() => groups.id).notNull(),
    /** Personal values: emptied when the person is erased. */
    answers: jsonb().notNull(),
    state: text({ enum: ['asking', 'let in', 'turned away'] }).notNull(),
    askedAt: moment().notNull().defaultNow(),
    word: text(),
    decidedBy: ref(() => person.id),
    ...history,
  },
  (t) => [
    index('join_request_of_person').on(t.personId),
    index('join_request_decided_by').on(t.decidedBy),
    uniqueIndex('join_request_standing').on(t.personId, t.groupId).where(stands(t)),
    index('join_request_group')
      .on(t.groupId)
      .where(sql`${t.untilAt} is null and ${t.state} = 'asking'`),
    check('join_request_state', sql`${t.state} in ('asking', 'let in', 'turned away')`),
  ],
);

/** An address that somebody has to show to be theirs before a code lets them in. */
export const confirmLink = pgTable('confirm_link', {
  hash: text().primaryKey(),
  codeId: ref(() => joinCode.id).notNull(),
  email: citext().notNull(),
  endsAt: moment().notNull(),
  usedAt: moment(),
});

/** How somebody's files read, by name; recognised by the names of their columns. */
export const keptMapping = pgTable(
  'kept_mapping',
  {
    id: id(),
    ownerId: ref(() => person.id).notNull(),
    name: text().notNull(),
    nameKey: text().notNull(),
    headersKey: text().notNull(),
    columns: jsonb().notNull(),
    dateOrder: text(),
    usedAt: moment().notNull().defaultNow(),
  },
  (t) => [uniqueIndex('kept_mapping_name').on(t.ownerId, t.nameKey), index('kept_mapping_headers').on(t.ownerId, t.headersKey)],
);

/** What somebody meant by a text in a column that holds nothing personal; proposed for the next file. */
export const keptMend = pgTable(
  'kept_mend',
  {
    ownerId: ref(() => person.id).notNull(),
    field: text().$type<RosterField>().notNull(),
    wasKey: text().notNull(),
    becomes: text().notNull(),
    usedAt: moment().notNull().defaultNow(),
  },
  (t) => [primaryKey({ columns: [t.ownerId, t.field, t.wasKey] })],
);

/** Rows of a large file on their way in, in parts; deleted after seven days. */
export const rosterFile = pgTable(
  'roster_file',
  {
    id: uuid().primaryKey(),
    madeBy: ref(() => person.id).notNull(),
    madeAt: moment().notNull().defaultNow(),
  },
  (t) => [index('roster_file_made_by').on(t.madeBy)],
);

export const rosterPart = pgTable(
  'roster_part',
  {
    fileId: uuid()
      .notNull()
      .references(() => rosterFile.id, { onDelete: 'cascade' }),
    part: integer().notNull(),
    rows: jsonb().notNull(),
  },
  (t) => [primaryKey({ columns: [t.fileId, t.part] })],
);

/** Work that goes on without a browser. It holds ids and numbers, no personal values. */
export const job = pgTable(
  'job',
  {
    id: uuid().primaryKey(),
    kind: text().notNull(),
    given: jsonb().notNull(),
    madeBy: ref(() => person.id),
    madeAt: moment().notNull().defaultNow(),
    startsAt: moment().notNull().defaultNow(),
    state: text({ enum: ['waiting', 'done', 'failed', 'stopped'] })
      .notNull()
      .default('waiting'),
    done: integer().notNull().default(0),
    ofAll: integer(),
    outcome: jsonb(),
    tries: integer().notNull().default(0),
    endedAt: moment(),
  },
  (t) => [
    index('job_waiting')
      .on(t.startsAt)
      .where(sql`${t.state} = 'waiting'`),
  ],
);

/** What a job made to be taken away. */
export const madeFile = pgTable('made_file', {
  jobId: uuid()
    .primaryKey()
    .references(() => job.id, { onDelete: 'cascade' }),
  fileName: text().notNull(),
  mimeType: text().notNull(),
  content: bytes().notNull(),
  madeAt: moment().notNull().defaultNow(),
});

/** A sign-in that failed, under a short number which the person can read out to whoever helps them. */
export const signInTrouble = pgTable(
  'sign_in_trouble',
  {
    number: text().primaryKey(),
    /** null: no account has this name. */
    personId: bigint({ mode: 'number' }),
    at: moment().notNull().defaultNow(),
    endsAt: moment().notNull(),
  },
  (t) => [index('sign_in_trouble_person').on(t.personId)],
);
