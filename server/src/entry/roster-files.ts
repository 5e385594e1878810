import { leastPassword, type RosterRow } from '@gate-roster/core';
import { eq, sql } from 'drizzle-orm';
import { type Queryable, rows, texts } from '../database/connect.ts';
import * as tables from '../database/schema.ts';
import { hashPassword } from '../accounts/password.ts';
import { notFound, ProblemError } from '../http/problem.ts';

const keptDays = 7;
/** Of one part: each takes some 40 ms to hash. */
export const mostPasswords = 2000;

/** Keeps a part of a large file until it is brought in; the same part again takes the place of the earlier. @throws ProblemError `not-found` when the file is somebody else's. */
export async function keepPart(db: Queryable, madeBy: number, fileId: string, part: number, list: readonly RosterRow[]): Promise<void> {
  const mine = await rows(
    db,
    sql`
    with made as (insert into roster_file (id, made_by) values (${fileId}, ${madeBy}) on conflict (id) do nothing returning made_by)
    select 1 from made union all select 1 from roster_file where id = ${fileId} and made_by = ${madeBy}`,
  );
  if (mine.length === 0) throw notFound();
  // A password never lies here as it was typed.
  if (list.filter(({ cells }) => cells.password?.trim()).length > mostPasswords)
    throw new ProblemError('bad-request', { where: [{ place: 'body.rows', what: `More than ${mostPasswords} passwords in one part` }] });
  const hashed = await Promise.all(
    list.map(async (row) => {
      if (row.cells.password === undefined) return row;
      const password = row.cells.password.trim();
      // What is too short stays as short, so that its row needs a look.
      return password.length < leastPassword
        ? { ...row, cells: { ...row.cells, password: password === '' ? '' : 'x' } }
        : { ...row, cells: { ...row.cells, password: await hashPassword(password) } };
    }),
  );
  await db.execute(
    sql`insert into roster_part (file_id, part, rows) values (${fileId}, ${part}, ${JSON.stringify(hashed)}::jsonb) on conflict (file_id, part) do update set rows = excluded.rows`,
  );
}

/** A file that is in leaves nothing behind. */
export async function dropFile(db: Queryable, fileId: string): Promise<void> {
  await db.delete(tables.rosterFile).where(eq(tables.rosterFile.id, fileId));
}

/** Files that nobody brought in, after their time. */
export async function dropOldFiles(db: Queryable): Promise<void> {
  await db.execute(sql`delete from roster_file where made_at < now() - make_interval(days => ${keptDays}::int)`);
}

/** Files on their way in that hold one of these texts: what is known of somebody who is erased. */
export async function dropFilesWith(db: Queryable, wanted: readonly string[]): Promise<void> {
  const some = wanted.filter((text) => text.trim().length >= 3);
  if (some.length === 0) return;
  await db.execute(sql`
    delete from roster_file f using roster_part p, unnest(${texts(some)}) wanted
    where p.file_id = f.id and position(lower(wanted) in lower(p.rows::text)) > 0`);
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
