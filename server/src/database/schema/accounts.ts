import { sql } from 'drizzle-orm';
import { bigint, index, integer, jsonb, pgTable, text, timestamp, uniqueIndex } from 'drizzle-orm/pg-core';
import { citext, history, id, moment, ref, span, stands } from './columns.ts';
import { groups } from './groups.ts';
import { person } from './people.ts';

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

/** A sign-in that works once, until it ends. Only the hash of its token is kept. */
export const oneTimeLink = pgTable(
  'one_time_link',
  {
    hash: text().primaryKey(),
    personId: ref(() => person.id).notNull(),
    endsAt: moment().notNull(),
    usedAt: moment(),
  },
  (t) => [index('one_time_link_person').on(t.personId)],
);

/** An address asked into a group, as a learner or (with powers) as a leader. Whether it has an account shows only when it is followed. */
export const invitation = pgTable(
  'invitation',
  {
    rowId: id(),
    groupId: ref(() => groups.id).notNull(),
    email: citext().notNull(),
    givenName: text().notNull(),
    familyName: text().notNull(),
    powers: text().array(),
    ...span,
    hash: text().notNull(),
    endsAt: moment().notNull(),
    acceptedAt: moment(),
    ...history,
  },
  (t) => [
    uniqueIndex('invitation_hash').on(t.hash),
    uniqueIndex('invitation_standing').on(t.groupId, t.email).where(stands(t)),
    index('invitation_email').on(t.email),
  ],
);

/** Letters on their way; the simulated post office shows them. */
export const letter = pgTable(
  'letter',
  {
    id: id(),
    personId: ref(() => person.id),
    address: citext().notNull(),
    subject: text().notNull(),
    body: text().notNull(),
    madeAt: moment().notNull().defaultNow(),
  },
  (t) => [index('letter_person').on(t.personId)],
);
