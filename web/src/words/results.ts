import type { ResultFile, ResultTrouble } from '@gate-roster/contract';
import type { ResultField, ResultProblem, TableProblem } from '@gate-roster/core';
import { showDayOf, showNumber } from '../ui/format.ts';
import { some } from './grammar.ts';

/** Results of learners from a file. */
export const results = {
  title: 'Results from a file',
  link: 'Bring in results from a file…',
  what: 'A line for each person and course, or person and activity. People are found by sign-in name, confirmed address or ID number. Old results count if the course is open to the person today, and set off no rule.',
  choose: 'Choose a file (CSV or XLSX)…',
  another: 'Choose another file',
  from: (name: string, lines: number) => `${name}: ${some(lines, 'line', 'lines')}`,
  columns: 'Columns',
  fields: {
    person: 'Person',
    course: 'Course',
    activity: 'Activity',
    finished: 'Finished',
    day: 'Day',
    score: 'Score',
  } satisfies Record<ResultField, string>,
  noColumn: 'no column',
  order: 'Days are written',
  orders: { dayFirst: 'day first: 31/12/2026', monthFirst: 'month first: 12/31/2026' },
  needs: 'A column for the person and one for the course are needed.',
  tooMany: (most: number) => `At most ${showNumber(most)} lines at once. Part the file.`,
  unread: {
    'no person': 'no person',
    'no course': 'no course',
    'not a date': 'not a date',
    'no such day': 'no such day',
    'no score': 'no score from 0 to 100',
    'neither yes nor no': 'neither yes nor no under Finished',
  } satisfies Record<ResultProblem, string>,
  troubles: {
    nobody: 'nobody is found by this',
    'several people': 'more than one person is found by this',
    'no such course': 'no such course',
    'no such activity': 'the course has no such activity',
    'not by the player': 'it is marked or ticked off here, not in a player',
    'day to come': 'a day to come',
    'not open': 'the course is not open to them',
  } satisfies Record<ResultTrouble, string>,
  line: (row: number, what: string) => `Line ${row}: ${what}`,
  more: (n: number) => `and ${showNumber(n)} more lines`,
  counts: (lines: number, people: number) => `${some(lines, 'line counts', 'lines count')}, about ${some(people, 'person', 'people')}.`,
  left: (lines: number) => `${some(lines, 'line is', 'lines are')} left out.`,
  bring: (lines: number) => `Bring in ${some(lines, 'line', 'lines')}`,
  brought: 'Results brought in.',
  cannot: (problem: TableProblem) => `This file cannot be read: ${problem}.`,
  files: 'Brought in before',
  none: 'No file was brought in yet.',
  file: ({ rows, by, at }: ResultFile) => `${some(rows, 'line', 'lines')}, by ${by} on ${showDayOf(at)}`,
  takenBack: 'taken back',
  takeBack: 'Take back',
  takeBackOf: (name: string) => `Take back ${name}`,
  takenBackNow: 'Taken back. What was done otherwise too stays done.',
};
