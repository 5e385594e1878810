import type { Cause, Stage } from '../entry/roster-lines.ts';
import type {
  CheckedRow,
  DateOrder,
  Delimiter,
  Encoding,
  RosterField,
  RowOutcome,
  RowReason,
  SignInNameProblem,
  TableProblem,
} from '@gate-roster/core';
import { showNumber } from '../ui/format.ts';
import { many, some } from './grammar.ts';

const fields: Record<RosterField, string> = {
  givenName: 'Given name',
  familyName: 'Family name',
  fullName: 'Full name',
  email: 'Email',
  idNumber: 'ID number',
  group: 'Group',
  tags: 'Tags',
  firstDay: 'First day',
  lastDay: 'Last day',
  signInName: 'Sign-in name',
  role: 'Role',
  powers: 'Powers',
  nameHidden: 'Name hidden',
  guardianEmail: 'Guardian’s email',
  password: 'Password',
};

const emailProblems = {
  'no at': 'No @ in the address',
  'two ats': 'Two @ in the address',
  'nothing before the at': 'Nothing before the @',
  'no ending': 'No ending after the @ part, such as “.example”',
  'not an address': 'Not an address',
};

const signInNameProblems: Record<SignInNameProblem, string> = {
  'too short': 'A sign-in name has at least 3 letters',
  'too long': 'A sign-in name has at most 60 letters',
  signs: 'A sign-in name has letters, numbers, dots and dashes only',
  reserved: 'This sign-in name is reserved',
  offensive: 'Choose another sign-in name',
};

const outcomes: Record<RowOutcome, string> = {
  new: 'New',
  joins: 'Joins a group',
  changes: 'Details change',
  nothing: 'Nothing to do',
  'needs a look': 'Needs a look',
};

