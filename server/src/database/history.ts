import type { Day } from '@gate-roster/core';
import { sql, type SQL } from 'drizzle-orm';

/** Which rows of a table with a history are read, by the alias that the statement gives it. */
export type Standing = (alias: string) => SQL;

/** Those that stand. */
export const standsNow: Standing = (alias) => sql`${sql.identifier(alias)}.until_at is null`;

/** Those that stood when a day ended, in the platform's time zone. */
export const stoodAtEndOf = (day: Day, timeZone: string): Standing => {
  const moment = sql`((${day}::date + 1)::timestamp at time zone ${timeZone})`;
  return (alias) => sql`(${sql.identifier(alias)}.from_at < ${moment} and coalesce(${sql.identifier(alias)}.until_at >= ${moment}, true))`;
};

/** Those that stood at a moment. */
export const stoodAt =
  (moment: Date): Standing =>
  (alias) =>
    sql`(${sql.identifier(alias)}.from_at <= ${moment.toISOString()} and coalesce(${sql.identifier(alias)}.until_at > ${moment.toISOString()}, true))`;
