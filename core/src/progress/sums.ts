import { exemptBit, noDay, statusBits } from './enrolment-columns.ts';
import { type Tally, type TallyFigure, tallyFigures, tallyOf } from './figures.ts';

/* Sums of enrolments by course, as numbers next to one another: a row of them for each course by its number. */

/** Where in a row of sums each figure lies. */
const placeOf = (figure: TallyFigure): number => tallyFigures.indexOf(figure);
const allAt = placeOf('all');
const doneAt = placeOf('done');
const underWayAt = placeOf('underWay');
const exemptAt = placeOf('exempt');
const overdueAt = placeOf('overdue');
const scoreSumAt = placeOf('scoreSum');
const scoredAt = placeOf('scored');
export const sumWidth = tallyFigures.length;

/** Done or exempt, by its bits: it cannot become overdue. */
export const isSettled = (fact: number): boolean => (fact & statusBits) === 2 || (fact & exemptBit) !== 0;

/** Adds a row of columns to the sums of its course, which begin at a place. @param due As the reader knows it. */
export function addOneRow(sums: Float64Array, place: number, fact: number, points: number, due: number, now: number): void {
  sums[place + allAt]!++;
  if ((fact & exemptBit) !== 0) {
    sums[place + exemptAt]!++;
    return;
  }
  if ((fact & statusBits) === 2) sums[place + doneAt]!++;
  else if (due !== noDay && due < now) sums[place + overdueAt]!++;
  if ((fact & statusBits) === 1) sums[place + underWayAt]!++;
  if (points === points) {
    sums[place + scoreSumAt]! += points;
    sums[place + scoredAt]!++;
  }
}

const tallyAt = (sums: Float64Array, place: number): Tally => tallyOf((_, figure) => sums[place * sumWidth + figure] ?? 0);

export function totalOf(sums: Float64Array): Tally {
  const total = new Float64Array(sumWidth);
  for (let at = 0; at < sums.length; at++) total[at % sumWidth]! += sums[at] ?? 0;
  return tallyAt(total, 0);
}

/** Of courses one after the other. As two arrays they are quickly sent to another thread. */
export interface CourseSums {
  courseIds: Float64Array;
  sums: Float64Array;
}

/** Those without any are left out. @param ids Of the courses, by number. */
export function courseSumsOf(sums: Float64Array, ids: readonly number[]): CourseSums {
  const places = [...ids.keys()].filter((place) => (sums[place * sumWidth + allAt] ?? 0) > 0);
  const kept = new Float64Array(places.length * sumWidth);
  places.forEach((place, index) => {
    kept.set(sums.subarray(place * sumWidth, (place + 1) * sumWidth), index * sumWidth);
  });
  return { courseIds: Float64Array.from(places, (place) => ids[place] ?? 0), sums: kept };
}

/** By course. */
export const talliesOf = ({ courseIds, sums }: CourseSums): Map<number, Tally> =>
  new Map([...courseIds].map((id, place) => [id, tallyAt(sums, place)]));
