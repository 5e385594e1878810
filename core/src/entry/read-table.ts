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
  /** Groups that one file may make. */
  newGroups: 20_000,
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
  | 'too many groups'
  | 'takes too long'
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
  const { text, delimiter: named } = withoutSep(oneLineEnd(new TextDecoder(encoding).decode(bytes)));
  if (text.trim() === '') return { problem: 'empty' };
  if (widthOfFirstLine(text) > fileLimits.columns) return { problem: 'too many columns', row: 1 };

  // Remarks on top would mislead the finding of the delimiter.
  const remarks = /^(?:"?#[^\n]*\n|[^\S\n]*\n)*/u.exec(text)?.[0] ?? '';
  const above = remarks.split('\n').length - 1 + (named === null ? 0 : 1);
  const parsed = Papa.parse<string[]>(text.slice(remarks.length), {
    delimiter: choices.delimiter ?? named ?? '',
    newline: '\n',
    delimitersToGuess: [...delimiters],
  });
  const unclosed = parsed.errors.find(({ code }) => code === 'MissingQuotes');
  if (unclosed) return { problem: 'quotes', row: above + (unclosed.row ?? 0) + 1 };
  const read = linesOf(parsed.data, fileLimits.rows, above);
  if ('problem' in read) return read;
  return { encoding, delimiter: choices.delimiter ?? (parsed.meta.delimiter as Delimiter), ...read };
}

/**
 * The same text with one kind of line end. Files that several programs wrote to mix them, and a reader that goes by the first
 * leaves whole rows inside cells.
 */
function oneLineEnd(text: string): string {
  return text.includes('\r') ? text.replace(/\r\n?/gu, '\n') : text;
}

/** Some spreadsheets say their delimiter in the first line: `sep=;`. */
function withoutSep(text: string): { text: string; delimiter: Delimiter | null } {
  const found = /^"?sep=([,;\t|])"?[^\S\n]*\n/iu.exec(text);
  return found ? { text: text.slice(found[0].length), delimiter: found[1] as Delimiter } : { text, delimiter: null };
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
    return isMostlyUtf8(bytes) ? 'utf-8' : 'windows-1252';
  }
}

/**
 * Do most of the bytes beyond plain letters form valid sequences? A few bad ones in a file of names are a mistake at their places,
 * and no reason to read all the others wrongly. In the old code page hardly any two such bytes follow one another as UTF-8 asks.
 */
function isMostlyUtf8(bytes: Uint8Array): boolean {
  let valid = 0;
  let invalid = 0;
  for (let at = 0; at < bytes.length; at++) {
    const byte = bytes[at] ?? 0;
    if (byte < 0x80) continue;
    const follow = byte >= 0xf0 && byte < 0xf5 ? 3 : byte >= 0xe0 ? 2 : byte >= 0xc2 ? 1 : 0;
    let isValid = follow > 0 && byte < 0xf5;
    for (let next = 1; isValid && next <= follow; next++) isValid = ((bytes[at + next] ?? 0) & 0xc0) === 0x80;
    if (isValid) {
      valid++;
      at += follow;
    } else invalid++;
  }
  return valid > invalid;
}

const startsWith = (bytes: Uint8Array, mark: readonly number[]): boolean => mark.every((byte, index) => bytes[index] === byte);
