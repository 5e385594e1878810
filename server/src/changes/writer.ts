import { sql, type SQL } from 'drizzle-orm';
import { ids, nextId, rows, type Transaction } from '../database/connect.ts';
import { keptRows, type RowKind } from './kept-rows.ts';

/** Beside rows with a history: an account that was made; an enrolment that is changed in place. */
export type SubjectKind = RowKind | 'person' | 'enrolment';

export interface Subject {
  kind: SubjectKind;
  before_row: number | null;
  after_row: number | null;
  person_id: number | null;
  group_id: number | null;
  before: unknown;
}

export interface NewMembership {
  personId: number;
  groupId: number;
  firstDay: string | null;
  lastDay: string | null;
}

/** The schema does not change while a process runs. */
const columnsOfKind = new Map<RowKind, SQL>();

type Owned = { row_id: number; person_id: number | null; group_id: number | null };

/** The one place that writes to what has a history: rows end and begin, and each is noted as a subject of the change. */
export class ChangeWriter {
  readonly #tx: Transaction;
  readonly changeId: number;
  readonly #subjects: Subject[] = [];

  constructor(tx: Transaction, changeId: number) {
    this.#tx = tx;
    this.changeId = changeId;
  }

  note(kind: SubjectKind, subject: Partial<Omit<Subject, 'kind'>>): void {
    this.#subjects.push({ kind, before_row: null, after_row: null, person_id: null, group_id: null, before: null, ...subject });
  }

  /** Ends rows that still stand. */
  async end(kind: RowKind, rowIds: readonly number[]): Promise<void> {
    for (const row of await this.#end(kind, rowIds))
      this.note(kind, { before_row: row.row_id, person_id: row.person_id, group_id: row.group_id });
  }

  /** Begins rows; their values are the table's columns by name. */
  async begin(kind: RowKind, values: readonly Record<string, unknown>[]): Promise<number[]> {
    if (values.length === 0) return [];
    const { table } = keptRows[kind];
    const columns = await this.#columnsOf(kind);
    const begun = await this.#insert(
      kind,
      sql`select ${columns} from jsonb_populate_recordset(null::${sql.identifier(table)}, ${JSON.stringify(values)}::jsonb)`,
    );
    for (const row of begun) this.note(kind, { after_row: row.row_id, person_id: row.person_id, group_id: row.group_id });
    return begun.map(({ row_id }) => row_id);
  }

