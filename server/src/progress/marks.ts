import { sql, type SQL } from 'drizzle-orm';
import { oneRow, type Queryable } from '../database/connect.ts';

/*
 * Whatever alters an enrolment marks its membership set in the same transaction (`standing_mark`); marks that were taken into account
 * are left in `standing_settled` for a day. So it can be told which sets were altered since a moment.
 */

/** Transactions with lower numbers have ended, as this connection or transaction sees it. */
export const horizonOf = async (db: Queryable): Promise<number> =>
  (await oneRow<{ horizon: number }>(db, sql`select pg_snapshot_xmin(pg_current_snapshot())::text::bigint as horizon`)).horizon;

/** `set_id` of the sets that were altered by transactions which had not ended then; of a day at most. */
export const markedSince = (horizon: number): SQL => sql`
  select set_id from standing_mark where in_transaction >= ${horizon} union select set_id from standing_settled where in_transaction >= ${horizon}`;
