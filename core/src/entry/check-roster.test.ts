import fc from 'fast-check';
import { readFileSync } from 'node:fs';
import path from 'node:path';
import { Tree } from '../groups/tree.ts';
import { checkRoster, countOutcomes, type KnownPerson, type RosterFacts, type RowReason } from './check-roster.ts';
import { detectColumns, mapRows } from './detect-columns.ts';
import { extendTree } from './new-groups.ts';
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
const facts: RosterFacts = {
  tree,
  into: 2,
  hasGroupColumn: true,
  dateOrder: 'dayFirst',
  known: [],
  takenSignInNames: new Set(),
  mayAppoint: () => true,
};
const row = (number: number, cells: RosterRow['cells']): RosterRow => ({ row: number, cells });
const known = (more: Partial<KnownPerson>): KnownPerson => ({
  id: 50,
  givenName: 'Hana',
  familyName: 'Holt',
  email: 'hana@x.example',
  idNumber: 'N1',
  signInName: 'hholt',
  guardianEmail: null,
  nameHidden: false,
  isAdministrator: false,
  isTheirs: true,
  groups: [4],
  leads: [],
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
      isTheirs: true,
      nameHidden: false,
      leads: [],
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
    expect(outcomes([row(2, { ...hana, idNumber: 'N9', email: 'hana@x.example' })], [known({})])).toEqual(['known by another number']);
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

describe('a roster with more in it', () => {
  const name = { fullName: 'Hana Holt' };
  it('reads role, powers, hidden names and guardians, and asks where a word is none of the choices', () => {
    const { people } = check([
      row(2, { ...name, group: 'Penmarrow', role: 'Leader', powers: 'head' }),
      row(3, { fullName: 'Bo Quill', group: 'Penmarrow', role: 'student', nameHidden: 'ja', guardianEmail: 'g@x.example' }),
    ]);
    expect(people).toMatchObject([
      { leads: [{ groupId: 8, preset: 'head' }], memberships: [] },
      { leads: [], memberships: [{ groupId: 8 }], nameHidden: true, guardianEmail: 'g@x.example' },
    ]);
    expect(
      outcomes([row(2, { ...name, group: 'Penmarrow', role: 'boss' }), row(3, { ...name, group: 'Penmarrow', nameHidden: 'maybe' })]),
    ).toEqual(['not a choice', 'not a choice']);
    const lacking = checkRoster([row(2, { ...name, group: 'Penmarrow', powers: 'head' })], {
      ...facts,
      mayAppoint: (preset) => preset === 'helper',
    });
    expect(lacking.rows[0]?.reason?.code).toBe('power lacked');
  });

  it('matches by sign-in name alone only where the name agrees and nothing contradicts', () => {
    const group = 'Penmarrow';
    expect(outcomes([row(2, { ...name, group, signInName: 'HHolt' })], [known({})])).toEqual(['joins']);
    expect(outcomes([row(2, { ...name, group, signInName: 'hholt', email: 'else@x.example' })], [known({})])).toEqual([
      'sign-in name taken',
    ]);
    expect(outcomes([row(2, { fullName: 'Bo Quill', group, signInName: 'hholt' })], [known({})])).toEqual(['sign-in name taken']);
    const taken = checkRoster([row(2, { ...name, group, signInName: 'far' })], { ...facts, takenSignInNames: new Set(['far']) });
    expect(taken.rows[0]?.reason?.code).toBe('sign-in name taken');
    expect(
      outcomes([
        row(2, { ...name, group, signInName: 'two' }),
        row(3, { fullName: 'Bo Quill', group, signInName: 'TWO' }),
        row(4, { ...name, group, signInName: 'admin' }),
      ]),
    ).toEqual(['new', 'sign-in name of another row', 'sign-in name']);
  });

  it('changes only what was not declined, and nothing of people that are not theirs', () => {
    const rows = [row(2, { ...hana, idNumber: 'N1', email: 'new@x.example', familyName: 'Holt-Quill' })];
    const declined = checkRoster(rows, { ...facts, known: [known({})], declined: new Set(['2/email']) });
    expect(declined.people[0]?.changes.map(({ field }) => field)).toEqual(['familyName']);
    // It is told apart, so that it can be taken after all.
    expect(declined.rows[0]?.declined.map(({ field }) => field)).toEqual(['email']);
    expect(outcomes(rows, [known({ isTheirs: false })])).toEqual(['not yours']);
    expect(outcomes([row(2, { ...hana, idNumber: 'N1', group: 'Penmarrow' })], [known({ isTheirs: false })])).toEqual(['joins']);
  });

  it('puts people into groups that would be made, in each other and under what stands', () => {
    const wished = extendTree(tree, 2, ['Gullhaven > Night crew > Bow', 'gullhaven>night  CREW > Stern', 'Far Point']);
    expect(wished.made).toEqual([
      { id: -1, parentId: 3, name: 'Night crew' },
      { id: -2, parentId: -1, name: 'Bow' },
      { id: -3, parentId: -1, name: 'Stern' },
      { id: -4, parentId: 2, name: 'Far Point' },
    ]);
    const { people } = checkRoster([row(2, { ...name, group: 'Night crew > Stern' })], { ...facts, tree: wished.tree });
    expect(people[0]?.memberships).toMatchObject([{ groupId: -3 }]);
  });

  it('finds cells that are shifted by a separator too many', () => {
    const table = readTable(Buffer.from('Name,Group\nHana Holt,Penmarrow\nHolt, Hana,Penmarrow\n'));
    if ('problem' in table) throw new Error(table.problem);
    const rows = mapRows(table, true, ['fullName', 'group', null]);
    expect(outcomes(rows)).toEqual(['new', 'too many cells']);
  });

  it('proposes what was meant by a text before', () => {
    const { rows } = checkRoster([row(2, { ...name, group: 'The lot at the pier' })], {
      ...facts,
      proposals: new Map([['the lot at the pier', 'Penmarrow']]),
    });
    expect(rows[0]?.reason).toEqual({ code: 'group unknown', group: 'The lot at the pier', near: 'Penmarrow' });
  });
});

describe('whatever bytes come in', () => {
  const answer = (bytes: Uint8Array): { rows: number; outcomes: number } | string => {
    const table = readTable(bytes);
    if ('problem' in table) return table.problem;
    const mapping = detectColumns(table);
    const rows = mapRows(
      table,
      mapping.hasHeader,
      mapping.columns.map(({ field }) => field),
    );
    const checked = checkRoster(rows, {
      ...facts,
      hasGroupColumn: mapping.columns.some(({ field }) => field === 'group'),
      dateOrder: mapping.dateOrder ?? 'dayFirst',
    });
    const counts = countOutcomes(checked.rows);
    const good = new Set(checked.people.flatMap((person) => person.rows));
    // Nobody is made of a row that needs a look.
    if (checked.rows.some((each) => each.reason !== null && good.has(each.row))) return 'made of a bad row';
    return { rows: rows.length, outcomes: Object.values(counts).reduce((sum, count) => sum + count, 0) };
  };
  const isAnswered = (bytes: Uint8Array): boolean => {
    const said = answer(bytes);
    return typeof said === 'string' ? said !== 'made of a bad row' : said.rows === said.outcomes;
  };

  it('the checker answers, and its counts add up to the rows', () => {
    fc.assert(fc.property(fc.uint8Array({ maxLength: 400 }), isAnswered), { numRuns: 300 });
  });
  it('the same for what looks like a list', () => {
    const cell = fc.oneof(
      fc.constantFrom(
        'Ada Lind',
        'ada@x.example',
        'Gullhaven > Cadets',
        'Nowhere',
        '31/02/2026',
        '3.11.2026',
        '',
        'admin',
        'leader',
        '"',
        '\u202Ex',
        '=1+1',
        '\u0000',
      ),
      fc.string({ maxLength: 12, unit: 'binary' }),
    );
    const header = fc.constantFrom('Name', 'Email', 'Group', 'From', 'Until', 'Sign-in name', 'Role', 'Email', 'Powers', '?');
    fc.assert(
      fc.property(
        fc.array(header, { minLength: 1, maxLength: 8 }),
        fc.array(fc.array(cell, { maxLength: 10 }), { maxLength: 20 }),
        fc.constantFrom(',', ';', '\t', '|'),
        fc.constantFrom('\n', '\r\n', '\r'),
        (headers, lines, delimiter, end) => isAnswered(Buffer.from([headers, ...lines].map((line) => line.join(delimiter)).join(end))),
      ),
      { numRuns: 400 },
    );
  });
});
