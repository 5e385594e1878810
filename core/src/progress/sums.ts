import { type EnrolmentColumns, exemptBit, noDay, statusBits } from './enrolment-columns.ts';
import type { Tally } from './figures.ts';

/* Sums of enrolments by course, as numbers next to one another: a row of them for each course by its number. */

/** Where in a row of sums each number lies. */
export const [allAt, doneAt, underWayAt, exemptAt, overdueAt, scoreSumAt, scoredAt, sumWidth] = [0, 1, 2, 3, 4, 5, 6, 7] as const;

/** Adds a row of columns to the sums of its course, which begin at a place. @param due As the reader knows it. */
export function addOneRow(
  sums: Float64Array,
  place: number,
  { facts, score }: EnrolmentColumns,
  at: number,
  due: number,
  now: number,
): void {
  sums[place + allAt]!++;
  const fact = facts[at] ?? 0;
  if ((fact & exemptBit) !== 0) {
    sums[place + exemptAt]!++;
    return;
  }
  if ((fact & statusBits) === 2) sums[place + doneAt]!++;
  else if (due !== noDay && due < now) sums[place + overdueAt]!++;
  if ((fact & statusBits) === 1) sums[place + underWayAt]!++;
  const points = score[at] ?? NaN;
  if (points === points) {
    sums[place + scoreSumAt]! += points;
    sums[place + scoredAt]!++;
  }
}

const tallyAt = (sums: Float64Array, place: number): Tally => {
  const at = (field: number): number => sums[place * sumWidth + field] ?? 0;
  return {
    all: at(allAt),
    done: at(doneAt),
    underWay: at(underWayAt),
    exempt: at(exemptAt),
    overdue: at(overdueAt),
    scoreSum: at(scoreSumAt),
    scored: at(scoredAt),
  };
};

export function totalOf(sums: Float64Array): Tally {
  const total = new Float64Array(sumWidth);
  for (let at = 0; at < sums.length; at++) total[at % sumWidth]! += sums[at] ?? 0;
  return tallyAt(total, 0);
}

/** By course; those without any are left out. @param ids Of the courses, by number. */
export const talliesOf = (sums: Float64Array, ids: readonly number[]): Map<number, Tally> =>
  new Map(ids.flatMap((id, place) => ((sums[place * sumWidth + allAt] ?? 0) > 0 ? [[id, tallyAt(sums, place)] as const] : [])));
