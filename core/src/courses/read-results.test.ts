import { readTable } from '../entry/read-table.ts';
import { readResults, readScore, resultColumns } from './read-results.ts';

const tableOf = (text: string) => {
  const table = readTable(new TextEncoder().encode(text));
  if ('problem' in table) throw new Error(table.problem);
  return table;
};
const read = (text: string) => {
  const table = tableOf(text);
  return readResults(table, resultColumns(table.lines[0]?.cells ?? []));
};

test('a line for each person and course or activity; what its head calls them does not matter', () => {
  const { rows, problems, asksOrder } = read(
    'Login;Course code;Lesson;Completed on;Mark %\nbao;VR-1;;25.11.2025;80\nmina;VHF radio;Calling;03.12.2025;4/5\nkofi;VR-1;;;',
  );
  expect(rows).toEqual([
    { row: 2, person: 'bao', course: 'VR-1', activity: null, finished: true, day: '2025-11-25', score: 80 },
    { row: 3, person: 'mina', course: 'VHF radio', activity: 'Calling', finished: true, day: '2025-12-03', score: 80 },
    { row: 4, person: 'kofi', course: 'VR-1', activity: null, finished: true, day: null, score: null },
  ]);
  expect([problems, asksOrder]).toEqual([[], false]);
});

test('each line that cannot be read is named with what is wrong, and the others are read', () => {
  const { rows, problems } = read(
    'person,course,done,day,score\n,A,yes,,\nbao,,yes,,\nbao,A,maybe,,\nbao,A,yes,2025-02-30,\nbao,A,yes,soon,\nbao,A,yes,,120\nbao,A,no,,40\nbao,A,x,,',
  );
  expect(problems.map(({ row, code }) => [row, code])).toEqual([
    [2, 'no person'],
    [3, 'no course'],
    [4, 'neither yes nor no'],
    [5, 'no such day'],
    [6, 'not a date'],
    [7, 'no score'],
  ]);
  expect(rows.map(({ finished, score }) => [finished, score])).toEqual([
    [false, 40],
    [true, null],
  ]);
});

test('days that fit both orders are asked about', () => {
  expect(read('person,course,day\nbao,A,03/11/2025').asksOrder).toBe(true);
  const table = tableOf('person,course,day\nbao,A,03/11/2025');
  expect(readResults(table, resultColumns(table.lines[0]?.cells ?? []), 'monthFirst').rows[0]?.day).toBe('2025-03-11');
});

test.each([
  ['80', 80],
  ['80 %', 80],
  ['7,5/10', 75],
  ['0', 0],
  ['100', 100],
  ['101', null],
  ['6/5', null],
  ['3/0', null],
  ['-4', null],
  ['five', null],
])('%s scores %s', (text, score) => {
  expect(readScore(text)).toBe(score);
});
