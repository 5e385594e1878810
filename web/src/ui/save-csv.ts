import Papa from 'papaparse';

/** Saves rows as a CSV file that spreadsheets open as it is meant; cells that would run as a formula are made harmless. */
export function saveCsv(fileName: string, header: readonly string[], lines: readonly (readonly string[])[]): void {
  const text = Papa.unparse({ fields: [...header], data: lines.map((line) => [...line]) }, { escapeFormulae: true });
  const link = document.createElement('a');
  link.href = URL.createObjectURL(new Blob([`\uFEFF${text}\r\n`], { type: 'text/csv' }));
  link.download = fileName;
  link.click();
  URL.revokeObjectURL(link.href);
}
