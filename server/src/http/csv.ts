import Papa from 'papaparse';

/** What a spreadsheet would run: also behind what nobody sees, and in full width. */
const formulaStart = /^[\s\p{Cc}\p{Cf}]*[=+\-@\uFF1D\uFF0B\uFF0D\uFF20]|^[\t\r]/u;

/**
 * A CSV file that spreadsheets open as it is meant: UTF-8 with its mark, and cells that a spreadsheet
 * would run as a formula made harmless.
 */
export function csv(header: readonly string[], lines: readonly (readonly (string | number | null)[])[]): string {
  return `\uFEFF${Papa.unparse({ fields: [...header], data: lines.map((line) => [...line]) }, { escapeFormulae: formulaStart })}\r\n`;
}
