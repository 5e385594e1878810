import { fileLimits, linesOf, type Table, type TableFailure } from '@gate-roster/core';
import { Unzip, UnzipInflate } from 'fflate';
import readWorkbook from 'read-excel-file/web-worker';

const mostUnpacked = 200 * 1024 * 1024;

export interface Book {
  sheets: string[];
  table: Table;
}

/** A sheet of an XLSX workbook as a table. Its unpacked size is counted before anything is parsed, and reading stops where it grows too large. */
export async function readSheet(bytes: Uint8Array, wanted?: string): Promise<Book | TableFailure> {
  if (bytes.length > fileLimits.sheetBytes) return { problem: 'too large' };
  if (unpackedSize(bytes) > mostUnpacked) return { problem: 'too large' };
  try {
    const blob = new Blob([bytes as BlobPart]);
    const book = await readWorkbook(blob);
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

/** Bytes of all parts, counted as they come out; counting stops over the limit, so that a bomb costs no more than that. */
function unpackedSize(bytes: Uint8Array): number {
  let size = 0;
  const unzip = new Unzip((part) => {
    part.ondata = (error, chunk) => {
      size += error ? mostUnpacked + 1 : chunk.length;
      if (size > mostUnpacked) part.terminate();
    };
    if (size <= mostUnpacked) part.start();
  });
  unzip.register(UnzipInflate);
  const step = 64 * 1024;
  try {
    for (let from = 0; from < bytes.length && size <= mostUnpacked; from += step)
      unzip.push(bytes.subarray(from, from + step), from + step >= bytes.length);
  } catch {
    return mostUnpacked + 1;
  }
  return size;
}

/** Days are days: a spreadsheet keeps them as moments at midnight UTC. */
function textOf(cell: unknown): string {
  if (cell === null || cell === undefined) return '';
  if (cell instanceof Date) return cell.toISOString().slice(0, 10);
  if (typeof cell === 'string' || typeof cell === 'number' || typeof cell === 'boolean') return String(cell);
  return '';
}
