import { fileLimits, linesOf, type Table, type TableFailure } from '@gate-roster/core';
import { strFromU8, strToU8, Unzip, UnzipInflate, zipSync } from 'fflate';
import readWorkbook from 'read-excel-file/universal';

/** Bytes of all parts together, unpacked. */
const mostUnpacked = 150 * 1024 * 1024;
/** Cells of one sheet: as many as the most rows with some 50 columns. */
const mostCells = 2_500_000;

export interface Book {
  sheets: string[];
  table: Table;
}

/**
 * A sheet of an XLSX workbook as a table. It is unpacked in this thread, as a stream whose size is counted: the library's own
 * unzipping starts workers from blobs, which the page's policy forbids, and then waits for ever. Cells are counted before the
 * sheet is built.
 */
export async function readSheet(bytes: Uint8Array, wanted?: string): Promise<Book | TableFailure> {
  if (bytes.length > fileLimits.sheetBytes) return { problem: 'too large' };
  const parts = unpack(bytes);
  if (parts === 'too large') return { problem: 'too large' };
  for (const [name, part] of Object.entries(parts)) {
    if (!/^xl\/worksheets\/[^/]+\.xml$/u.test(name)) continue;
    const text = strFromU8(part);
    const trouble = sheetTrouble(text);
    if (trouble) return { problem: trouble };
    // A cell that the spreadsheet could not work out keeps what it shows, so that its row needs a look.
    if (text.includes('t="e"')) parts[name] = strToU8(text.replaceAll('t="e"', 't="str"'));
  }
  try {
    const book = await readWorkbook(new Blob([zipSync(parts, { level: 0 }) as BlobPart]));
    const sheets = book.map(({ sheet }) => sheet);
    const cells = (book.find(({ sheet }) => sheet === wanted) ?? book[0])?.data ?? [];
    if (cells.length > fileLimits.sheetRows + 1) return { problem: 'too many rows for a spreadsheet' };
    const read = linesOf(
      cells.map((row) => row.map(textOf)),
      fileLimits.sheetRows,
    );
    return 'problem' in read ? read : { sheets, table: { encoding: null, delimiter: null, ...read } };
  } catch {
    return { problem: 'broken spreadsheet' };
  }
}

/** The XML parts of the archive. Unpacking stops over the limit, so that a bomb costs no more than that. */
function unpack(bytes: Uint8Array): Record<string, Uint8Array> | 'too large' {
  const parts: Record<string, Uint8Array> = {};
  let size = 0;
  const unzip = new Unzip((part) => {
    if (size > mostUnpacked) return;
    const isWanted = /\.(?:xml|rels)$/u.test(part.name);
    const chunks: Uint8Array[] = [];
    part.ondata = (error, chunk, isLast) => {
      size += error ? mostUnpacked + 1 : chunk.length;
      if (size > mostUnpacked) part.terminate();
      else if (isWanted) chunks.push(chunk);
      if (isLast && isWanted && size <= mostUnpacked) parts[part.name] = joined(chunks);
    };
    part.start();
  });
  unzip.register(UnzipInflate);
  const step = 64 * 1024;
  try {
    for (let from = 0; from < bytes.length && size <= mostUnpacked; from += step)
      unzip.push(bytes.subarray(from, from + step), from + step >= bytes.length);
  } catch {
    return parts;
  }
  return size > mostUnpacked ? 'too large' : parts;
}

function joined(chunks: readonly Uint8Array[]): Uint8Array {
  const whole = new Uint8Array(chunks.reduce((sum, { length }) => sum + length, 0));
  let at = 0;
  for (const chunk of chunks) {
    whole.set(chunk, at);
    at += chunk.length;
  }
  return whole;
}

/** Too many rows or cells; also where a single cell far away would make the table as large. */
function sheetTrouble(xml: string): 'too large' | 'too many rows for a spreadsheet' | null {
  let cells = 0;
  for (let at = xml.indexOf('<c '); at >= 0; at = xml.indexOf('<c ', at + 3)) if (++cells > mostCells) return 'too large';
  let lastRow = 0;
  let lastColumn = 0;
  for (const [, letters = '', row = ''] of xml.matchAll(/<c [^>]*?\br="([A-Z]{1,3})(\d{1,7})"/gu)) {
    lastRow = Math.max(lastRow, Number(row));
    lastColumn = Math.max(
      lastColumn,
      [...letters].reduce((sum, letter) => sum * 26 + letter.charCodeAt(0) - 64, 0),
    );
  }
  if (lastRow > fileLimits.sheetRows * 4) return 'too many rows for a spreadsheet';
  return lastRow * lastColumn > mostCells * 4 ? 'too large' : null;
}

/** Days are days: a spreadsheet stores them as moments at midnight UTC. */
function textOf(cell: unknown): string {
  if (cell === null || cell === undefined) return '';
  if (cell instanceof Date) return cell.toISOString().slice(0, 10);
  if (typeof cell === 'string' || typeof cell === 'number' || typeof cell === 'boolean') return String(cell);
  return '';
}
