import { strFromU8, unzipSync, zipSync } from 'fflate';
import writeXlsxFile from 'write-excel-file/node';
import { readSheet } from './read-sheet.ts';

const workbook = async (rows: (string | Date)[][]): Promise<Uint8Array> => {
  const data = rows.map((row) =>
    row.map((value) => (value instanceof Date ? { value, type: Date, format: 'dd/mm/yyyy' } : { value, type: String })),
  );
  return new Uint8Array(await writeXlsxFile(data as never).toBuffer());
};
/** The same workbook with its sheet changed. */
const withSheet = (bytes: Uint8Array, change: (xml: string) => string): Uint8Array => {
  const parts = unzipSync(bytes);
  const name = Object.keys(parts).find((each) => each.startsWith('xl/worksheets/sheet')) ?? '';
  return zipSync({ ...parts, [name]: new TextEncoder().encode(change(strFromU8(parts[name] ?? new Uint8Array()))) });
};

test('a workbook of 20,000 rows is read, days as days, without any worker', async () => {
  const rows = Array.from({ length: 20_000 }, (_, index) => [
    `Person ${index}`,
    `p${index}@x.example`,
    'Gullhaven > Shore crew',
    new Date(Date.UTC(2026, 10, 3)),
    `N${index}`,
  ]);
  const workers: unknown[] = [];
  const Real = globalThis.Worker;
  Object.assign(globalThis, {
    Worker: class {
      constructor(...given: unknown[]) {
        workers.push(given);
      }
    },
  });
  const book = await readSheet(await workbook([['Name', 'Email', 'Group', 'From', 'ID'], ...rows]));
  Object.assign(globalThis, { Worker: Real });
  if ('problem' in book) throw new Error(book.problem);
  expect([book.table.lines.length, workers]).toEqual([20_001, []]);
  expect(book.table.lines.at(-1)?.cells).toEqual(['Person 19999', 'p19999@x.example', 'Gullhaven > Shore crew', '2026-11-03', 'N19999']);
}, 60_000);

describe('a bomb is refused with a clear word', () => {
  const small = workbook([['Name'], ['Ada Lind']]);

  test('many bytes in few', async () => {
    const zeros = new Uint8Array(40 * 1024 * 1024);
    const parts = {
      ...unzipSync(await small),
      'xl/media/a.xml': zeros,
      'xl/media/b.xml': zeros,
      'xl/media/c.xml': zeros,
      'xl/media/d.xml': zeros,
    };
    expect(await readSheet(zipSync(parts))).toEqual({ problem: 'too large' });
  }, 60_000);

  test('one cell far away', async () => {
    const far = withSheet(await small, (xml) =>
      xml.replace(/<c ([^>]*)r="A2"/u, '<c $1r="XFD1048576"').replace(/<row ([^>]*)r="2"/u, '<row $1r="1048576"'),
    );
    expect(await readSheet(far)).toEqual({ problem: 'too many rows for a spreadsheet' });
  });

  test('millions of cells', async () => {
    const many = withSheet(await small, (xml) => xml.replace('</sheetData>', `${'<c r="A3"/>'.repeat(2_600_000)}</sheetData>`));
    expect(await readSheet(many)).toEqual({ problem: 'too large' });
  }, 60_000);

  test('an archive that breaks off', async () => {
    expect(await readSheet((await small).slice(0, 400))).toEqual({ problem: 'broken spreadsheet' });
  });
});

test('a cell that the spreadsheet could not work out keeps what it shows', async () => {
  const bytes = withSheet(
    await workbook([
      ['Name', 'Email'],
      ['Ada Lind', 'x'],
    ]),
    (xml) => xml.replace(/<c ([^>]*)r="B2"([^>]*)>.*?<\/c>/u, '<c r="B2" t="e"><v>#N/A</v></c>'),
  );
  const book = await readSheet(bytes);
  expect('problem' in book ? book : book.table.lines[1]?.cells).toEqual(['Ada Lind', '#N/A']);
});