  /** Ends standing rows and begins others in their place that differ in the values given. */
  async replace(kind: RowKind, list: readonly { rowId: number; values: Record<string, unknown> }[]): Promise<void> {
    if (list.length === 0) return;
    await this.#end(
      kind,
      list.map(({ rowId }) => rowId),
    );
    const { table, owners } = keptRows[kind];
    const columns = await this.#columnsOf(kind);
    const changed = list.map(({ rowId, values }) => ({ row_id: rowId, values }));
    const begun = await rows<Owned & { before_row: number }>(
      this.#tx,
      sql`
      with fresh as materialized (
        select r.row_id as before_row, ${nextId(table, 'row_id')} as fresh_id, to_jsonb(o) || r.values as values
        from jsonb_to_recordset(${JSON.stringify(changed)}::jsonb) as r(row_id bigint, values jsonb) join ${sql.identifier(table)} o on o.row_id = r.row_id
      ), begun as (
        insert into ${sql.identifier(table)} (row_id, ${columns}) overriding system value
        select fresh_id, ${columns} from fresh, jsonb_populate_record(null::${sql.identifier(table)}, fresh.values) returning row_id, ${owners}
      ) select begun.*, fresh.before_row from begun join fresh on fresh.fresh_id = begun.row_id order by begun.row_id`,
    );
    for (const row of begun)
      this.note(kind, { before_row: row.before_row, after_row: row.row_id, person_id: row.person_id, group_id: row.group_id });
  }

  /** Begins rows anew as they once stood. */
  async restore(kind: RowKind, rowIds: readonly number[]): Promise<void> {
    if (rowIds.length === 0) return;
    const { table, owners } = keptRows[kind];
    const columns = await this.#columnsOf(kind);
    // A membership that comes back has stood since the day it first began: due days count on from there.
    const since = sql`to_jsonb(o) || jsonb_build_object('first_day', coalesce(o.first_day, (o.from_at at time zone (select time_zone from organisation))::date))`;
    const begun = await rows<Owned & { was_row: number }>(
      this.#tx,
      sql`
      with fresh as materialized (
        select o.row_id as was_row, ${nextId(table, 'row_id')} as fresh_id, ${kind === 'membership' ? since : sql`to_jsonb(o)`} as values
        from ${sql.identifier(table)} o where o.row_id = any(${ids(rowIds)})
      ), begun as (
        insert into ${sql.identifier(table)} (row_id, ${columns}) overriding system value
        select fresh_id, ${columns} from fresh, jsonb_populate_record(null::${sql.identifier(table)}, fresh.values) returning row_id, ${owners}
      ), told as (
        insert into restored_row (kind, was_row, now_row) select ${kind}, was_row, fresh_id from fresh on conflict (kind, was_row) do update set now_row = excluded.now_row
      ) select begun.*, fresh.was_row from begun join fresh on fresh.fresh_id = begun.row_id order by begun.row_id`,
    );
    for (const row of begun) this.note(kind, { after_row: row.row_id, person_id: row.person_id, group_id: row.group_id });
  }

  async beginMemberships(
    list: readonly NewMembership[],
    cameBy: 'file' | 'hand' | 'invitation' | 'join code' | 'rule',
    joinCodeId: number | null = null,
  ): Promise<void> {
    if (list.length === 0) return;
    const begun = await rows<Owned>(
      this.#tx,
      sql`
      insert into membership (person_id, group_id, first_day, last_day, came_by, join_code_id)
      select "personId", "groupId", "firstDay", "lastDay", ${cameBy}, ${joinCodeId}::bigint
      from jsonb_to_recordset(${JSON.stringify(list)}::jsonb) as r("personId" bigint, "groupId" bigint, "firstDay" date, "lastDay" date)
      on conflict (person_id, group_id) where until_at is null do nothing
      returning row_id, person_id, group_id`,
    );
    for (const row of begun) this.note('membership', { after_row: row.row_id, person_id: row.person_id, group_id: row.group_id });
  }

  /** @returns The subjects, for telling whom the change touched. */
  async finish(): Promise<readonly Subject[]> {
    await this.#tx.execute(sql`
      insert into change_subject (change_id, kind, person_id, group_id, before_row, after_row, before)
      select ${this.changeId}, kind, person_id, group_id, before_row, after_row, before
      from jsonb_to_recordset(${JSON.stringify(this.#subjects)}::jsonb) as r(kind text, person_id bigint, group_id bigint, before_row bigint, after_row bigint, before jsonb)`);
    return this.#subjects;
  }

  async #end(kind: RowKind, rowIds: readonly number[]): Promise<Owned[]> {
    if (rowIds.length === 0) return [];
    const { table, owners } = keptRows[kind];
    return rows<Owned>(
      this.#tx,
      sql`update ${sql.identifier(table)} set until_at = greatest(now(), from_at) where row_id = any(${ids(rowIds)}) and until_at is null returning row_id, ${owners}`,
    );
  }

  async #insert(kind: RowKind, values: SQL): Promise<Owned[]> {
    const { table, owners } = keptRows[kind];
    return rows<Owned>(
      this.#tx,
      sql`insert into ${sql.identifier(table)} (${await this.#columnsOf(kind)}) ${values} returning row_id, ${owners}`,
    );
  }

  /** All columns but those that say which row it is and from when to when it stands. */
  async #columnsOf(kind: RowKind): Promise<SQL> {
    const known = columnsOfKind.get(kind);
    if (known) return known;
    const columns = await rows<{ name: string }>(
      this.#tx,
      sql`
      select column_name as name from information_schema.columns where table_schema = 'public' and table_name = ${keptRows[kind].table}
        and column_name not in ('row_id', 'from_at', 'until_at') order by ordinal_position`,
    );
    const list = sql.join(
      columns.map(({ name }) => sql.identifier(name)),
      sql`, `,
    );
    columnsOfKind.set(kind, list);
    return list;
  }
}
