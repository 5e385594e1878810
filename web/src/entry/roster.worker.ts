import {
  dateOrderOf,
  detectColumns,
  mapRows,
  type Mapping,
  readTable,
  type RosterField,
  type RosterRow,
  type Table,
  type TableChoices,
  type TableProblem,
} from '@gate-roster/core';
import { expose } from 'comlink';

let table: Table | null = null;

export interface ReadFile {
  encoding: Table['encoding'];
  delimiter: Table['delimiter'];
  lines: number;
  mapping: Mapping;
}

/** Reads and maps a file off the page's own thread; the table stays here between questions. */
const reader = {
  read(bytes: Uint8Array, choices: TableChoices): ReadFile | { problem: TableProblem } {
    const read = readTable(bytes, choices);
    table = 'problem' in read ? null : read;
    return 'problem' in read
      ? read
      : { encoding: read.encoding, delimiter: read.delimiter, lines: read.lines.length, mapping: detectColumns(read) };
  },
  rows(hasHeader: boolean, fields: (RosterField | null)[]): { rows: RosterRow[]; dateOrder: Mapping['dateOrder'] } {
    if (!table) return { rows: [], dateOrder: null };
    const rows = mapRows(table, hasHeader, fields);
    return {
      rows,
      dateOrder: dateOrderOf(
        fields,
        (hasHeader ? table.lines.slice(1) : table.lines).map(({ cells }) => cells),
      ),
    };
  },
};
export type RosterReader = typeof reader;
expose(reader);