export const entry = {
  goHere: 'new people go in here or below',
  chooseFile: 'Choose a file',
  dropHere: 'Drop a file here, one row per person.',
  another: 'Another file',
  done: 'File brought in.',
  rows: 'Rows of the file',
  row: 'Row',
  whatOfIt: 'What would happen',
  fromUntil: 'First, last day',
  nameColumn: 'Name',
  what: (megabytes: number, rows: string, sheetRows: string) =>
    `Any columns in any order. CSV or text up to ${megabytes} MB and ${rows} rows, XLSX up to ${sheetRows} rows.`,
  reading: (rows: string, delimiter: string | null, hasHeader: boolean, encoding: string | null, sheet: string | null) =>
    `${rows} rows${delimiter ? `, ${delimiter.toLowerCase()}` : ''}${encoding ? `, ${encoding}` : ''}${sheet ? `, sheet ${sheet}` : ''}, ${hasHeader ? 'first row holds the names of the columns' : 'no row of names'}.`,
  sheet: 'Sheet',
  cleaned: (cells: number) => `Invisible characters were removed from ${some(cells, 'cell', 'cells')}.`,
  readAs: (name: string) => `Read as “${name}”.`,
  causes: {
    group: 'Group',
    address: 'Address',
    days: 'Dates',
    name: 'Name',
    'sign-in': 'Sign-in name or password',
    choice: 'Role, powers, hidden',
    shape: 'Too many cells',
    who: 'Who is it?',
  } satisfies Record<Cause, string>,
  changingRows: (rows: number) => `Details of known people change, ${some(rows, 'row', 'rows')}`,
  change: ({ field, before, after }: CheckedRow['changes'][number]) => `${fields[field]}: ${before || '–'} → ${after}`,
  keepOld: 'keep the old',
  keptOld: ({ field, before }: CheckedRow['declined'][number]) => `${fields[field]} stays ${before || '–'}`,
  changeAfterAll: 'change it',
  makeMissing: (count: number) => many(count, 'Make the group', 'Make the groups'),
  makeAll: (count: number) => `Make all ${showNumber(count)}`,
  makeOne: (path: string) => `Make ${path}`,
  wouldMake: 'Groups that would be made',
  dontMake: (name: string) => `Do not make ${name}`,
  strike: 'do not make',
  stages: {
    reading: 'Reading',
    'looking up': 'Finding known people',
    checking: 'Checking',
    sending: 'Sending to the server',
  } satisfies Record<Stage, string>,
  stage: (stage: Stage, share: number) => `${entry.stages[stage]}, ${Math.round(share * 100)}%`,
  stopped: 'Stopped. Open the file again to go on.',
  workOut: 'Work out what this would do',
  isIn: (people: number) => (people > 0 ? `${some(people, 'person', 'people')} added.` : 'File brought in. No new accounts were made.'),
  cardsFor: (count: number) => `Sign-in cards for the ${showNumber(count)} new`,
  toGroup: 'To the group',
  writeTo: (count: number) => `Email the ${some(count, 'new person', 'new people')} with an address`,
  writeAt: 'When',
  remember: 'Remember these columns as',
  rememberAct: 'Remember',
  remembered: 'The next file with these columns is read like this.',
  replaceList: 'Replace the list',
  replaceHint: (withGroups: boolean) =>
    withGroups
      ? 'People who are not in the file leave the group and its subgroups. They stay on the platform.'
      : 'People who are not in the file leave this group. They stay on the platform.',
  mostLeaving: 'At most this percentage may leave',
  findReplace: 'Find and replace',
  find: 'Find',
  replaceWith: 'Put in its place',
  inColumn: 'In column',
  replaced: (count: number) => `${some(count, 'cell', 'cells')} changed.`,
  template: 'Download a template',
  templateFile: 'people-template.csv',
  templateLines: [
    '# A row for each person. Columns may stand in any order; those you do not need can go.',
    '# Group: a path below the group you bring the file into, such as Gullhaven > Shore crew; several stand apart by a semicolon; empty column: all go into that group.',
    '# First and last day: 2026-11-03 or 3.11.2026. Role: learner or leader. Powers: head, helper or auditor. Name hidden: yes or no.',
    '# A password counts for new accounts only and has at least 10 characters; sign-in cards are safer.',
  ],
  pasted: 'pasted cells',
  pasteHint: 'Or paste cells from a spreadsheet.',
  notRight: 'Not right?',
  delimiter: 'Between the columns',
  delimiters: { ',': 'Commas', ';': 'Semicolons', '\t': 'Tabs', '|': 'Bars' } satisfies Record<Delimiter, string>,
  encoding: 'Letters written as',
  encodings: {
    'utf-8': 'UTF-8',
    'utf-16le': 'UTF-16',
    'utf-16be': 'UTF-16, big end first',
    'windows-1252': 'Windows-1252',
  } satisfies Record<Encoding, string>,
  hasHeader: 'The first row holds the names of the columns',
  columnBecomes: 'Your column becomes',
  columnNumber: (number: number) => `Column ${number}`,
  columnIs: (field: RosterField, order: DateOrder | null) => `${fields[field]}${order ? `, ${entry.dateOrders[order]}` : ''}`,
  leftOut: 'left out',
  leaveColumnOut: 'Leave out',
  hiddenValues: 'not shown',
  noValues: 'empty',
  fields,
  dateOrders: { dayFirst: 'day first', monthFirst: 'month first', yearFirst: 'year first' } satisfies Record<DateOrder, string>,
  askDateOrder: 'The days can be read both ways. Which number comes first?',
  new: 'New people',
  joins: 'Known, joining a group',
  changes: 'Known, details change',
  nothing: 'Nothing to do',
  needsALook: 'Need a look',
  access: 'Get a course',
  seatsNeeded: 'Seats needed',
  inLine: ', in line for a seat',
  bring: (people: number, rows: number) =>
    people > 0 ? `Bring in ${some(people, 'person', 'people')}` : rows > 0 ? `Bring in ${some(rows, 'row', 'rows')}` : entry.nothing,
  getProblems: (count: number) => `Download the ${count === 1 ? 'row' : `${showNumber(count)} rows`} with problems`,
  leave: (name: string) => `${name} is not brought in yet. Leave this page?`,
  problemFile: (name: string) => `problem rows of ${name.replace(/\.[^.]+$/u, '')}.csv`,
  whyColumn: 'What is wrong',
  outcomes,
  mend: (field: string, row: number) => `${field} of row ${row}`,
  show: 'Show',
  hide: 'Hide',
  goodRows: (count: number) => `Good rows, ${showNumber(count)}`,
  leftRows: (count: number) => `${some(count, 'row', 'rows')} left out. Take back`,
  causeRows: (cause: string, rows: number) => `${cause}, ${some(rows, 'row', 'rows')}`,
  leaveOut: 'Leave out',
  leaveRowsOut: (rows: number) => many(rows, 'Leave it out', `Leave all ${showNumber(rows)} out`),
  takeProposals: (rows: number) => many(rows, 'Use the suggestion', 'Use the suggestion for all'),
  line: (row: number, why: string) => `Line ${row}: ${why}`,
  reason(reason: RowReason, cells: CheckedRow['cells']): string {
    switch (reason.code) {
      case 'name missing':
        return 'No name';
      case 'email':
        return emailProblems[reason.problem];
      case 'email of another row':
        return `Row ${reason.likeRow} has this address under another name and ID number`;
      case 'ID number of another row':
        return `Row ${reason.likeRow} has this ID number under another name and address`;
      case 'rows contradict':
        return `Row ${reason.likeRow} gives other details for the same person`;
      case 'group missing':
        return 'No group given';
      case 'group unknown':
        return reason.near ? `No “${reason.group}”. Did you mean` : `No group “${reason.group}”`;
      case 'group ambiguous':
        return `Several groups are called “${reason.group}”. Write more of the path`;
      case 'sheet error':
        return `The spreadsheet shows ${reason.text} here`;
      case 'letters lost':
        return 'A letter could not be read. Type it again';
      case 'too long':
        return `At most ${reason.most} characters`;
      case 'names turned':
        return `Row ${reason.likeRow} has the same two names the other way round`;
      case 'other days':
        return `Row ${reason.likeRow} gives other days for this group`;
      case 'too many cells':
        return 'More cells than columns: a separator stands inside a cell';
      case 'sign-in name':
        return signInNameProblems[reason.problem];
      case 'sign-in name taken':
        return 'Somebody has this sign-in name';
      case 'sign-in name of another row':
        return `Row ${reason.likeRow} has this sign-in name`;
      case 'password too short':
        return 'A password has at least 10 characters';
      case 'not a choice':
        return 'Not one of the allowed words';
      case 'power lacked':
        return 'You cannot make a leader with these powers here';
      case 'not yours':
        return 'They are also in groups that are not yours, so their details stay';
      case 'no such day':
        return `There is no ${cells[reason.field] ?? ''}`;
      case 'not a date':
        return `“${cells[reason.field] ?? ''}” is not a day`;
      case 'ends before it starts':
        return 'Ends before it starts';
      case 'known by another name':
        return 'Somebody known has this number or address under another name';
      case 'known by another number':
        return 'The person with this address has another ID number';
      case 'email of several':
        return 'Several people have this address. Give the ID number or sign-in name';
      case 'ID number taken':
        return 'This ID number belongs to somebody outside your groups';
      case 'two known people':
        return 'The number is one known person’s, the address another’s';
      case 'administrator':
        return 'A file does not change an administrator’s details';
    }
  },
  fileProblems: {
    empty: () => 'is empty. Choose a file with a row for each person.',
    'not text': () => 'is not a text file. Save the list as CSV or XLSX and choose that.',
    spreadsheet: () => 'is a spreadsheet that cannot be read as text.',
    'broken spreadsheet': () => 'looks like a spreadsheet and cannot be opened. Save it again as XLSX, or as CSV.',
    'too large': (megabytes) =>
      `is too large: CSV up to ${megabytes} MB, XLSX up to 20 MB and 200 MB unpacked. Split it, or leave columns out.`,
    'too many rows': (_megabytes, rows) => `has more than ${rows} rows. Split it.`,
    'too many rows for a spreadsheet': () => 'has more than 50,000 rows. Save the sheet as CSV: that may have 200,000.',
    'too many columns': (_megabytes, _rows, row) => `has more than 100 columns${row ? ` in line ${row}` : ''}. Leave some out.`,
    'too many groups': () => 'would make more than 20,000 groups. Split it, or leave groups out.',
    'takes too long': () => 'takes too long to read. Save it as CSV, or split it.',
    'cell too long': (_megabytes, _rows, row) => `has a cell with more than 2,000 letters in line ${row ?? ''}. Shorten it.`,
    quotes: (_megabytes, _rows, row) => `has a quotation mark that opens in line ${row ?? ''} and never closes. Close it, or take it out.`,
    'only a header': () => 'has names of columns and no row below them.',
    'no names': () => 'No column holds a name. Say on the left which one does.',
    'date order': () => 'The days can be read both ways. Say on the left which number comes first.',
    stopped: () => 'was stopped. Open it again to go on.',
  } satisfies Record<TableProblem | 'no names' | 'date order' | 'stopped', (megabytes: number, rows: string, row: number | null) => string>,
};
