import { sql, type SQL } from 'drizzle-orm';
import { isAmong, nextId, type Queryable, rows, type Transaction } from '../database/connect.ts';
import * as tables from '../database/schema.ts';

/* Windows of access as they are stored. Of those that were worked out again, only what differs is written. */

export interface EntitlementRow {
  id: number;
  set_id: number | null;
  person_id: number | null;
  course_id: number;
  first_day: string | null;
  last_day: string | null;
  units: readonly number[];
  via_groups: number[];
  by_grants: number[];
  due_day: string | null;
  due_is_own: boolean;
  needs_seat: boolean;
  payers: number[];
  other_payers: boolean;
}
export interface DueRow {
  entitlement_id: number;
  group_id: number | null;
  grant_id: number | null;
  grant_day: string | null;
  due_day: string | null;
  due_days: number | null;
  least_days: number | null;
  firm: boolean;
  not_before: string | null;
}

export interface WorkedOut {
  row: Omit<EntitlementRow, 'id'>;
  due: Omit<DueRow, 'entitlement_id'>[];
}

/** Whose access to which course is another than before; `set` or `person` is null. */
export interface ChangedAccess {
  set: number | null;
  person: number | null;
  course: number;
  /** Other units are open, or on other days; not only by other ways. */
  isOpenOtherwise: boolean;
}

const keyOf = ({ set_id, person_id, course_id }: Pick<EntitlementRow, 'set_id' | 'person_id' | 'course_id'>): string =>
  `${set_id ?? ''}/${person_id ?? ''}/${course_id}`;

/** Of a window's parts, those that say what is open and when. */
const openParts = 3;

/** The same list for a window that was worked out and one that is stored. */
const partsOf = ({ row, due }: WorkedOut): unknown[] => [
  row.first_day,
  row.last_day,
  row.units,
  row.via_groups,
  row.by_grants,
  row.due_day,
  row.due_is_own,
  row.needs_seat,
  row.payers,
  row.other_payers,
  due
    .map((each) => [each.group_id, each.grant_id, each.grant_day, each.due_day, each.due_days, each.least_days, each.firm, each.not_before])
    .sort((a, b) => (a[0] as number) - (b[0] as number) || (a[1] as number) - (b[1] as number)),
];

/** What has to be written so that windows replace those that are stored. */
export interface WindowChanges {
  /** Where access differs from what is stored. */
  changed: ChangedAccess[];
  /** Numbers of the rows that go, and the windows that come. */
  gone: readonly number[];
  come: readonly WorkedOut[];
}

/** Compares windows that were worked out with those stored under a condition on `x`. */
export async function compareWindows(db: Queryable, which: SQL, found: readonly WorkedOut[]): Promise<WindowChanges> {
  const stored = await rows<Pick<EntitlementRow, 'id' | 'set_id' | 'person_id' | 'course_id'> & { parts: unknown[] }>(
    db,
    sql`
    select x.id, x.set_id, x.person_id, x.course_id, jsonb_build_array(x.first_day, x.last_day, to_jsonb(x.units), to_jsonb(x.via_groups), to_jsonb(x.by_grants), x.due_day, x.due_is_own, x.needs_seat,
      to_jsonb(x.payers), x.other_payers, case when x.due_is_own then (select coalesce(jsonb_agg(jsonb_build_array(d.group_id, d.grant_id, d.grant_day, d.due_day, d.due_days, d.least_days, d.firm, d.not_before) order by coalesce(d.group_id, 0), coalesce(d.grant_id, 0)), '[]')
        from entitlement_due d where d.entitlement_id = x.id) else '[]' end) as parts
    from entitlement x where ${which}`,
  );
  const before = gathered(stored, ({ parts }) => parts);
  const after = gathered(
    found.map((each) => ({ ...each.row, each })),
    ({ each }) => partsOf(each),
  );
  const changed = new Map<string, ChangedAccess>();
  for (const { set_id, person_id, course_id } of [...stored, ...found.map(({ row }) => row)]) {
    const key = keyOf({ set_id, person_id, course_id });
    const [was, is] = [before.get(key), after.get(key)];
    if (textOf(was) === textOf(is)) continue;
    const isOpenOtherwise = textOf(was?.map((each) => each.slice(0, openParts))) !== textOf(is?.map((each) => each.slice(0, openParts)));
    changed.set(key, { set: set_id, person: person_id, course: course_id, isOpenOtherwise });
  }
  return {
    changed: [...changed.values()],
    gone: stored.filter((row) => changed.has(keyOf(row))).map(({ id }) => id),
    come: found.filter(({ row }) => changed.has(keyOf(row))),
  };
}

export async function writeWindows(tx: Transaction, { changed, gone, come }: WindowChanges): Promise<void> {
  if (changed.length === 0) return;
  await tx.delete(tables.entitlement).where(isAmong(tables.entitlement.id, gone));
  await insertWindows(tx, come);
}

/** What is said of each set or person and course: its windows. */
function gathered<T extends Pick<EntitlementRow, 'set_id' | 'person_id' | 'course_id'>>(
  list: readonly T[],
  parts: (each: T) => unknown[],
): Map<string, unknown[][]> {
  const windows = new Map<string, unknown[][]>();
  for (const each of list) {
    const key = keyOf(each);
    const known = windows.get(key);
    if (known) known.push(parts(each));
    else windows.set(key, [parts(each)]);
  }
  return windows;
}

/** As a text that can be compared, whatever order windows come in. */
const textOf = (all: readonly unknown[][] | undefined): string =>
  (all ?? [])
    .map((each) => JSON.stringify(each))
    .sort()
    .join();

const batch = 5000;

export async function insertWindows(tx: Transaction, found: readonly WorkedOut[]): Promise<void> {
  for (let from = 0; from < found.length; from += batch) {
    const part = found.slice(from, from + batch);
    const numbers = await rows<{ id: number }>(
      tx,
      sql`select ${nextId('entitlement', 'id')} as id from generate_series(1, ${part.length}::int)`,
    );
    const windowRows = part.map(({ row }, index) => ({ id: numbers[index]?.id, ...row }));
    const dueRows = part.flatMap(({ due }, index) => due.map((each) => ({ entitlement_id: numbers[index]?.id, ...each })));
    await tx.execute(sql`
      insert into entitlement (id, set_id, person_id, course_id, first_day, last_day, units, via_groups, by_grants, due_day, due_is_own, needs_seat, payers, other_payers) overriding system value
      select id, set_id, person_id, course_id, first_day, last_day, units, via_groups, by_grants, due_day, due_is_own, needs_seat, payers, other_payers
      from jsonb_to_recordset(${JSON.stringify(windowRows)}::jsonb) as r(id bigint, set_id bigint, person_id bigint, course_id bigint, first_day date, last_day date,
        units bigint[], via_groups bigint[], by_grants bigint[], due_day date, due_is_own boolean, needs_seat boolean, payers bigint[], other_payers boolean)`);
    if (dueRows.length > 0) {
      await tx.execute(sql`
        insert into entitlement_due (entitlement_id, group_id, grant_id, grant_day, due_day, due_days, least_days, firm, not_before)
        select entitlement_id, group_id, grant_id, grant_day, due_day, due_days, least_days, firm, not_before
        from jsonb_to_recordset(${JSON.stringify(dueRows)}::jsonb) as r(entitlement_id bigint, group_id bigint, grant_id bigint, grant_day date, due_day date, due_days int, least_days int, firm boolean, not_before date)`);
    }
  }
}
