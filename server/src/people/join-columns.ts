import { sql, type SQL } from 'drizzle-orm';
import { ids, rows, type Transaction } from '../database/connect.ts';
import { type PersonColumn, personColumns } from './columns-of-people.ts';

interface Line extends PersonColumn {
  place: string;
  table: SQL;
  who: SQL;
}
const lines: readonly Line[] = Object.entries(personColumns).map(([place, line]) => {
  const [table = '', column = ''] = place.split('.');
  return { place, table: sql`${sql.identifier(table)}`, who: sql`${sql.identifier(column)}`, ...line };
});

export interface Joining {
  personId: number;
  goneId: number;
  /** What acts with its maker's powers moves only where these do. */
  withPowers: boolean;
}

/** Rows that only say of which account they are, or who made them, when that account joins another. Those that move are noted for undo. */
export async function joinColumns(tx: Transaction, changeId: number, { personId, goneId, withPowers }: Joining): Promise<void> {
  const keys = await keysOfTables(tx);
  for (const { place, table, who, joins, once, named, inCode } of lines) {
    if (inCode?.includes('joins') || (joins === 'moves with powers' && !withPowers)) continue;
    if (joins === 'deleted') await tx.execute(sql`delete from ${table} where ${who} = ${goneId}`);
    if (joins !== 'moves' && joins !== 'moves with powers') continue;
    const has = (columns: readonly string[]): SQL => {
      const same = columns.map((each) => sql` and k.${sql.identifier(each)} is not distinct from o.${sql.identifier(each)}`);
      return sql`exists (select 1 from ${table} k where k.${who} = ${personId}${sql.join(same)})`;
    };
    if (once) await tx.execute(sql`delete from ${table} o where o.${who} = ${goneId} and ${has(once)}`);
    for (const each of named ?? [])
      await tx.execute(
        sql`update ${table} o set ${sql.identifier(each)} = o.${sql.identifier(each)} || ' (' || o.id || ')' where o.${who} = ${goneId} and ${has([each])}`,
      );
    const key = (keys.get(place.split('.')[0] ?? '') ?? once ?? []).map((each) => sql`${each}::text, o.${sql.identifier(each)}`);
    await tx.execute(sql`
      with moved as (update ${table} o set ${who} = ${personId} where o.${who} = ${goneId} returning jsonb_build_object(${sql.join(key, sql`, `)}) as key)
      insert into joined_row (change_id, person_id, gone_id, place, key) select ${changeId}, ${personId}, ${goneId}, ${place}, key from moved`);
  }
}

/** The columns of each table's primary key. */
async function keysOfTables(tx: Transaction): Promise<Map<string, string[]>> {
  const found = await rows<{ name: string; columns: string[] }>(
    tx,
    sql`
    select t.relname as name, array_agg(a.attname::text order by a.attnum) as columns from pg_index i join pg_class t on t.oid = i.indrelid
    join pg_attribute a on a.attrelid = t.oid and a.attnum = any(i.indkey) where i.indisprimary and t.relnamespace = 'public'::regnamespace group by 1`,
  );
  return new Map(found.map(({ name, columns }) => [name, columns]));
}

/** Gives back what moved when accounts were joined by one of these changes, as far as it still is where it came to. */
export async function partColumns(tx: Transaction, changeIds: readonly number[]): Promise<void> {
  const joined = await rows<{ place: string; personId: number; goneId: number; keys: Record<string, unknown>[] }>(
    tx,
    sql`
    select place, person_id as "personId", gone_id as "goneId", jsonb_agg(key) as keys from joined_row where change_id = any(${ids(changeIds)}) group by 1, 2, 3`,
  );
  for (const { place, personId, goneId, keys } of joined) {
    const line = lines.find((each) => each.place === place);
    if (!line) continue;
    const { table, who } = line;
    const same = Object.keys(keys[0] ?? {}).map((each) => sql`o.${sql.identifier(each)} is not distinct from k.${sql.identifier(each)}`);
    await tx.execute(sql`
      update ${table} o set ${who} = ${goneId} from jsonb_populate_recordset(null::${table}, ${JSON.stringify(keys)}::jsonb) k
      where o.${who} = ${personId} and ${sql.join(same, sql` and `)}`);
  }
}

/** Rows of somebody who is erased that go, or name nobody any more. */
export async function eraseColumns(tx: Transaction, personId: number): Promise<void> {
  for (const { table, who, erased, inCode } of lines) {
    if (inCode?.includes('erased')) continue;
    if (erased === 'deleted') await tx.execute(sql`delete from ${table} where ${who} = ${personId}`);
    if (erased === 'unnamed') await tx.execute(sql`update ${table} set ${who} = null where ${who} = ${personId}`);
  }
}

/** Nobody of these (`p`) left anything that says that the account was used. */
export const leftNothing = sql.join(
  lines
    .filter(({ unused }) => unused === 'keeps it')
    .map(({ table, who }) => sql`not exists (select 1 from ${table} o where o.${who} = p.id)`),
  sql` and `,
);

/** Everything that is of accounts which nobody used. */
export async function deleteColumns(tx: Transaction, people: readonly number[]): Promise<void> {
  for (const { table, who, unused } of lines)
    if (unused === 'deleted') await tx.execute(sql`delete from ${table} where ${who} = any(${ids(people)})`);
}
