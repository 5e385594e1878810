import { boolean, pgTable, text } from 'drizzle-orm/pg-core';
import { day, id, moment } from './columns.ts';

/**
 * Past days that somebody has looked at: each lies in a schema of its own, `past_day_` and this id, with what follows from the rows that
 * stood when it ended (progress/past-day.ts). Can be dropped at any time and is then made again.
 */
export const pastDay = pgTable('past_day', {
  id: id(),
  day: day().notNull().unique(),
  /** Of which version of the tables; with another one it is made again. */
  madeFor: text().notNull(),
  madeAt: moment().notNull().defaultNow(),
  usedAt: moment().notNull().defaultNow(),
  isWhole: boolean().notNull().default(false),
});
