import type { Lateness, Status, Tally } from '@gate-roster/core';
import { showDay, showNumber } from '../ui/format.ts';

export const statusWords: Record<Status, string> = { 'not begun': 'Not begun', 'under way': 'Under way', done: 'Done' };

const latenessWords: Record<Lateness, string> = {
  'on time': '',
  'due soon': ', due soon',
  overdue: ', overdue',
  'done late': ' late',
};

export const progress = {
  title: 'Progress',
  done: 'done',
  underWayWord: 'under way',
  overdueWord: 'overdue',
  notBegun: 'not begun',
  learners: 'Learners',
  status: 'Status',
  doneOn: 'Done on',
  scoreTitle: 'Score',
  dueTitle: 'Due',
  exemptWord: 'Exempt',
  table: 'Groups by course',
  overdue: (count: number) => `${showNumber(count)} overdue`,
  underWay: (count: number) => `${showNumber(count)} under way`,
  ofAll: (done: number, all: number) => `${showNumber(done)} of ${showNumber(all)}`,
  details: (score: number | null, due: string | null) =>
    [score === null ? [] : `score ${Math.round(score)}`, due ? `due ${showDay(due)}` : []]
      .flat()
      .map((part) => `· ${part}`)
      .join(' '),
  statusOf: (status: Status, lateness: Lateness) => statusWords[status] + latenessWords[lateness],
  bar: (all: number, done: number, underWay: number, overdue: number) =>
    `${progress.ofAll(done, all)} done, ${progress.underWay(underWay)}${overdue > 0 ? `, ${progress.overdue(overdue)}` : ''}`,
  enrolments: (count: string) => `${count} enrolments`,
  exempt: (count: number) => `${showNumber(count)} exempt`,
  perWeek: 'Done per week, last 12 weeks',
  meanScore: 'Mean score by group',
  noScores: 'No scores yet.',
  nobody: 'nobody',
  nothingFits: 'Nobody fits the filters.',
  nothingOpen: 'No course is open to these groups yet. Open one under Access.',
  weeksSpoken: (weeks: string) => `Enrolments done per week. ${weeks}`,
  weekTip: (day: string, done: number) => `Week of ${day}: ${showNumber(done)} done`,
  allExempt: 'exempt',
  mean: (score: string) => `mean ${score}`,
  goDown: 'Go down to this group',
  key: 'overdue. Select a number to see who, or a group’s name to go down a level.',
  cellTitle: (tally: Tally) =>
    `${progress.ofAll(tally.done, tally.all - tally.exempt)} done, ${progress.underWay(tally.underWay)}, ${progress.overdue(tally.overdue)}${tally.exempt > 0 ? `, ${progress.exempt(tally.exempt)}` : ''}`,
  cellLabel: (group: string, course: string, tally: Tally) => `${course} at ${group}: ${progress.cellTitle(tally)}`,
  cellDialog: (course: string, group: string) => `${course} at ${group}`,
};
