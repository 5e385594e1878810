import type { RosterRow } from '@gate-roster/core';
import { sql } from 'drizzle-orm';
import { type Queryable, rows } from '../database/connect.ts';
import { notFound } from '../http/problem.ts';

const keptDays = 7;

/** Keeps a part of a large file until it is brought in; the same part again takes the place of the earlier. @throws ProblemError `not-found` when the file is somebody else's. */
export async function keepPart(db: Queryable, madeBy: number, fileId: string, part: number, list: readonly RosterRow[]): Promise<void> {
  await db.execute(sql`delete from roster_file where made_at < now() - make_interval(days => ${keptDays}::int)`);
  const mine = await rows(
    db,
    sql`
    with made as (insert into roster_file (id, made_by) values (${fileId}, ${madeBy}) on conflict (id) do nothing returning made_by)
    select 1 from made union all select 1 from roster_file where id = ${fileId} and made_by = ${madeBy}`,
  );
  if (mine.length === 0) throw notFound();
  await db.execute(
    sql`insert into roster_part (file_id, part, rows) values (${fileId}, ${part}, ${JSON.stringify(list)}::jsonb) on conflict (file_id, part) do update set rows = excluded.rows`,
  );
}

/** All rows of a file that this person put here, part by part. @throws ProblemError `not-found` when there is none. */
export async function rowsOfFile(db: Queryable, madeBy: number, fileId: string): Promise<RosterRow[]> {
  const parts = await rows<{ part: number }>(
    db,
    sql`select p.part from roster_part p join roster_file f on f.id = p.file_id where f.id = ${fileId} and f.made_by = ${madeBy} order by p.part`,
  );
  if (parts.length === 0) throw notFound();
  const all: RosterRow[] = [];
  for (const { part } of parts) {
    const found = await rows<{ rows: RosterRow[] }>(db, sql`select rows from roster_part where file_id = ${fileId} and part = ${part}`);
    for (const row of found[0]?.rows ?? []) all.push(row);
  }
  return all;
}
