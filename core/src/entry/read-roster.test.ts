import { cleanCell } from './clean-cell.ts';
import { detectColumns } from './detect-columns.ts';
import { emailProblem } from './email.ts';
import { readTable } from './read-table.ts';

/* What a file holds, before its rows are checked: lines, columns, cells. */

describe('readTable', () => {
  const bytes = (text: string, encoding: 'utf8' | 'utf16le' | 'latin1' = 'utf8'): Uint8Array => Buffer.from(text, encoding);
  const read = (content: Uint8Array) => readTable(content);

  it('finds out delimiter and encoding', () => {
    expect(read(bytes('a\tb\nÅsa\tx'))).toMatchObject({
      delimiter: '\t',
      encoding: 'utf-8',
      lines: [{ row: 1 }, { row: 2, cells: ['Åsa', 'x'] }],
    });
    expect(read(bytes('Name;Mail\nÅsa;x', 'latin1'))).toMatchObject({
      delimiter: ';',
      encoding: 'windows-1252',
      lines: [{}, { cells: ['Åsa', 'x'] }],
    });
    expect(read(bytes('\uFEFFName,Mail\nÅsa,x', 'utf16le'))).toMatchObject({
      delimiter: ',',
      encoding: 'utf-16le',
      lines: [{ cells: ['Name', 'Mail'] }, { cells: ['Åsa', 'x'] }],
    });
  });

  it('numbers lines as a spreadsheet does, across blank ones and quoted line ends', () => {
    expect(read(bytes('a,b\n\n"x\ny",z\n,\n'))).toMatchObject({ lines: [{ row: 1 }, { row: 3, cells: ['x\ny', 'z'] }] });
  });

  it('says why a file cannot be read', () => {
    expect(read(new Uint8Array())).toEqual({ problem: 'empty' });
    expect(read(bytes(' \n '))).toEqual({ problem: 'empty' });
    expect(read(Uint8Array.from({ length: 900 }, (_, index) => index % 256))).toEqual({ problem: 'not text' });
    expect(read(Uint8Array.from([0x50, 0x4b, 3, 4, 20]))).toEqual({ problem: 'spreadsheet' });
    expect(read(new Uint8Array(65 * 1024 * 1024))).toEqual({ problem: 'too large' });
    expect(read(bytes(`${'x,'.repeat(101)}y\n`))).toEqual({ problem: 'too many columns', row: 1 });
    expect(read(bytes(`Name,Mail\n${'x,'.repeat(101)}y\n`))).toEqual({ problem: 'too many columns', row: 2 });
    expect(read(bytes(`${'x,'.repeat(1_000_000)}y\n`))).toEqual({ problem: 'too many columns', row: 1 });
    expect(read(bytes(`Name,Mail\nAda,${'x'.repeat(1_000_000)}\n`))).toEqual({ problem: 'cell too long', row: 2 });
    expect(read(bytes('Name,Mail\nAda,a@x.example\nBo,"b@x.example\nCy,c@x.example\n'))).toEqual({ problem: 'quotes', row: 3 });
  });
});

test('days that fit both orders are asked, never guessed', () => {
  const table = readTable(Buffer.from('Name,From\nHana Holt,03/04/2026\nGoran Quill,05/06/2026\n'));
  expect('problem' in table ? null : detectColumns(table).dateOrder).toBeNull();
});

test.each([
  ['ada', 'no at'],
  ['a@b@x.example', 'two ats'],
  ['@x.example', 'nothing before the at'],
  ['ada@', 'no ending'],
  ['ada@ternmail', 'no ending'],
  ['ada@x..example', 'not an address'],
  ['ada@.example', 'not an address'],
  ['ada lind@x.example', 'not an address'],
  ['ada@x.e', 'not an address'],
  ['ada,lind@x.example', 'not an address'],
  ['<ada@x.example>', 'not an address'],
  ['ada@x.exa mple', 'not an address'],
  [`${'a'.repeat(250)}@x.example`, 'not an address'],
  ['ada@brannoch.example', null],
  ['ada.lind+crew@über.example', null],
])('the address %s is told as %s', (email, problem) => {
  expect(emailProblem(email)).toBe(problem);
});

test('what nobody sees in a cell goes, and what letters need stays', () => {
  expect(cleanCell('\u202EAda\u0000\u200B Lind\uFEFF ')).toBe('Ada Lind');
  expect(cleanCell("'=HYPERLINK(1)")).toBe('=HYPERLINK(1)');
  expect(cleanCell("'t Hart")).toBe("'t Hart");
  expect(cleanCell('می\u200Cخواهم')).toBe('می\u200Cخواهم');
});

test('a template’s remarks and blank lines are no rows; repeated headers count once', () => {
  const table = readTable(Buffer.from('# Fill in a row for each person.\n# Groups: a path.\n\nName;Email;Email\nAda Lind;a@x.example;\n'));
  if ('problem' in table) throw new Error(table.problem);
  expect(table.lines.map(({ row: at }) => at)).toEqual([4, 5]);
  expect(detectColumns(table).columns.map(({ field }) => field)).toEqual(['fullName', 'email', null]);
});

test('columns without names are known by what their cells hold', () => {
  const table = readTable(Buffer.from('Ada Lind\tNR-0101\tada@x.example\tPenmarrow\nBo Quill\tNR-0102\tbo@x.example\tGullhaven\n'));
  if ('problem' in table) throw new Error(table.problem);
  const mapping = detectColumns(table, (text) => ['penmarrow', 'gullhaven'].includes(text.toLowerCase()));
  expect(mapping).toMatchObject({ hasHeader: false });
  expect(mapping.columns.map(({ field }) => field)).toEqual(['fullName', 'idNumber', 'email', 'group']);
});
