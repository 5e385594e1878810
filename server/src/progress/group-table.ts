import type { ProgressReport } from '@gate-roster/contract';
import { completion, meanScore, notBegun, type Tally } from '@gate-roster/core';
import type { Cell, Table } from '../http/table.ts';

/** The report by group as a file: a line for each group and course, and one for all its courses. */
export function groupTable(report: ProgressReport): Table {
  return {
    name: 'By group',
    head: ['Group', 'Levels below the scope', 'Learners', 'Course', ...figureHead, ...(withMedians(report) ? ['Median score'] : [])],
    lines: report.rows.flatMap((row) => [
      [row.name, row.depth, row.learners, 'All courses', ...figures(row.total), ...(row.medians ? [round(row.medians.total)] : [])],
      ...report.courses.flatMap((course, index) => {
        const cell = row.cells[index];
        const median = row.medians ? [round(row.medians.cells[index] ?? null)] : [];
        return cell ? [[row.name, row.depth, row.learners, course.name, ...figures(cell), ...median]] : [];
      }),
    ]),
  };
}

const withMedians = ({ rows }: Pick<ProgressReport, 'rows'>): boolean => rows.some(({ medians }) => medians !== null);

export const figureHead = ['Enrolments', 'Exempt', 'Done', 'Under way', 'Not begun', 'Overdue', 'Completion %', 'Mean score'];

export const figures = (tally: Tally): Cell[] => [
  tally.all,
  tally.exempt,
  tally.done,
  tally.underWay,
  notBegun(tally),
  tally.overdue,
  percent(completion(tally)),
  round(meanScore(tally)),
];

const percent = (rate: number | null): number | null => (rate === null ? null : Math.round(rate * 100));
const round = (value: number | null): number | null => (value === null ? null : Math.round(value * 10) / 10);

/** Group by course as it is read on one page: how much is done, in percent, with what is overdue and the mean (or median) score of all courses. */
export const groupMatrix = ({ courses, rows }: Pick<ProgressReport, 'courses' | 'rows'>): Table => ({
  name: 'Progress',
  head: [
    'Group',
    'Learners',
    'Done %',
    'Overdue',
    withMedians({ rows }) ? 'Median score' : 'Mean score',
    ...courses.map(({ name }) => `${name}: done %`),
  ],
  lines: rows.map((row) => [
    row.name,
    row.learners,
    percent(completion(row.total)),
    row.total.overdue,
    round(row.medians ? row.medians.total : meanScore(row.total)),
    ...courses.map((_, index) => {
      const cell = row.cells[index];
      return cell ? percent(completion(cell)) : null;
    }),
  ]),
});
