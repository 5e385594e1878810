import { afterEach, beforeEach, expect, test } from '@jest/globals';
import { saveCsv, saveText } from './save-csv.ts';

interface Kept {
  name: string;
  content: Blob;
}
let kept: Kept[];
let addresses: Map<string, Blob>;
const before = { document: globalThis.document, URL: globalThis.URL };

beforeEach(() => {
  kept = [];
  addresses = new Map();
  // The part of a browser that keeps a file when a link to it is clicked.
  const link = (): object => {
    const made = { href: '', download: '', click };
    function click(): void {
      const content = addresses.get(made.href);
      if (content) kept.push({ name: made.download, content });
    }
    return made;
  };
  const createObjectURL = (content: Blob): string => {
    const address = `blob:${addresses.size}`;
    addresses.set(address, content);
    return address;
  };
  const revokeObjectURL = (address: string): void => void addresses.delete(address);
  Object.assign(globalThis, { document: { createElement: link }, URL: { createObjectURL, revokeObjectURL } });
});
afterEach(() => {
  Object.assign(globalThis, before);
});

const bytesOf = async ({ content }: Kept): Promise<Uint8Array> => new Uint8Array(await content.arrayBuffer());

test('cells come back as they were, and none of them runs as a formula', async () => {
  await saveCsv(
    'left.csv',
    ['Name', 'Note'],
    [
      ['Vos, Imke', 'said "again"'],
      ['=1+1', '@SUM(A1)'],
      ['+49 30', 'two\nlines'],
      ['-5', ''],
    ],
  );
  expect(kept.map(({ name }) => name)).toEqual(['left.csv']);
  const text = new TextDecoder().decode(await bytesOf(kept[0] as Kept));
  const { default: Papa } = await import('papaparse');
  expect(Papa.parse(text, { skipEmptyLines: true }).data).toEqual([
    ['Name', 'Note'],
    ['Vos, Imke', 'said "again"'],
    ["'=1+1", "'@SUM(A1)"],
    ["'+49 30", 'two\nlines'],
    ["'-5", ''],
  ]);
});

test('it is marked as UTF-8, so that a spreadsheet shows every letter, and nothing is left in memory', async () => {
  saveText('names.csv', 'Åse,Čapek');
  const bytes = await bytesOf(kept[0] as Kept);
  expect([...bytes.slice(0, 3)]).toEqual([0xef, 0xbb, 0xbf]);
  expect(new TextDecoder('utf-8', { fatal: true }).decode(bytes).trim()).toBe('Åse,Čapek');
  expect(addresses.size).toBe(0);
});
