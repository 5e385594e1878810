import Papa from 'papaparse';

/**
 * A CSV file that spreadsheets open as it is meant: UTF-8 with its mark, and cells that a spreadsheet
 * would run as a formula made harmless.
 */
export function csv(header: readonly string[], lines: readonly (readonly (string | number | null)[])[]): string {
  return `\uFEFF${Papa.unparse({ fields: [...header], data: lines.map((line) => [...line]) }, { escapeFormulae: true })}\r\n`;
}
