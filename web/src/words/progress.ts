import type { BetweenKind, InsideCourse, LearnerCell, NewsKind } from '@gate-roster/contract';
import { daysBetween, type FilterPart, type Lateness, type Status, type Tally } from '@gate-roster/core';
import { showDay, showMonth, showNumber, showScore } from '../ui/format.ts';
import { figures } from './figures.ts';
import { some } from './grammar.ts';

export const statusWords: Record<Status, string> = { 'not begun': 'Not begun', 'under way': 'Under way', done: 'Done' };

const latenessWords: Record<Lateness, string> = {
  'on time': '',
  'due soon': ', due soon',
  overdue: ', overdue',
  'done late': ' late',
};

export const progress = {
  levelsLabel: 'Levels of subgroups',
  levels: (count: number) => (count === 0 ? 'As many as fit' : String(count)),
  rowsLabel: 'Rows',
  rowKinds: { groups: 'Groups', tags: 'Tags', leaders: 'Leaders', months: 'Months of joining' },
  rowHeads: { groups: 'Group', tags: 'Tag', leaders: 'Leader', months: 'Joined in' },
  rowName: ({ name, part }: { name: string; part: FilterPart | null }): string => (part?.part === 'came' ? showMonth(name) : name),
  filterBy: 'Show the groups of these learners',
  sortBy: (course: string): string => `Sort by how much of ${course} is done`,
  sortLearnersBy: (course: string): string => `Sort by ${course}: who is late or due first, then not begun, under way, done`,
  beside: {
    counted: 'Counted on',
    counts: [
      { title: 'all units each has open', value: 'own' },
      { title: 'the units open to all of them', value: 'common' },
    ],
    onDay: (group: string, day: string) => `${group} on ${day}`,
    title: 'Side by side',
    add: 'Add a group',
    drop: (name: string) => `Leave out ${name}`,
    courses: 'Courses',
    coursesShown: (count: number) => some(count, 'course', 'courses'),
    none: 'Choose two to six groups.',
    scores: 'Scores: middle half and median',
    overdue: 'Overdue',
    learners: (learners: number, ofAll: number, isSmall: boolean) =>
      `${learners === ofAll ? some(learners, 'learner', 'learners') : `${showNumber(learners)} of ${some(ofAll, 'learner', 'learners')}`}${isSmall ? ', few: read with care' : ''}`,
    eachOnce: (learners: number) => `${some(learners, 'learner', 'learners')}, each once`,
    quartiles: ({ low, median, high, of }: { low: number; median: number; high: number; of: number }) =>
      `Half of ${some(of, 'score', 'scores')} are between ${Math.round(low)} and ${Math.round(high)}, the median is ${Math.round(median)}.`,
    apartTitle: 'Where they are furthest apart',
    apart: (course: string, points: number, least: string, most: string, isSmall: boolean) =>
      `${course}: ${some(points, 'point', 'points')} between ${least} and ${most}.${isSmall ? ' Few have it: read with care.' : ''}`,
    notApart: 'They have no course in common.',
  },
  takeAway: 'Take away…',
  asCsv: 'As CSV',
  asWorkbook: 'As a workbook (XLSX)',
  asSheets: 'As a workbook, with a sheet for each group',
  asPaper: { A4: 'As a PDF with charts, A4', Letter: 'As a PDF with charts, Letter' },
  asJson: 'As JSON',
  makingFile: 'Making the file',
  fileFailed: 'The file could not be made.',
  fileStopped: 'Stopped. No file was made.',
  title: 'Progress',
  news: {
    label: 'Since you last looked',
    since: (ago: string) => `Since you last looked (${ago}):`,
    nothing: 'nothing new.',
    kinds: {
      finished: (people: number) => `${some(people, 'learner has', 'learners have')} finished a course`,
      overdue: (people: number) => `${some(people, 'learner is', 'learners are')} newly overdue`,
      stuck: (people: number) => `${some(people, 'learner', 'learners')} stopped in the middle of a course`,
      joined: (people: number) => `${some(people, 'learner', 'learners')} came in`,
    } satisfies Record<NewsKind, (people: number) => string>,
    more: (people: number) => `and ${showNumber(people)} more`,
  },
  between: {
    open: 'What changed since…',
    since: 'Changed since',
    label: 'What changed between two days',
    span: (from: string, until: string) => `From the end of ${from} to ${until}:`,
    nothing: 'nothing changed.',
    kinds: {
      came: (people: number) => `${some(people, 'learner', 'learners')} came`,
      left: (people: number) => `${some(people, 'learner', 'learners')} left`,
      began: (people: number) => `${some(people, 'learner', 'learners')} began a course`,
      finished: (people: number) => `${some(people, 'learner', 'learners')} finished a course`,
      overdue: (people: number) => `${some(people, 'learner', 'learners')} became overdue`,
    } satisfies Record<BetweenKind, (people: number) => string>,
  },
  past: {
    asToday: 'Names, my lists, who leads and when somebody was last active are as of today.',
    noActs: 'Go back to today to write to people or change something.',
  },
  viewsLabel: 'Views of progress',
  handedIn: (waiting: number | null) => (waiting ? `Handed in ${showNumber(waiting)}` : 'Handed in'),
  views: {
    groups: 'By group',
    learners: 'By learner',
    course: 'Inside a course',
    beside: 'Side by side',
    'handed-in': 'Handed in',
    skills: 'Skills',
    certificates: 'Certificates',
  },
  inside: {
    title: (course: string) => `Learners by activity in ${course}`,
    figures: ({ all, done, underWay, exempt }: InsideCourse['figures']) =>
      `${some(all, 'learner', 'learners')}: ${showNumber(done)} done, ${showNumber(underWay)} under way, ${showNumber(all - done - underWay - exempt)} not begun${exempt > 0 ? `, ${showNumber(exempt)} exempt` : ''}`,
    unit: (number: number, name: string) => `${number} ${name}`,
    finishedTitle: 'Finished',
    finished: (done: number, all: number) => `${done} of ${all}`,
    stoppedHere: 'How many stopped here',
    chooseStopped: (people: number, activity: string) => `Choose ${some(people, 'person', 'people')} who stopped at ${activity}`,
    choose: (people: number) => `Choose ${people === 1 ? 'this one' : `these ${showNumber(people)}`}`,
    stopTitle: 'Where they stop',
    place: (short: string, name: string) => `${short}, ${name}:`,
    stopped: (people: number, underWay: number) =>
      `${showNumber(people)} of ${showNumber(underWay)} under way finished what comes before it, and did nothing for 14 days.`,
    nobodyStopped: 'Nobody who is under way has been idle for 14 days.',
    daysTitle: 'Days from unit to unit',
    daysKey: 'The line is the median, the bar the middle half.',
    noDays: 'Nobody has finished two units in a row yet.',
    units: 'Units',
    medianDays: 'Median days',
    step: (number: number) => `${number} to ${number + 1}`,
    quartiles: (low: number, median: number, high: number, people: number) =>
      `Median ${Math.round(median)} days, middle half ${Math.round(low)} to ${Math.round(high)}, of ${some(people, 'learner', 'learners')}`,
    states: { done: 'finished', here: 'is here', begun: 'begun', none: 'not begun', closed: 'not open' },
    mark: (activity: string, state: string, score: string | null) => `${activity}: ${state}${score === null ? '' : `, score ${score}`}`,
  },
  byLearner: 'Learners by course',
  nextDue: 'Next due',
  learnerCell(cell: LearnerCell, today: string): string {
    if (cell.exempt) return 'exempt';
    if (cell.status === 'done') return cell.score === null ? 'done' : showScore(cell.score);
    if (cell.lateness === 'overdue' && cell.due) return `${some(daysBetween(cell.due, today), 'day', 'days')} late`;
    if (cell.inLine !== null) return `in line, ${cell.inLine}`;
    return cell.status === 'under way' ? `${cell.unitsDone} of ${cell.units}` : 'not begun';
  },
  learnerCellTitle: (cell: LearnerCell) =>
    [
      progress.statusOf(cell.status, cell.lateness),
      `${cell.unitsDone} of ${some(cell.units, 'unit', 'units')} done`,
      ...(cell.due ? [`due ${showDay(cell.due)}`] : []),
      ...(cell.doneDay ? [`done ${showDay(cell.doneDay)}`] : []),
      ...(cell.open ? [] : ['not open any more']),
    ].join(', '),
  learnerKey:
    'Done with the score, under way with the units done, overdue, not begun, or in line for a seat. A dash: not open. Select a name or a cell to see units and why.',
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
  details: (score: number | null, due: string | null) =>
    [score === null ? [] : `score ${Math.round(score)}`, due ? `due ${showDay(due)}` : []]
      .flat()
      .map((part) => `· ${part}`)
      .join(' '),
  statusOf: (status: Status, lateness: Lateness) => statusWords[status] + latenessWords[lateness],
  enrolments: (count: string) => `${count} enrolments`,
  exempt: (count: number) => `${showNumber(count)} exempt`,
  perWeek: 'Done per week, last 12 weeks',
  scoresLabel: 'Scores',
  scoreKinds: { mean: 'Mean', median: 'Median' },
  scoreBy: { mean: 'Mean score', median: 'Median score' },
  tens: 'Scores',
  score: 'Score',
  enrolmentsHead: 'Enrolments',
  ten: (index: number) => `${index * 10} to ${index === 9 ? 100 : index * 10 + 9}`,
  tenTip: (ten: string, count: number) => `${ten}: ${showNumber(count)}`,
  tensSpoken: (tens: string) => `Enrolments by score. ${tens}`,
  noScores: 'No scores yet.',
  nobody: 'nobody',
  nothingFits: 'Nobody fits the filters.',
  nothingOpen: 'No course is open to these groups yet. Open one under Access.',
  weeksSpoken: (weeks: string) => `Enrolments done per week. ${weeks}`,
  weekAbove: (name: string, done: number) => `${name} scaled to this size: ${showNumber(Math.round(done))}`,
  dashed: (name: string) => `Dashed: ${name}, scaled to this size`,
  weekTip: (day: string, done: number) => `Week of ${day}: ${showNumber(done)} done`,
  allExempt: 'exempt',
  scoreOf: { mean: (score: string) => `mean ${score}`, median: (score: string) => `median ${score}` },
  goDown: 'Go down to this group',
  key: 'overdue. Select a number to see who, or a name to go to its groups.',
  cellTitle: (tally: Tally) =>
    `${figures.ofAll(tally.done, tally.all - tally.exempt)} done, ${figures.underWay(tally.underWay)}, ${figures.overdue(tally.overdue)}${tally.exempt > 0 ? `, ${progress.exempt(tally.exempt)}` : ''}`,
  cellLabel: (group: string, course: string, tally: Tally) => `${course} at ${group}: ${progress.cellTitle(tally)}`,
  cellDialog: (course: string, group: string) => `${course} at ${group}`,
};
