import { readFileSync } from 'node:fs';
import path from 'node:path';
import { Tree } from '../groups/tree.ts';
import { checkRoster, type KnownPerson, type RosterFacts, type RowReason } from './check-roster.ts';
import { detectColumns, mapRows } from './detect-columns.ts';
import { readTable } from './read-table.ts';
import type { RosterRow } from './roster-fields.ts';

const here = import.meta.dirname;
const sample = readFileSync(path.join(here, '../../../demo/samples/autumn-intake-north.csv'));
const expected = JSON.parse(readFileSync(path.join(here, '../../../e2e/autumn-intake-north.expected.json'), 'utf8')) as {
  rows: number;
  problem_rows: { row: number; why: string; like_row?: number }[];
  same_person_twice_in_two_groups: number[];
};

const names: [number, number | null, string][] = [
  [1, null, 'Isles'],
  [2, 1, 'North Reach'],
  [3, 2, 'Gullhaven'],
  [4, 3, 'Inshore crew'],
  [5, 3, 'Shore crew'],
  [6, 3, 'Cadets'],
  [7, 3, 'Tower watch'],
  [8, 2, 'Penmarrow'],
  [9, 8, 'Shore crew'],
  [10, 2, 'Stacks Point'],
  [11, 10, 'Inshore crew'],
  [12, 1, 'South'],
  [13, 12, 'Shore crew'],
];
const tree = new Tree(names.map(([id, parentId, name]) => ({ id, parentId, name, state: 'active', firstDay: null, lastDay: null })));
const facts: RosterFacts = { tree, into: 2, hasGroupColumn: true, dateOrder: 'dayFirst', known: [] };
const row = (number: number, cells: RosterRow['cells']): RosterRow => ({ row: number, cells });
const known = (more: Partial<KnownPerson>): KnownPerson => ({
  id: 50,
  givenName: 'Hana',
  familyName: 'Holt',
  email: 'hana@x.example',
  idNumber: 'N1',
  isAdministrator: false,
  groups: [4],
  tags: [],
  ...more,
});
const hana = { givenName: 'Hana', familyName: 'Holt', group: 'Gullhaven > Inshore crew' };
const check = (rows: RosterRow[], people: KnownPerson[] = []) => checkRoster(rows, { ...facts, known: people });
const outcomes = (rows: RosterRow[], people: KnownPerson[] = []): string[] =>
  check(rows, people).rows.map(({ outcome, reason }) => reason?.code ?? outcome);

function readSample(): RosterRow[] {
  const table = readTable(sample);
  if ('problem' in table) throw new Error(table.problem);
  const mapping = detectColumns(table);
  expect(mapping.columns.map(({ field }) => field)).toEqual([
    'familyName',
    'givenName',
    'email',
    'idNumber',
    'group',
    'tags',
    'firstDay',
    'lastDay',
    null,
  ]);
  expect([table.delimiter, table.encoding, mapping.dateOrder]).toEqual([';', 'utf-8', 'dayFirst']);
  return mapRows(
    table,
    mapping.hasHeader,
    mapping.columns.map(({ field }) => field),
  );
}

/** The reasons of the sample's own list, in ours. */
const meaning: Record<string, (reason: RowReason) => boolean> = {
  'email: no ending after the @ part': (reason) => reason.code === 'email' && reason.problem === 'no ending',
  'email: two @': (reason) => reason.code === 'email' && reason.problem === 'two ats',
  'group: unknown; Gullhaven is near': (reason) => reason.code === 'group unknown' && reason.near === 'Gullhaven > Shore crew',
  'group: missing, and nothing else says where': (reason) => reason.code === 'group missing',
  'email of another row, other name and other own number': (reason) => reason.code === 'email of another row',
  'own number: that of another row, other name and other email': (reason) => reason.code === 'ID number of another row',
  'name: missing': (reason) => reason.code === 'name missing',
  'dates: ends before it starts': (reason) => reason.code === 'ends before it starts',
  'date: there is no such day': (reason) => reason.code === 'no such day',
};

