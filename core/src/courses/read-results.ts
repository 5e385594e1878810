import { detectDateOrder, readDay } from '../entry/dates.ts';
import type { Table } from '../entry/read-table.ts';
import type { DateOrder } from '../entry/roster-fields.ts';
import { foldName } from '../people/person-name.ts';
import type { Day } from '../time/day.ts';

/* Results of learners from a file: a line for each person and course, or person and activity. */

export const resultFields = ['person', 'course', 'activity', 'finished', 'day', 'score'] as const;
export type ResultField = (typeof resultFields)[number];
/** Which column holds what, by its place; a field that is left out has none. */
export type ResultColumns = Partial<Record<ResultField, number>>;

/** One line, read. */
export interface ResultRow {
  /** As a spreadsheet numbers it. */
  row: number;
  /** A sign-in name, a confirmed address or an ID number. */
  person: string;
  /** A name or a code. */
  course: string;
  /** null: all of the course that is finished in a player. */
  activity: string | null;
  finished: boolean;
  /** null: today. */
  day: Day | null;
  /** 0 to 100. */
  score: number | null;
}

export type ResultProblem = 'no person' | 'no course' | 'not a date' | 'no such day' | 'no score' | 'neither yes nor no';
export interface ReadResults {
  rows: ResultRow[];
  problems: { row: number; code: ResultProblem }[];
  /** Days that fit both orders: it has to be asked. */
  asksOrder: boolean;
}

const heads: Record<ResultField, readonly string[]> = {
  person: [
    'person',
    'learner',
    'signinname',
    'login',
    'user',
    'username',
    'email',
    'emailaddress',
    'mail',
    'idnumber',
    'id',
    'staffnumber',
    'name',
  ],
  course: ['course', 'coursename', 'coursetitle', 'coursecode', 'code'],
  activity: ['activity', 'activityname', 'lesson', 'task', 'unit', 'module'],
  finished: ['finished', 'done', 'completed', 'complete', 'passed', 'status', 'result'],
  day: ['day', 'date', 'doneon', 'finishedon', 'completedon', 'completiondate', 'when'],
  score: ['score', 'mark', 'grade', 'points', 'percent', 'percentage'],
};

const letters = (text: string): string => foldName(text).replace(/[^\p{L}\p{N}]/gu, '');

/** Which columns a head names; the first that fits a field has it. */
export function resultColumns(head: readonly string[]): ResultColumns {
  const found: ResultColumns = {};
  for (const field of resultFields) {
    const at = head.findIndex((title, index) => heads[field].includes(letters(title)) && !Object.values(found).includes(index));
    if (at >= 0) found[field] = at;
  }
  return found;
}

const yes = ['yes', 'y', 'true', '1', 'x', 'done', 'finished', 'completed', 'complete', 'passed', 'pass', 'ok'];
const no = [
  'no',
  'n',
  'false',
  '0',
  'notdone',
  'notfinished',
  'incomplete',
  'underway',
  'begun',
  'started',
  'inprogress',
  'failed',
  'fail',
];

/**
 * 0 to 100; `null` is no score.
 * @example `80`, `80 %`, `4/5` and `80,0` are 80; `120` and `five` are none.
 */
export function readScore(text: string): number | null {
  const [, points = '', most = '100'] = /^(\d+(?:[.,]\d+)?)\s*(?:%|\/\s*(\d+(?:[.,]\d+)?))?$/u.exec(text.trim()) ?? [];
  if (points === '') return null;
  const [got, of] = [Number(points.replace(',', '.')), Number(most.replace(',', '.'))];
  return of > 0 && got <= of ? Math.round((got / of) * 1000) / 10 : null;
}

/**
 * Reads the lines below the head. A line that says neither *finished* nor a day is finished when there is no such column.
 * @param order How the numbers of a day are ordered; null: found out from the column.
 */
export function readResults({ lines }: Pick<Table, 'lines'>, columns: ResultColumns, order: DateOrder | null = null): ReadResults {
  const body = lines.slice(1);
  const cellOf = (cells: readonly string[], field: ResultField): string =>
    columns[field] === undefined ? '' : (cells[columns[field]] ?? '').trim();
  const days = body.map(({ cells }) => cellOf(cells, 'day')).filter((cell) => cell !== '');
  const found = order ?? detectDateOrder(days);
  const read: ReadResults = { rows: [], problems: [], asksOrder: found === null && days.length > 0 };
  for (const { row, cells } of body) {
    const result = readRow(row, (field) => cellOf(cells, field), columns, found ?? 'dayFirst');
    if ('code' in result) read.problems.push(result);
    else read.rows.push(result);
  }
  return read;
}

function readRow(
  row: number,
  cell: (field: ResultField) => string,
  columns: ResultColumns,
  order: DateOrder,
): ResultRow | { row: number; code: ResultProblem } {
  const [person, course, activity, said, dayText, scoreText] = resultFields.map(cell) as [string, string, string, string, string, string];
  if (person === '') return { row, code: 'no person' };
  if (course === '') return { row, code: 'no course' };
  const day = dayText === '' ? null : readDay(dayText, order);
  if (day && 'problem' in day) return { row, code: day.problem };
  const score = scoreText === '' ? null : readScore(scoreText);
  if (scoreText !== '' && score === null) return { row, code: 'no score' };
  const word = letters(said);
  if (word !== '' && !yes.includes(word) && !no.includes(word)) return { row, code: 'neither yes nor no' };
  const finished = word === '' ? columns.finished === undefined || day !== null : yes.includes(word);
  return { row, person, course, activity: activity === '' ? null : activity, finished, day: day?.day ?? null, score };
}
