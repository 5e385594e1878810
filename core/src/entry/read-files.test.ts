import fc from 'fast-check';
import { Tree } from '../groups/tree.ts';
import { checkRoster, type RosterFacts } from './check-roster.ts';
import { cleanCell } from './clean-cell.ts';
import { detectColumns } from './detect-columns.ts';
import { readTable } from './read-table.ts';
import type { RosterRow } from './roster-fields.ts';

const utf8 = (text: string): Uint8Array => new TextEncoder().encode(text);
const linesOf = (bytes: Uint8Array): string[][] => {
  const table = readTable(bytes);
  if ('problem' in table) throw new Error(table.problem);
  return table.lines.map(({ cells }) => cells);
};

describe('a file that several programs wrote', () => {
  it('loses nobody where line ends are mixed, whatever their order', () => {
    const end = fc.constantFrom('\n', '\r\n', '\r');
    fc.assert(
      fc.property(fc.array(end, { minLength: 3, maxLength: 12 }), (ends) => {
        const rows = ends.map((each, index) => `Person ${index},p${index}@x.example,"Crew ${index}"${each}`);
        const lines = linesOf(utf8(`Name,Email,Group\r\n${rows.join('')}`));
        expect(lines.map(([name]) => name)).toEqual(['Name', ...ends.map((_, index) => `Person ${index}`)]);
      }),
    );
  });

  it('keeps line ends that stand inside quotes in their cell', () => {
    expect(linesOf(utf8('Name,Group\r\n"Ada Lind","Shore\r\nCadets"\r\nBo Lind,Shore\n'))).toEqual([
      ['Name', 'Group'],
      ['Ada Lind', 'Shore\nCadets'],
      ['Bo Lind', 'Shore'],
    ]);
  });

  it('says its delimiter in its first line', () => {
    const table = readTable(utf8('sep=;\r\nName;Group\r\nLind, Ada;Shore\r\n'));
    expect(table).toMatchObject({
      delimiter: ';',
      lines: [
        { row: 2, cells: ['Name', 'Group'] },
        { row: 3, cells: ['Lind, Ada', 'Shore'] },
      ],
    });
  });
});

describe('the encoding', () => {
  const names = 'Name,Group\n' + ['Šimić', 'Ólafsdóttir', 'Sørlie', '王伟', 'Παπαδάκη'].map((name) => `${name} Ada,Shore\n`).join('');

  it('stays UTF-8 with one bad byte, and only its row needs a look, with its place', () => {
    const bytes = [...utf8(names)];
    // Sørlie as the old code page writes it.
    const at = bytes.findIndex((byte, index) => byte === 0xc3 && bytes[index + 1] === 0xb8);
    bytes.splice(at, 2, 0xf8);
    const table = readTable(new Uint8Array(bytes));
    if ('problem' in table) throw new Error(table.problem);
    expect(table.encoding).toBe('utf-8');
    expect(table.lines.filter(({ cells }) => cells.some((cell) => cell.includes('\uFFFD'))).map(({ row }) => row)).toEqual([4]);
    expect(table.lines[1]?.cells[0]).toBe('Šimić Ada');
  });

  it('is the old code page where its letters do not form sequences', () => {
    const bytes = Uint8Array.from('Name,Group\nMüller Jörg,Shore\nGrün Änne,Shore\n', (letter) => letter.charCodeAt(0));
    expect(readTable(bytes)).toMatchObject({ encoding: 'windows-1252', lines: [{}, { cells: ['Müller Jörg', 'Shore'] }, {}] });
  });
});

test('a column that names another day is no first day, and “valid until” is the last one', () => {
  const table = {
    lines: [
      ['Name', 'Date of birth', 'Valid until'],
      ['Ada Lind', '03/11/2011', '25/11/2027'],
      ['Bo Lind', '04/12/2012', '26/11/2027'],
    ].map((cells, index) => ({ row: index + 1, cells })),
  };
  expect(detectColumns(table).columns.map(({ field }) => field)).toEqual(['fullName', null, 'lastDay']);
});

test('what parts words parts them, and what is no character goes', () => {
  expect(['Ada\u0085Lind', 'Ada\vLind', 'Ada\uFFFFLind', 'Ada\uD800Lind'].map(cleanCell)).toEqual([
    'Ada Lind',
    'Ada Lind',
    'AdaLind',
    'AdaLind',
  ]);
});

describe('a row', () => {
  const tree = new Tree([
    { id: 1, parentId: null, name: 'North', state: 'active', firstDay: null, lastDay: null },
    { id: 2, parentId: 1, name: 'Blue watch', state: 'active', firstDay: null, lastDay: null },
    { id: 3, parentId: 1, name: 'A > B; "C"', state: 'active', firstDay: null, lastDay: null },
  ]);
  const facts: RosterFacts = {
    tree,
    into: 1,
    hasGroupColumn: true,
    dateOrder: 'dayFirst',
    known: [],
    takenSignInNames: new Set(),
    mayAppoint: () => true,
  };
  const reasons = (...cells: RosterRow['cells'][]): string[] =>
    checkRoster(
      cells.map((each, index) => ({ row: index + 2, cells: each })),
      facts,
    ).rows.map(({ outcome, reason, field }) => (reason ? `${reason.code} in ${field ?? ''}` : outcome));
  const ada = { fullName: 'Ada Lind', idNumber: 'N1', group: 'Blue watch' };

  it.each<[RosterRow['cells'], string]>([
    [{ ...ada, group: 'North >  > Blue watch' }, 'group unknown in group'],
    [{ ...ada, group: 'Blue watch | North' }, 'group unknown in group'],
    [{ ...ada, group: '"A > B; ""C"""; Blue watch' }, 'new'],
    [{ ...ada, fullName: 'A'.repeat(241) }, 'too long in fullName'],
    [{ ...ada, idNumber: 'N'.repeat(61) }, 'too long in idNumber'],
    [{ ...ada, password: 'p'.repeat(201) }, 'too long in password'],
    [{ ...ada, tags: `${'t'.repeat(61)}, ok` }, 'too long in tags'],
    [{ ...ada, email: '#N/A' }, 'sheet error in email'],
    [{ ...ada, fullName: 'Ada L\uFFFDnd' }, 'letters lost in fullName'],
    [{ ...ada, signInName: 'аdmin' }, 'sign-in name in signInName'],
  ])('%j: %s', (cells, expected) => {
    expect(reasons(cells)).toEqual([expected]);
  });

  it('said twice is once, and between other days needs a look', () => {
    expect(reasons(ada, ada, { ...ada, group: 'North' }, { ...ada, firstDay: '01/02/2027' })).toEqual([
      'new',
      'nothing',
      'joins',
      'other days in firstDay',
    ]);
  });

  it('with the names turned round may be the same person', () => {
    const lind = { givenName: 'Ada', familyName: 'Lind', group: 'Blue watch' };
    const turned = { givenName: 'Lind', familyName: 'Ada', group: 'Blue watch' };
    expect(reasons(lind, turned)).toEqual(['new', 'names turned in familyName']);
    expect(reasons({ ...lind, idNumber: 'N1' }, { ...turned, idNumber: 'N2' })).toEqual(['new', 'new']);
  });
});