describe('checkRoster on the autumn intake', () => {
  const rows = readSample();
  const checked = check(rows);

  it('finds the nine problem rows, each with the right reason', () => {
    expect(rows).toHaveLength(expected.rows);
    const problems = checked.rows.filter(({ reason }) => reason !== null);
    expect(problems.map((each) => each.row)).toEqual(expected.problem_rows.map((each) => each.row));
    for (const [index, { why, like_row: like }] of expected.problem_rows.entries()) {
      const reason = problems[index]?.reason;
      expect({ why, fits: reason && meaning[why]?.(reason) }).toEqual({ why, fits: true });
      if (like) expect(reason).toMatchObject({ likeRow: like });
    }
  });

  it('puts one person with two rows in both groups', () => {
    const [first, second] = expected.same_person_twice_in_two_groups;
    expect(checked.people.find(({ rows: own }) => own[0] === first)).toMatchObject({
      rows: [first, second],
      memberships: [{ groupId: 4 }, { groupId: 6 }],
    });
    expect(checked.people).toHaveLength(expected.rows - expected.problem_rows.length - 1);
  });

  it('has nothing to do for the same file once it is in', () => {
    const people = checked.people.map((person, index): KnownPerson => ({
      ...person,
      id: index + 1,
      isAdministrator: false,
      groups: person.memberships.map(({ groupId }) => groupId),
      tags: person.tags,
    }));
    const again = check(rows, people);
    expect(again.people).toEqual([]);
    expect(new Set(again.rows.filter(({ reason }) => reason === null).map(({ outcome }) => outcome))).toEqual(new Set(['nothing']));
  });
});

describe('checkRoster', () => {
  it('matches by ID number, then by email, and never erases with a blank', () => {
    expect(outcomes([row(2, { ...hana, idNumber: 'N1', email: '' })], [known({})])).toEqual(['nothing']);
    expect(outcomes([row(2, { ...hana, email: 'HANA@x.example', group: 'Penmarrow' })], [known({})])).toEqual(['joins']);
    expect(check([row(2, { ...hana, idNumber: 'N1', email: 'new@x.example' })], [known({})]).people[0]?.changes).toEqual([
      { field: 'email', before: 'hana@x.example', after: 'new@x.example' },
    ]);
  });

  it('asks where a number or an address is somebody else’s', () => {
    const other = { ...hana, givenName: 'Goran', familyName: 'Quill' };
    expect(outcomes([row(2, { ...other, idNumber: 'N1' })], [known({})])).toEqual(['known by another name']);
    expect(
      outcomes(
        [row(2, { ...hana, idNumber: 'N1', email: 'b@x.example' })],
        [known({}), known({ id: 51, idNumber: 'N2', email: 'b@x.example' })],
      ),
    ).toEqual(['two known people']);
    expect(outcomes([row(2, { ...hana, idNumber: 'N9', email: 'hana@x.example' })], [known({})])).toEqual(['known by another name']);
    expect(
      outcomes([row(2, { ...hana, idNumber: 'N1', email: 'a@x.example' }), row(3, { ...hana, idNumber: 'N1', email: 'b@x.example' })]),
    ).toEqual(['new', 'rows contradict']);
  });

  it('does not change an administrator’s details', () => {
    expect(outcomes([row(2, { ...hana, idNumber: 'N1', email: 'taken.over@x.example' })], [known({ isAdministrator: true })])).toEqual([
      'administrator',
    ]);
  });

  it('keeps two people of one name without number and address apart', () => {
    expect(check([row(2, hana), row(3, hana)]).people).toHaveLength(2);
  });

  it('puts everybody into the chosen group when the file has no group column', () => {
    const { people } = checkRoster([row(1, { fullName: 'Holt, Hana' })], { ...facts, hasGroupColumn: false });
    expect(people).toMatchObject([{ givenName: 'Hana', familyName: 'Holt', memberships: [{ groupId: 2 }] }]);
  });

  it('asks which of several groups is meant, unless one is nearer, and finds none outside the branch', () => {
    expect(outcomes([row(2, { ...hana, group: 'Shore crew' })])).toEqual(['group ambiguous']);
    expect(outcomes([row(2, { ...hana, group: 'penmarrow>SHORE  crew' })])).toEqual(['new']);
    expect(outcomes([row(2, { ...hana, group: 'South > Shore crew' })])).toEqual(['group unknown']);
  });
});

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
    expect(read(new Uint8Array(30 * 1024 * 1024))).toEqual({ problem: 'too large' });
    expect(read(bytes(`${'x,'.repeat(101)}y\n`))).toEqual({ problem: 'too many columns' });
  });
});

test('days that fit both orders are asked, never guessed', () => {
  const table = readTable(Buffer.from('Name,From\nHana Holt,03/04/2026\nGoran Quill,05/06/2026\n'));
  expect('problem' in table ? null : detectColumns(table).dateOrder).toBeNull();
});
