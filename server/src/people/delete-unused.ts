import { sql } from 'drizzle-orm';
import { ids, isAmong, rows, type Transaction } from '../database/connect.ts';
import * as tables from '../database/schema.ts';
import { deleteColumns, leftNothing } from './join-columns.ts';

/** Deletes accounts that were ended before anybody used them. Run after the derived tables are up to date. */
export async function deleteUnused(tx: Transaction, people: readonly number[]): Promise<void> {
  if (people.length === 0) return;
  const unused = await rows<{ id: number }>(
    tx,
    sql`
    select p.id from person p join person_state s on s.person_id = p.id and s.until_at is null and s.state = 'ended'
    where p.id = any(${ids(people)}) and p.signed_in_at is null and p.role = 'none'
      and not exists (select 1 from leadership l where l.person_id = p.id and l.until_at is null) and not exists (select 1 from membership m where m.person_id = p.id and m.until_at is null)
      and not exists (select 1 from seat t where t.person_id = p.id and t.until_at is null) and ${leftNothing}`,
  );
  const gone = unused.map(({ id }) => id);
  await deleteColumns(tx, gone);
  await tx.delete(tables.person).where(isAmong(tables.person.id, gone));
}
