import Papa from 'papaparse';
import { cleanCell } from './clean-cell.ts';

export type Encoding = 'utf-8' | 'utf-16le' | 'utf-16be' | 'windows-1252';
export type Delimiter = ',' | ';' | '\t' | '|';
export const delimiters: readonly Delimiter[] = [',', ';', '\t', '|'];
export const encodings: readonly Encoding[] = ['utf-8', 'utf-16le', 'utf-16be', 'windows-1252'];

/** Bounds of a file that is brought in. Bytes, lines, columns, letters in a cell; a spreadsheet is read whole, so it has fewer lines. */
export const fileLimits = {
  bytes: 64 * 1024 * 1024,
  rows: 200_000,
  columns: 100,
  cell: 2000,
  sheetRows: 50_000,
  sheetBytes: 20 * 1024 * 1024,
};

export interface TableChoices {
  encoding?: Encoding | undefined;
  delimiter?: Delimiter | undefined;
}

export interface Line {
  row: number;
  cells: string[];
}

export interface Table {
  /** null: a spreadsheet. */
  encoding: Encoding | null;
  delimiter: Delimiter | null;
  /** Every line with something in it, under its number in the file (the first is 1). */
  lines: Line[];
  /** Cells from which something invisible was taken. */
  cleaned: number;
}

export type TableProblem =
  | 'empty'
  | 'not text'
  | 'spreadsheet'
  | 'too large'
  | 'too many rows'
  | 'too many columns'
  | 'cell too long'
  | 'quotes'
  | 'only a header'
  | 'broken spreadsheet'
  | 'too many rows for a spreadsheet';
export interface TableFailure {
  problem: TableProblem;
  /** Where, as a spreadsheet numbers it. */
  row?: number;
}

/**
 * Reads a delimited text file. Encoding and delimiter are found out unless they are chosen.
 * A file that cannot be read comes back as the reason why, never as a throw.
 */
export function readTable(bytes: Uint8Array, choices: TableChoices = {}): Table | TableFailure {
  if (bytes.length > fileLimits.bytes) return { problem: 'too large' };
  if (bytes.length === 0) return { problem: 'empty' };
  if (isZip(bytes)) return { problem: 'spreadsheet' };
  const encoding = choices.encoding ?? detectEncoding(bytes);
  if (encoding === null) return { problem: 'not text' };
  const text = new TextDecoder(encoding).decode(bytes);
  if (text.trim() === '') return { problem: 'empty' };
  if (widthOfFirstLine(text) > fileLimits.columns) return { problem: 'too many columns', row: 1 };

  // Remarks on top would mislead the finding of the delimiter.
  const remarks = /^(?:"?#[^\n]*\n|[^\S\n]*\n)*/u.exec(text)?.[0] ?? '';
  const above = remarks.split('\n').length - 1;
  const parsed = Papa.parse<string[]>(text.slice(remarks.length), {
    delimiter: choices.delimiter ?? '',
    delimitersToGuess: [...delimiters],
  });
  const unclosed = parsed.errors.find(({ code }) => code === 'MissingQuotes');
  if (unclosed) return { problem: 'quotes', row: above + (unclosed.row ?? 0) + 1 };
  const read = linesOf(parsed.data, fileLimits.rows, above);
  if ('problem' in read) return read;
  return { encoding, delimiter: choices.delimiter ?? (parsed.meta.delimiter as Delimiter), ...read };
}

/** Lines of cells, cleaned and within bounds, numbered after those `above`; blank lines are left out. */
export function linesOf(
  data: readonly (readonly string[])[],
  mostRows: number,
  above = 0,
): Pick<Table, 'lines' | 'cleaned'> | TableFailure {
  const lines: Line[] = [];
  let cleaned = 0;
  for (const [index, raw] of data.entries()) {
    if (raw.length > fileLimits.columns && raw.slice(fileLimits.columns).some((cell) => cell.trim() !== ''))
      return { problem: 'too many columns', row: above + index + 1 };
    if (raw.some((cell) => cell.length > fileLimits.cell)) return { problem: 'cell too long', row: above + index + 1 };
    const cells = raw.slice(0, fileLimits.columns).map((cell) => {
      const clean = cleanCell(cell);
      if (clean.length < cell.trim().length) cleaned++;
      return clean;
    });
    if (!cells.some((cell) => cell !== '')) continue;
    if (lines.length > mostRows) return { problem: 'too many rows' };
    lines.push({ row: above + index + 1, cells });
  }
  return lines.length === 0 ? { problem: 'empty' } : { lines, cleaned };
}

/** XLSX is a zip archive, whatever its name says. */
export const isZip = (bytes: Uint8Array): boolean => startsWith(bytes, [0x50, 0x4b, 0x03, 0x04]);

/** Counted before anything is parsed, so that a line of a million columns costs nothing. */
function widthOfFirstLine(text: string): number {
  const end = text.search(/[\r\n]/u);
  const line = end < 0 ? text : text.slice(0, end);
  return line.length < fileLimits.columns ? 1 : Math.max(...delimiters.map((delimiter) => line.split(delimiter).length));
}

/** By its mark, else by where zero bytes stand, else as UTF-8 when every byte fits, else the old Western code page. null: not text. */
function detectEncoding(bytes: Uint8Array): Encoding | null {
  if (startsWith(bytes, [0xff, 0xfe])) return 'utf-16le';
  if (startsWith(bytes, [0xfe, 0xff])) return 'utf-16be';
  const sample = bytes.subarray(0, 65_536);
  const zeros = { even: 0, odd: 0 };
  let controls = 0;
  sample.forEach((byte, index) => {
    if (byte === 0) zeros[index % 2 === 0 ? 'even' : 'odd']++;
    else if (byte < 0x20 && byte !== 0x09 && byte !== 0x0a && byte !== 0x0d) controls++;
  });
  // Plain letters in UTF-16 have a zero on one side of each.
  if (zeros.odd > sample.length * 0.3 && zeros.even < sample.length * 0.05) return 'utf-16le';
  if (zeros.even > sample.length * 0.3 && zeros.odd < sample.length * 0.05) return 'utf-16be';
  if (controls + zeros.even + zeros.odd > sample.length / 100) return null;
  try {
    new TextDecoder('utf-8', { fatal: true }).decode(bytes);
    return 'utf-8';
  } catch {
    return 'windows-1252';
  }
}

const startsWith = (bytes: Uint8Array, mark: readonly number[]): boolean => mark.every((byte, index) => bytes[index] === byte);
