import Papa from 'papaparse';

export type Encoding = 'utf-8' | 'utf-16le' | 'utf-16be' | 'windows-1252';
export type Delimiter = ',' | ';' | '\t' | '|';
export const delimiters: readonly Delimiter[] = [',', ';', '\t', '|'];
export const encodings: readonly Encoding[] = ['utf-8', 'utf-16le', 'utf-16be', 'windows-1252'];

/** Bounds of a file that is brought in. Bytes, lines and columns. */
export const fileLimits = { bytes: 10 * 1024 * 1024, rows: 50_000, columns: 100 };

export interface TableChoices {
  encoding?: Encoding | undefined;
  delimiter?: Delimiter | undefined;
}

export interface Table {
  encoding: Encoding;
  delimiter: Delimiter;
  /** Every line with something in it, under its number in the file (the first is 1). */
  lines: { row: number; cells: string[] }[];
}

export type TableProblem = 'empty' | 'not text' | 'spreadsheet' | 'too large' | 'too many rows' | 'too many columns';

/**
 * Reads a delimited text file. Encoding and delimiter are found out unless they are chosen.
 * A file that cannot be read comes back as the reason why, never as a throw.
 */
export function readTable(bytes: Uint8Array, choices: TableChoices = {}): Table | { problem: TableProblem } {
  if (bytes.length > fileLimits.bytes) return { problem: 'too large' };
  if (bytes.length === 0) return { problem: 'empty' };
  if (startsWith(bytes, [0x50, 0x4b, 0x03, 0x04])) return { problem: 'spreadsheet' };
  const encoding = choices.encoding ?? detectEncoding(bytes);
  if (encoding === null) return { problem: 'not text' };
  const text = new TextDecoder(encoding).decode(bytes);
  if (text.trim() === '') return { problem: 'empty' };

  const parsed = Papa.parse<string[]>(text, { delimiter: choices.delimiter ?? '', delimitersToGuess: [...delimiters] });
  const lines = parsed.data
    .map((cells, index) => ({ row: index + 1, cells: cells.map((cell) => cell.trim()) }))
    .filter(({ cells }) => cells.some((cell) => cell !== ''));
  if (lines.length > fileLimits.rows + 1) return { problem: 'too many rows' };
  if (lines.some(({ cells }) => cells.length > fileLimits.columns)) return { problem: 'too many columns' };
  return { encoding, delimiter: choices.delimiter ?? (parsed.meta.delimiter as Delimiter), lines };
}

/** By its mark, else as UTF-8 when every byte fits, else the old Western code page. null: not text. */
function detectEncoding(bytes: Uint8Array): Encoding | null {
  if (startsWith(bytes, [0xff, 0xfe])) return 'utf-16le';
  if (startsWith(bytes, [0xfe, 0xff])) return 'utf-16be';
  const sample = bytes.subarray(0, 65_536);
  const controls = sample.filter((byte) => byte < 0x20 && byte !== 0x09 && byte !== 0x0a && byte !== 0x0d).length;
  if (controls > sample.length / 500) return null;
  try {
    new TextDecoder('utf-8', { fatal: true }).decode(bytes);
    return 'utf-8';
  } catch {
    return 'windows-1252';
  }
}

const startsWith = (bytes: Uint8Array, mark: readonly number[]): boolean => mark.every((byte, index) => bytes[index] === byte);
