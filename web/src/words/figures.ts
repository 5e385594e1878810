import { showNumber } from '../ui/format.ts';
import { many } from './grammar.ts';

/** The short figures of a group and of a list of people: in a module of their own, since the first screen shows them. */
export const figures = {
  bringIn: 'Bring in a file',
  endOfPeriod: 'End of a period…',
  splits: 'Splits',
  codesOpen: (count: number) => many(count, 'code open', 'codes open'),
  nobodyAsks: 'nobody asks',
  courses: 'Courses',
  coursesOpen: 'open',
  noCourses: 'no course open',
  coursesFromAbove: (above: number, blocked: number) => `${above} from above${blocked > 0 ? `, ${blocked} blocked` : ''}`,
  seatsInUse: 'in use',
  seatsWaiting: (count: number) => `${showNumber(count)} in line`,
  nobodyWaits: 'nobody in line',
  done: 'done',
  overdue: (count: number) => `${showNumber(count)} overdue`,
  underWay: (count: number) => `${showNumber(count)} under way`,
  ofAll: (done: number, all: number) => `${showNumber(done)} of ${showNumber(all)}`,
  bar: (all: number, done: number, underWay: number, overdue: number): string =>
    `${figures.ofAll(done, all)} done, ${figures.underWay(underWay)}${overdue > 0 ? `, ${figures.overdue(overdue)}` : ''}`,
};
