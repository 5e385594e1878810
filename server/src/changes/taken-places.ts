import { sql, type SQL } from 'drizzle-orm';
import { ids, type Queryable, rows } from '../database/connect.ts';
import { keptRows, type RowKind } from './kept-rows.ts';

/** What must be unique among standing rows of a table: columns or expressions of them, and which rows it speaks of. */
interface Unique {
  keys: string[];
  condition: string;
}

/** The schema does not change while a process runs. */
const uniqueOf = new Map<string, Unique[]>();

async function uniquesOf(db: Queryable, table: string): Promise<Unique[]> {
  const known = uniqueOf.get(table);
  if (known) return known;
  const read = await rows<Unique>(
    db,
    sql`
    select pg_get_expr(i.indpred, i.indrelid) as condition,
      (select array_agg(pg_get_indexdef(i.indexrelid, k, true) order by k) from generate_series(1, i.indnkeyatts) k) as keys
    from pg_index i where i.indrelid = ${`public.${table}`}::regclass and i.indisunique and pg_get_expr(i.indpred, i.indrelid) like '%until_at IS NULL%' order by i.indexrelid`,
  );
  uniqueOf.set(table, read);
  return read;
}

/**
 * Of ended rows, those that cannot begin again: their place, name or address has a row that stands today. What is unique is read from
 * the table's own indexes, so that no kind of row can be forgotten.
 * @param own Rows that stand, and end before any of these begin.
 */
export async function takenPlaces(db: Queryable, kind: RowKind, ended: readonly number[], own: readonly number[]): Promise<Set<number>> {
  if (ended.length === 0) return new Set();
  const { table } = keptRows[kind];
  const inTheWay = (await uniquesOf(db, table)).map(({ keys, condition }): SQL => {
    const columns = sql.raw(keys.map((key, place) => `(${key}) as key_${place}`).join(', '));
    const same = sql.raw(keys.map((_, place) => `n.key_${place} = e.key_${place}`).join(' and '));
    return sql`
      select e.row_id from (select row_id, ${columns} from ${sql.identifier(table)} where row_id = any(${ids(ended)})) e
      join (select ${columns} from ${sql.identifier(table)} where ${sql.raw(condition)} and row_id <> all(${ids(own)})) n on ${same}`;
  });
  if (inTheWay.length === 0) return new Set();
  const found = await rows<{ row_id: number }>(db, sql.join(inTheWay, sql` union `));
  return new Set(found.map(({ row_id }) => row_id));
}
