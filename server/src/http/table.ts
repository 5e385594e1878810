import writeXlsxFile from 'write-excel-file/node';
import { csv } from './csv.ts';

export type Cell = string | number | null;

/** What is taken away as a file: one head for all lines. Days are `2026-11-29`. */
export interface Table {
  name: string;
  head: readonly string[];
  lines: readonly (readonly Cell[])[];
}

export const csvOf = ({ head, lines }: Table): string => csv(head, lines);

const isDay = /^\d{4}-\d{2}-\d{2}$/u;
const narrow = 10;
const wide = 40;

/**
 * A workbook with a sheet for each table (XLSX, ISO 29500): the head stays in sight, numbers are numbers, days are days, and what
 * begins like a formula is text.
 */
export async function workbookOf(tables: readonly Table[]): Promise<Uint8Array> {
  const bold = { fontWeight: 'bold' } as const;
  const { toBuffer } = writeXlsxFile(
    tables.map(({ name, head, lines }) => ({
      sheet: sheetName(name),
      stickyRowsCount: 1,
      columns: head.map((title, index) => ({
        width: Math.min(wide, Math.max(narrow, title.length, ...lines.slice(0, 200).map((line) => String(line[index] ?? '').length)) + 2),
      })),
      data: [
        head.map((value) => ({ value, type: String, ...bold })),
        ...lines.map((line) =>
          line.map((value) => {
            if (value === null || value === '') return null;
            if (typeof value === 'number') return { value, type: Number };
            return isDay.test(value)
              ? { value: new Date(`${value}T00:00:00Z`), type: Date, format: 'yyyy-mm-dd' }
              : { value, type: String };
          }),
        ),
      ],
    })),
  );
  return toBuffer();
}

/** Sheets have names of at most 31 letters, without some that mean something in references. */
const sheetName = (name: string): string => name.replace(/[[\]:*?/\\]/gu, ' ').slice(0, 31);
