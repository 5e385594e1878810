import { sql } from 'drizzle-orm';
import { bigint, index, integer, jsonb, pgTable, text, timestamp } from 'drizzle-orm/pg-core';
import {} from './columns.ts';

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
