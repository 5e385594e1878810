/** Saves rows as a CSV file that spreadsheets open as it is meant; cells that would run as a formula are made harmless. */
export async function saveCsv(fileName: string, header: readonly string[], lines: readonly (readonly string[])[]): Promise<void> {
  const { default: Papa } = await import('papaparse');
  saveText(fileName, Papa.unparse({ fields: [...header], data: lines.map((line) => [...line]) }, { escapeFormulae: true }));
}

/** Saves text as a file, marked as UTF-8. */
export function saveText(fileName: string, text: string): void {
  saveBlob(fileName, new Blob([`\uFEFF${text}\r\n`], { type: 'text/csv' }));
}

/** Hands something to the browser to keep. */
export function saveBlob(fileName: string, content: Blob): void {
  const link = document.createElement('a');
  link.href = URL.createObjectURL(content);
  link.download = fileName;
  link.click();
  URL.revokeObjectURL(link.href);
}
