import { sql, type SQL } from 'drizzle-orm';
import { ids, rows, type Transaction } from '../database/connect.ts';

export type SubjectKind = 'group' | 'personal' | 'person' | 'membership' | 'person tag' | 'grant';

/** The table whose rows a kind of subject is kept in; `person` rows are accounts as a whole. */
export const subjectTables: Record<Exclude<SubjectKind, 'person'>, string> = {
  group: 'group_version',
  personal: 'personal',
  membership: 'membership',
  'person tag': 'person_tag',
  grant: 'access_grant',
};

interface Subject {
  kind: SubjectKind;
  before_row: number | null;
  after_row: number | null;
  person_id: number | null;
  group_id: number | null;
}

export interface NewMembership {
  personId: number;
  groupId: number;
  firstDay: string | null;
  lastDay: string | null;
}

/** The one place that writes to what has a history: rows end and begin, and each is noted as a subject of the change. */
export class ChangeWriter {
  readonly #tx: Transaction;
  readonly #changeId: number;
  readonly #subjects: Subject[] = [];

  constructor(tx: Transaction, changeId: number) {
    this.#tx = tx;
    this.#changeId = changeId;
  }

  /** Rows of a table that were begun, in place of others or of nothing. */
  note(kind: SubjectKind, subject: Partial<Omit<Subject, 'kind'>>): void {
    this.#subjects.push({ kind, before_row: null, after_row: null, person_id: null, group_id: null, ...subject });
  }

  /** Ends rows that still stand. */
  async end(kind: keyof typeof subjectTables, rowIds: readonly number[], notes = true): Promise<void> {
    const table = sql.identifier(subjectTables[kind]);
    const ended = await rows<{ row_id: number; person_id: number | null; group_id: number | null }>(
      this.#tx,
      sql`
      update ${table} set until_at = now() where row_id = any(${ids(rowIds)}) and until_at is null returning row_id, ${ownersOf(kind)}`,
    );
    if (notes) for (const row of ended) this.note(kind, { before_row: row.row_id, person_id: row.person_id, group_id: row.group_id });
  }

  /** Begins rows anew as they once stood. */
  async restore(kind: keyof typeof subjectTables, rowIds: readonly number[]): Promise<void> {
    if (rowIds.length === 0) return;
    const name = subjectTables[kind];
    const columns = await rows<{ name: string }>(
      this.#tx,
      sql`
      select column_name as name from information_schema.columns where table_schema = 'public' and table_name = ${name} and column_name not in ('row_id', 'from_at', 'until_at') order by ordinal_position`,
    );
    const list = sql.join(
      columns.map((column) => sql.identifier(column.name)),
      sql`, `,
    );
    // A membership that comes back has stood since the day it first began: due days count on from there.
    const since = sql`coalesce(first_day, (from_at at time zone (select time_zone from organisation))::date)`;
    const values = sql.join(
      columns.map((column) => (kind === 'membership' && column.name === 'first_day' ? since : sql.identifier(column.name))),
      sql`, `,
    );
    const begun = await rows<{ row_id: number; person_id: number | null; group_id: number | null }>(
      this.#tx,
      sql`
      insert into ${sql.identifier(name)} (${list}) select ${values} from ${sql.identifier(name)} where row_id = any(${ids(rowIds)}) order by row_id returning row_id, ${ownersOf(kind)}`,
    );
    for (const row of begun) this.note(kind, { after_row: row.row_id, person_id: row.person_id, group_id: row.group_id });
  }

  async beginMemberships(list: readonly NewMembership[], cameBy: 'file' | 'hand'): Promise<void> {
    if (list.length === 0) return;
    const begun = await rows<{ row_id: number; person_id: number; group_id: number }>(
      this.#tx,
      sql`
      insert into membership (person_id, group_id, first_day, last_day, came_by)
      select "personId", "groupId", "firstDay", "lastDay", ${cameBy}
      from jsonb_to_recordset(${JSON.stringify(list)}::jsonb) as r("personId" bigint, "groupId" bigint, "firstDay" date, "lastDay" date)
      on conflict (person_id, group_id) where until_at is null do nothing
      returning row_id, person_id, group_id`,
    );
    for (const row of begun) this.note('membership', { after_row: row.row_id, person_id: row.person_id, group_id: row.group_id });
  }

  /** @returns The subjects, for telling whom the change touched. */
  async finish(): Promise<readonly Subject[]> {
    await this.#tx.execute(sql`
      insert into change_subject (change_id, kind, person_id, group_id, before_row, after_row)
      select ${this.#changeId}, kind, person_id, group_id, before_row, after_row
      from jsonb_to_recordset(${JSON.stringify(this.#subjects)}::jsonb) as r(kind text, person_id bigint, group_id bigint, before_row bigint, after_row bigint)`);
    return this.#subjects;
  }
}

function ownersOf(kind: keyof typeof subjectTables): SQL {
  if (kind === 'group') return sql`null::bigint as person_id, group_id`;
  if (kind === 'membership' || kind === 'grant') return sql`person_id, group_id`;
  return sql`person_id, null::bigint as group_id`;
}
