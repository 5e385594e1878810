import { sql, type AnyColumn, type SQL } from 'drizzle-orm';
import { bigint, check, customType, date, timestamp } from 'drizzle-orm/pg-core';

/* Columns that many tables share. */

export const citext = customType<{ data: string }>({ dataType: () => 'citext' });
export const bytes = customType<{ data: Buffer }>({ dataType: () => 'bytea' });
export const id = () => bigint({ mode: 'number' }).primaryKey().generatedAlwaysAsIdentity();
export const ref = (to: () => AnyColumn) => bigint({ mode: 'number' }).references(to as never);
export const moment = () => timestamp({ withTimezone: true });
export const day = () => date({ mode: 'string' });
export const idList = () => bigint({ mode: 'number' }).array();
/** What a view of rows that stand calls the number of what they are about. Migrations make the views. */
export const numbered = () => bigint({ mode: 'number' }).notNull();
export const history = { fromAt: moment().notNull().defaultNow(), untilAt: moment() };
export const span = { firstDay: day(), lastDay: day() };
export const stands = (table: { untilAt: AnyColumn }): SQL => sql`${table.untilAt} is null`;
export const daysInOrder = (name: string, table: { firstDay: AnyColumn; lastDay: AnyColumn }) =>
  check(name, sql`${table.firstDay} <= ${table.lastDay}`);
