import type { LedgerLine } from '@gate-roster/contract';
import { sql, type SQL } from 'drizzle-orm';
import type { SignedIn } from '../accounts/actor.ts';
import { iso, oneRow, type Queryable, rows } from '../database/connect.ts';
import type { Table } from '../http/table.ts';
import { seenPerson } from '../people/scope.ts';
import { groupsInBooks } from './orders.ts';

const linesAtOnce = 100;

/*
 * The ledger is read from the rows that seats, licences, limits and orders leave behind, which are never overwritten: so it cannot say
 * anything else than what took place. A seat that is charged elsewhere is a line out of one group and a line into the other.
 */

export interface LedgerFilter {
  licence?: number | undefined;
  personId?: number | undefined;
  firstDay?: string | undefined;
  lastDay?: string | undefined;
}

/** Columns: at, key (unique), licence_id, group_id, person_id, what, number, state. */
const linesIn = (actor: SignedIn, groupId: number): SQL => sql`
  with here as materialized (${groupsInBooks(actor, groupId)}), lines as (
    select s.from_at as at, 'b' || s.row_id as key, s.licence_id, s.group_id, s.person_id, case when s.from_at = s.got_at then 'seat began' else 'seat moved' end as what, 1 as number, null as state
      from seat s where s.group_id in (table here)
    union all
    select s.until_at, 'e' || s.row_id, s.licence_id, s.group_id, s.person_id,
        case when exists (select 1 from seat n where n.person_id = s.person_id and n.from_at = s.until_at and n.got_at = s.got_at and n.row_id <> s.row_id) then 'seat moved' else 'seat ended' end, -1, null
      from seat s where s.until_at is not null and s.group_id in (table here)
    union all
    select v.from_at, 'l' || v.row_id, v.licence_id, v.group_id, null, 'seats', v.seats, null
      from (select l.*, lag(l.seats) over (partition by l.licence_id order by l.row_id) as before from licence_version l) v
      where v.before is distinct from v.seats and v.group_id in (table here)
    union all
    select m.from_at, 'm' || m.row_id, m.licence_id, m.group_id, null, 'limit', m.most, null from seat_limit m where m.group_id in (table here)
    union all
    select m.until_at, 'n' || m.row_id, m.licence_id, m.group_id, null, 'limit', null, null from seat_limit m
      where m.until_at is not null and m.group_id in (table here)
        and not exists (select 1 from seat_limit n where n.licence_id = m.licence_id and n.group_id = m.group_id and n.from_at = m.until_at and n.row_id <> m.row_id)
    union all
    select t.at, 'o' || t.id, o.licence_id, o.group_id, null, 'order', o.seats,
        case when t.state = 'approved' and lag(t.state) over (partition by t.order_id order by t.id) = 'paying' then 'not paid' else t.state end
      from order_step t join seat_order o on o.id = t.order_id where o.group_id in (table here)
    union all
    select u.at, 'u' || u.id, u.licence_id, u.group_id, u.person_id, 'lent', null, null from split_use u where u.group_id in (table here)
  )`;

const fitting = ({ licence, personId, firstDay, lastDay }: LedgerFilter, zone: string): SQL =>
  sql.join(
    [
      sql`true`,
      ...(licence === undefined ? [] : [sql`x.licence_id = ${licence}`]),
      ...(personId === undefined ? [] : [sql`x.person_id = ${personId}`]),
      ...(firstDay === undefined ? [] : [sql`(x.at at time zone ${zone})::date >= ${firstDay}`]),
      ...(lastDay === undefined ? [] : [sql`(x.at at time zone ${zone})::date <= ${lastDay}`]),
    ],
    sql` and `,
  );

interface Row {
  at: string;
  exact: string;
  key: string;
  licence_id: number;
  licence: string;
  group_id: number;
  group: string | null;
  person_id: number | null;
  name: string | null;
  what: LedgerLine['what'];
  number: number | null;
  state: LedgerLine['state'];
}

/** Lines of a branch, newest first. `after`: the place that a page before gave; `limit` null: all. */
export async function ledgerLines(
  db: Queryable,
  actor: SignedIn,
  groupId: number,
  filter: LedgerFilter,
  { after = null, limit = linesAtOnce }: { after?: string | null; limit?: number | null } = {},
): Promise<{ lines: LedgerLine[]; next: string | null }> {
  const [at = '', key = ''] = after?.split('/') ?? [];
  const isPlace = after !== null && !Number.isNaN(Date.parse(at));
  const found = await rows<Row>(
    db,
    sql`
    ${linesIn(actor, groupId)}
    select x.at, to_char(x.at at time zone 'UTC', 'YYYY-MM-DD"T"HH24:MI:SS.US"Z"') as exact, x.key, x.licence_id, x.group_id, x.person_id, x.what, x.number, x.state,
      (select v.name from licence_version v where v.licence_id = x.licence_id order by v.row_id desc limit 1) as licence,
      (select v.name from group_version v where v.group_id = x.group_id order by v.row_id desc limit 1) as "group",
      (select nullif(trim(n.given_name || ' ' || n.family_name), '') from personal_now n where n.person_id = x.person_id and ${seenPerson(actor, sql`n.person_id`)}) as name
    from (
      select * from lines x where ${fitting(filter, actor.timeZone)} and ${isPlace ? sql`(x.at, x.key) < (${at}::timestamptz, ${key})` : sql`true`}
      order by x.at desc, x.key desc ${limit === null ? sql`` : sql`limit ${limit + 1}`}
    ) x order by x.at desc, x.key desc`,
  );
  const page = limit === null ? found : found.slice(0, limit);
  const last = page.at(-1);
  return {
    lines: page.map((row) => ({
      at: iso(row.at),
      licence: { id: row.licence_id, name: row.licence },
      group: row.group === null ? null : { id: row.group_id, name: row.group },
      personId: row.person_id,
      name: row.name,
      what: row.what,
      number: row.number,
      state: row.state,
    })),
    next: page.length < found.length && last ? `${last.exact}/${last.key}` : null,
  };
}

/** Seats in use in a branch: by adding up the ledger, and as they are counted. */
export const ledgerSum = (
  db: Queryable,
  actor: SignedIn,
  groupId: number,
  licence: number | undefined,
): Promise<{ byLedger: number; counted: number }> =>
  oneRow(
    db,
    sql`
    ${linesIn(actor, groupId)}
    select (select coalesce(sum(x.number), 0)::int from lines x where x.what like 'seat %' and ${fitting({ licence }, 'UTC')}) as "byLedger",
      (select count(*)::int from seat x where x.until_at is null and x.group_id in (table here) and ${fitting({ licence }, 'UTC')}) as counted`,
  );

export const ledgerTable = (lines: readonly LedgerLine[]): Table => ({
  name: 'Ledger',
  head: ['Moment', 'Licence', 'Group', 'Person number', 'Person', 'What', 'Number', 'State of the order'],
  lines: lines.map(({ at, licence, group, personId, name, what, number, state }) => [
    at,
    licence.name,
    group?.name ?? null,
    personId,
    name,
    what,
    number,
    state,
  ]),
});
