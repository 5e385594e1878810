import { sql } from 'drizzle-orm';
import { oneRow, type Queryable } from './connect.ts';

/*
 * What follows from the structure alone (the tree; what is said about courses) is loaded once per version of it in each process.
 * A trigger raises the version in the transaction that alters the structure (migration 0014), so a reader in that transaction
 * reads what it wrote, and everybody else what was committed. Numbers never come twice.
 */

/** The latest versions that were asked for; a transaction under way reads another than its neighbours. */
const keptVersions = 3;
/** By database, since tests have many in one process, and by what is cached. */
const kept = new Map<string, Map<number, unknown>>();

/** @returns What `load` gives for the structure as this connection or transaction sees it; never to be altered. */
export async function cachedByStructure<T>(name: string, db: Queryable, load: (db: Queryable) => Promise<T>): Promise<T> {
  const { version, base } = await oneRow<{ version: number; base: string }>(
    db,
    sql`select version, current_database() as base from structure_version`,
  );
  const key = `${base}/${name}`;
  const versions = kept.get(key) ?? new Map<number, unknown>();
  kept.set(key, versions);
  if (versions.has(version)) return versions.get(version) as T;
  const loaded = await load(db);
  versions.set(version, loaded);
  for (const old of versions.keys()) if (versions.size > keptVersions) versions.delete(old);
  return loaded;
}
