import { foldName } from '../people/person-name.ts';
import { detectDateOrder, looksLikeDate } from './dates.ts';
import type { Table } from './read-table.ts';
import { type DateOrder, headerSynonyms, type RosterField, rosterFields, type RosterRow } from './roster-fields.ts';

/** What each column of the file becomes; null: left out. */
export interface Mapping {
  hasHeader: boolean;
  columns: { header: string; field: RosterField | null; samples: string[] }[];
  /** null: the days can be read both ways and somebody has to say which. */
  dateOrder: DateOrder | null;
}

/** Finds out which column is what: by its header, else by what stands in it. */
export function detectColumns(table: Pick<Table, 'lines'>, isGroup: (text: string) => boolean = () => false): Mapping {
  const first = table.lines[0]?.cells ?? [];
  const width = table.lines.reduce((most, line) => Math.max(most, line.cells.length), 0);
  const byHeader = first.map(fieldOfHeader);
  const hasHeader =
    byHeader.some((field) => field !== null) || !first.some((cell) => looksLikeEmail(cell) || looksLikeDate(cell) || /\d{3}/u.test(cell));
  const body = (hasHeader ? table.lines.slice(1) : table.lines).slice(0, 1000);

  const used = new Set<RosterField>();
  const columns = Array.from({ length: width }, (_, index) => {
    const cells = body.map((line) => line.cells[index] ?? '').filter((cell) => cell !== '');
    const header = hasHeader ? (first[index] ?? '') : '';
    // A column that says what it is in other words may hold any day: a birthday is no first day.
    const guessed = fieldOfContent(cells, used, isGroup);
    const isOtherDay = header !== '' && (guessed === 'firstDay' || guessed === 'lastDay');
    const proposed = (hasHeader ? byHeader[index] : undefined) ?? (isOtherDay ? null : guessed);
    const field = proposed && !used.has(proposed) ? proposed : null;
    if (field) used.add(field);
    return { header, field, samples: [...new Set(cells)].slice(0, 3) };
  });
  return {
    hasHeader,
    columns,
    dateOrder: dateOrderOf(
      columns.map(({ field }) => field),
      body.map(({ cells }) => cells),
    ),
  };
}

/** The order of the days in the mapped date columns, all of them together. No date column: day first. */
export function dateOrderOf(fields: readonly (RosterField | null)[], lines: readonly string[][]): DateOrder | null {
  const dates = fields.flatMap((field, index) =>
    field === 'firstDay' || field === 'lastDay' ? lines.map((cells) => cells[index] ?? '') : [],
  );
  return dates.some(looksLikeDate) ? detectDateOrder(dates) : 'dayFirst';
}

/** The file's rows under the mapping. */
export function mapRows(table: Pick<Table, 'lines'>, hasHeader: boolean, fields: readonly (RosterField | null)[]): RosterRow[] {
  const named = hasHeader ? (table.lines[0]?.cells.findLastIndex((cell) => cell !== '') ?? -1) + 1 : fields.length;
  return (hasHeader ? table.lines.slice(1) : table.lines).map(({ row, cells }) => {
    const mapped: RosterRow['cells'] = {};
    fields.forEach((field, index) => {
      if (field) mapped[field] = cells[index] ?? '';
    });
    // More cells than names of columns: a separator stands inside a cell, and all after it is shifted.
    return cells.slice(named).some((cell) => cell !== '') ? { row, cells: mapped, isRagged: true } : { row, cells: mapped };
  });
}

/** A file needs a column for names, or nobody can be made of its rows. */
export function hasNameColumn(fields: readonly (RosterField | null)[]): boolean {
  return fields.includes('fullName') || fields.includes('familyName') || fields.includes('givenName');
}

function fieldOfHeader(header: string): RosterField | null {
  const folded = foldName(header);
  return rosterFields.find((field) => headerSynonyms[field].includes(folded)) ?? null;
}

function fieldOfContent(cells: readonly string[], used: ReadonlySet<RosterField>, isGroup: (text: string) => boolean): RosterField | null {
  const mostly = (test: (cell: string) => boolean): boolean => cells.length > 0 && cells.filter(test).length >= cells.length * 0.8;
  if (mostly(looksLikeEmail)) return 'email';
  if (mostly(looksLikeDate)) return used.has('firstDay') ? 'lastDay' : 'firstDay';
  if (mostly((cell) => /\s>\s/u.test(cell)) || (!used.has('group') && mostly(isGroup))) return 'group';
  // Two words or more with a capital each, hardly ever the same: names. A number with letters, each only once: an ID.
  const isVaried = new Set(cells).size >= cells.length * 0.9 && cells.length > 1;
  const hasName = used.has('fullName') || used.has('familyName') || used.has('givenName');
  if (!hasName && isVaried && mostly((cell) => /^\p{Lu}[\p{L}'’-]+,?( \p{L}[\p{L}'’.-]*)+$/u.test(cell))) return 'fullName';
  if (!used.has('idNumber') && isVaried && mostly((cell) => /^\p{L}{0,4}[-/ ]?\d{2,}$/u.test(cell))) return 'idNumber';
  return null;
}

const looksLikeEmail = (cell: string): boolean => /^[^\s@]+@[^\s@]+$/u.test(cell);
