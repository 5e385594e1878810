import type { Power } from '@gate-roster/core';
import { sql } from 'drizzle-orm';
import { bigint, boolean, check, index, integer, jsonb, pgTable, text, timestamp, uniqueIndex } from 'drizzle-orm/pg-core';
import { citext, history, id, idList, moment, ref, span, stands } from './columns.ts';
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
    /** A link of a letter or a screen; a card that works once; a lasting card, which signs in until it is replaced. */
    kind: text({ enum: ['link', 'card', 'lasting'] })
      .notNull()
      .default('link'),
    /** A lasting card opens what this group's branch opens, nothing else. */
    groupId: ref(() => groups.id),
    /** It went out by letter: whoever follows it shows the address to be their own. */
    byLetter: boolean().notNull().default(false),
    /** The address it went to: it signs in only while that is the account's. */
    address: citext(),
    /** Hash of a short word that does the same together with the sign-in name, for who has no camera. */
    wordHash: text(),
    madeBy: ref(() => person.id),
    madeAt: moment().notNull().defaultNow(),
  },
  (t) => [
    index('one_time_link_made_by').on(t.madeBy),
    index('one_time_link_person').on(t.personId),
    index('one_time_link_word').on(t.wordHash),
    check('one_time_link_kind', sql`${t.kind} in ('link', 'card', 'lasting')`),
    check('one_time_link_lasting_group', sql`(${t.kind} = 'lasting') = (${t.groupId} is not null)`),
  ],
);

/** A secret address under which a calendar asks for what is coming up. Only its hash is kept. */
export const calendarFeed = pgTable('calendar_feed', {
  personId: bigint({ mode: 'number' })
    .primaryKey()
    .references(() => person.id),
  hash: text().notNull().unique(),
  madeAt: moment().notNull().defaultNow(),
  readAt: moment(),
});

/** A link in a letter by which somebody confirms that an account is theirs, says that it is not, or joins it with their own. */
export const addressLink = pgTable(
  'address_link',
  {
    hash: text().primaryKey(),
    personId: ref(() => person.id).notNull(),
    address: citext().notNull(),
    madeAt: moment().notNull().defaultNow(),
    endsAt: moment().notNull(),
    usedAt: moment(),
  },
  (t) => [index('address_link_person').on(t.personId)],
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
    powers: text().array().$type<Power[]>(),
    ...span,
    /** Further groups that the same invitation opens. */
    alsoGroups: idList()
      .notNull()
      .default(sql`'{}'`),
    /** What the inviter wrote. */
    words: text(),
    hash: text().notNull(),
    endsAt: moment().notNull(),
    openedAt: moment(),
    acceptedAt: moment(),
    ...history,
  },
  (t) => [
    // Undo brings a row back beside the one that ended, with the link that was sent.
    uniqueIndex('invitation_hash').on(t.hash).where(stands(t)),
    uniqueIndex('invitation_standing').on(t.groupId, t.email).where(stands(t)),
    index('invitation_email').on(t.email),
  ],
);
