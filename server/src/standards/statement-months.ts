import { sql } from 'drizzle-orm';
import type { Database } from '../database/connect.ts';

/** The months that are known to be there, by database: tests have many in one process. */
const known = new Set<string>();

/** Statements lie in a partition for each month of receipt (UTC); the one of a moment is made when the first statement comes. */
export async function ensureStatementMonth(db: Database, now: Date): Promise<void> {
  const month = now.toISOString().slice(0, 7);
  const key = `${db.$client.options.connectionString ?? ''}/${month}`;
  if (known.has(key)) return;
  const next = new Date(Date.UTC(now.getUTCFullYear(), now.getUTCMonth() + 1, 1)).toISOString().slice(0, 7);
  const name = `statement_${month.replace('-', '_')}`;
  // Several processes may meet a new month at once: who makes it second would fail where it was just made.
  await db.transaction(async (tx) => {
    await tx.execute(sql`select pg_advisory_xact_lock(hashtext('statement months'))`);
    await tx.execute(
      sql.raw(
        `create table if not exists ${name} partition of statement for values from ('${month}-01T00:00:00Z') to ('${next}-01T00:00:00Z')`,
      ),
    );
  });
  known.add(key);
}
