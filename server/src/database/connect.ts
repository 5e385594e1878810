import { createHash } from 'node:crypto';
import { type AnyColumn, sql, type SQL } from 'drizzle-orm';
import { drizzle, type NodePgDatabase } from 'drizzle-orm/node-postgres';
import { migrate as runMigrations } from 'drizzle-orm/node-postgres/migrator';
import pg from 'pg';

// Ids and counts fit a double: 2^53 is far away. Arrays of them too.
pg.types.setTypeParser(pg.types.builtins.INT8, Number);
pg.types.setTypeParser(1016 as number, (text: string) => text.slice(1, -1).split(',').filter(Boolean).map(Number));

export type Database = NodePgDatabase & { $client: pg.Pool };
export type Transaction = Parameters<Parameters<Database['transaction']>[0]>[0];
export type Queryable = Database | Transaction;

/** Reports sort and hash hundreds of thousands of rows; at PostgreSQL's own 4 MB they go to disk. */
const sortMegabytes = 32;
// Compiling the report's statement took 3 of 7 s at 100,000 people, and ran no faster.
// What waits for a lock or runs away ends by itself; changes and jobs set limits of their own.
const limits = '-c lock_timeout=15s -c statement_timeout=120s -c idle_in_transaction_session_timeout=300s';
const settings = `-c work_mem=${sortMegabytes}MB -c jit=off ${limits}`;
const mostConnections = 20;

/** @param schema One that stands before ours on the search path. */
export function connect(
  url: string,
  { schema: before, most = mostConnections }: { schema?: string; most?: number } = {},
): { pool: pg.Pool; db: Database } {
  const pool = new pg.Pool({
    connectionString: url,
    max: most,
    connectionTimeoutMillis: 15_000,
    keepAlive: true,
    options: before === undefined ? settings : `${settings} -c search_path=${before},public`,
  });
  // A connection that breaks (the database stopped), idle or between two statements of a transaction, is replaced at the next
  // query; without a listener it ends the process.
  pool.on('error', () => undefined);
  pool.on('connect', (client) => client.on('error', () => undefined));
  const db = drizzle({ client: pool, casing: 'snake_case' });
  // Drizzle's own does not give back a connection whose `begin` failed: after some breaks of the database none would be left.
  db.transaction = (work, config) => withConnection(pool, (client) => drizzleOver(client).transaction(work, config));
  return { pool, db };
}

/** On one connection of the pool, which goes back whatever happens; one that broke, or that `work` drops, is replaced. */
export async function withConnection<T>(pool: pg.Pool, work: (client: pg.PoolClient, drop: () => void) => Promise<T>): Promise<T> {
  const client = await pool.connect();
  let isDropped = false;
  const drop = (): void => {
    isDropped = true;
  };
  try {
    return await work(client, drop);
  } finally {
    client.release(isDropped);
  }
}

/** Without the schema, which only Drizzle's relational queries need: reading it takes 5 ms each time. */
export const drizzleOver = (client: pg.PoolClient): NodePgDatabase => drizzle({ client, casing: 'snake_case' });

const migrationLock = 7_401_001;

/** Brings the database to this version; several processes may start at once. */
export async function migrate(url: string, folder: string): Promise<void> {
  const client = new pg.Client({ connectionString: url });
  await client.connect();
  try {
    await client.query('select pg_advisory_lock($1)', [migrationLock]);
    await runMigrations(drizzle({ client }), { migrationsFolder: folder });
  } finally {
    await client.end();
  }
}

export interface How {
  /**
   * For what every page asks of one person and takes longer to plan than to answer. `kept`: each connection keeps its plan where it
   * reckons that to be cheaper. `one for all`: it keeps one that suits whatever is given, also where it reckons otherwise.
   * Not for statements of many shapes: each stays with the connection.
   */
  plan?: 'kept' | 'one for all';
}

const few = 20;

/** A statement about few people or sets takes longer to plan than to run, and one plan suits them all; about many each has its own. */
export const planFor = (count: number): How => (count <= few ? { plan: 'one for all' } : {});

/** Rows of a statement that is written out. The caller names their shape. */
export async function rows<T extends object>(db: Queryable, statement: SQL, { plan }: How = {}): Promise<T[]> {
  const result = await (plan === undefined
    ? db.execute(statement)
    : plan === 'kept'
      ? named(db, statement).execute()
      : '$client' in db
        ? db.transaction((tx) => executeByOnePlan(tx, statement))
        : executeByOnePlan(db, statement));
  return result.rows as T[];
}

/** A statement with a name of its own, which Drizzle offers for its query builder alone. */
function named(db: Queryable, statement: SQL): { execute: () => Promise<{ rows: unknown[] }> } {
  const { dialect, session } = db as unknown as {
    dialect: { sqlToQuery: (statement: SQL) => { sql: string } };
    session: {
      prepareQuery: (
        query: object,
        fields: undefined,
        name: string,
        isArrayMode: boolean,
      ) => { execute: () => Promise<{ rows: unknown[] }> };
    };
  };
  const query = dialect.sqlToQuery(statement);
  const name = createHash('sha1').update(query.sql).digest('hex');
  return session.prepareQuery(query, undefined, name, false);
}

async function executeByOnePlan(tx: Transaction, statement: SQL): Promise<{ rows: unknown[] }> {
  const prepared = named(tx, statement);
  await tx.execute(sql`set local plan_cache_mode = force_generic_plan`);
  const result = await prepared.execute();
  await tx.execute(sql`set local plan_cache_mode = auto`);
  return result;
}

/** The row of a read that finds exactly one. @throws RangeError when it does not. */
export async function onlyOne<T>(found: PromiseLike<readonly T[]>): Promise<T> {
  const [row, ...others] = await found;
  if (row === undefined || others.length > 0) throw new RangeError(`expected one row, found ${row === undefined ? 0 : others.length + 1}`);
  return row;
}

/** The first row of a read, or null. */
export const firstOf = async <T>(found: PromiseLike<readonly T[]>): Promise<T | null> => (await found)[0] ?? null;

/** As `rows`. @throws RangeError when there is not exactly one row. */
export const oneRow = <T extends object>(db: Queryable, statement: SQL, how: How = {}): Promise<T> => onlyOne(rows<T>(db, statement, how));

export const maybeRow = <T extends object>(db: Queryable, statement: SQL, how: How = {}): Promise<T | null> =>
  firstOf(rows<T>(db, statement, how));

/** A list of ids as one parameter. */
export const ids = (list: Iterable<number>): SQL => sql`${`{${[...list].join()}}`}::bigint[]`;

/** Is the column's value in this list, which is one parameter however long it is? */
export const isAmong = (column: AnyColumn, list: Iterable<number>): SQL => sql`${column} = any(${ids(list)})`;

/** A list of texts as one parameter. */
export const texts = (list: Iterable<string>): SQL => sql`array(select jsonb_array_elements_text(${JSON.stringify([...list])}::jsonb))`;

/** The next number of a table's own. The name of its sequence is looked up once for a statement: once for each row took most of the time. */
export const nextId = (table: string, column: string): SQL => sql`nextval((select pg_get_serial_sequence(${table}, ${column})::regclass))`;

/** Moments come from `db.execute` as PostgreSQL writes them. */
export const iso = (moment: string): string => new Date(moment).toISOString();
