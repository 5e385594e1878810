import { pipeline } from 'node:stream/promises';
import { Readable } from 'node:stream';
import type pg from 'pg';
import { from as copyFrom } from 'pg-copy-streams';

export type Cell = string | number | boolean | null | readonly (string | number)[];

/** Puts rows into a table, all at once. */
export async function copy(
  client: pg.PoolClient,
  table: string,
  columns: readonly string[],
  rows: readonly (readonly Cell[])[],
): Promise<void> {
  const cell = (value: Cell): string => {
    if (value === null) return '\\N';
    if (Array.isArray(value)) return `{${value.join(',')}}`;
    return String(value).replace(/[\\\t\n\r]/gu, (letter) => ({ '\\': '\\\\', '\t': '\\t', '\n': '\\n', '\r': '\\r' })[letter] ?? letter);
  };
  const lines = rows.map((row) => `${row.map(cell).join('\t')}\n`);
  await pipeline(Readable.from(lines), client.query(copyFrom(`copy ${table} (${columns.join(', ')}) from stdin`)));
}
