import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { getTableColumns, is } from 'drizzle-orm';
import { CasingCache } from 'drizzle-orm/casing';
import { getTableConfig, getViewConfig, PgColumn, PgTable, PgView } from 'drizzle-orm/pg-core';
import { execute, type Site, startSite } from '../testing/site.ts';
import * as tables from './schema.ts';

let site: Site;
beforeAll(async () => {
  site = await startSite({ template: 'empty_template' });
});
afterAll(() => site.stop());

/** What the code believes of tables and views: `relation.column`, each with whether it may be null. */
function believed(): Map<string, boolean> {
  const casing = new CasingCache('snake_case');
  const all = new Map<string, boolean>();
  for (const each of Object.values<unknown>(tables)) {
    const isView = is(each, PgView);
    if (!isView && !is(each, PgTable)) continue;
    const name = isView ? getViewConfig(each).name : getTableConfig(each).name;
    const columns = isView ? Object.values(getViewConfig(each).selectedFields) : Object.values(getTableColumns(each));
    for (const column of columns)
      if (is(column, PgColumn)) all.set(`${name}.${casing.getColumnCasing(column)}`, isView ? true : !column.notNull);
  }
  return all;
}

test('tables and views have exactly the columns that the code believes them to have, and say alike what may be null', async () => {
  const found = await execute<{ place: string; isNull: boolean }>(
    site.databaseUrl,
    `select table_name || '.' || column_name as place, is_nullable = 'YES' as "isNull" from information_schema.columns
     where table_schema = 'public' and table_name in (select relname from pg_class where relkind in ('r', 'p', 'v'))`,
  );
  const believes = believed();
  const named = new Set([...believes.keys()].map((place) => place.split('.')[0]));
  const there = found.filter(({ place }) => named.has(place.split('.')[0]));
  expect(there.length).toBeGreaterThan(500);
  expect(there.map(({ place, isNull }) => `${place} ${isNull}`).sort()).toEqual(
    [...believes].map(([place, isNull]) => `${place} ${isNull}`).sort(),
  );
});
