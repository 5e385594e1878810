/** Enrolments of some people in some courses, added up. All are counts of enrolments. */
export interface Tally {
  all: number;
  done: number;
  underWay: number;
  exempt: number;
  overdue: number;
  /** Sum and number of the scores there are. */
  scoreSum: number;
  scored: number;
}

export const emptyTally: Tally = { all: 0, done: 0, underWay: 0, exempt: 0, overdue: 0, scoreSum: 0, scored: 0 };

export const addTallies = (a: Tally, b: Tally): Tally => ({
  all: a.all + b.all,
  done: a.done + b.done,
  underWay: a.underWay + b.underWay,
  exempt: a.exempt + b.exempt,
  overdue: a.overdue + b.overdue,
  scoreSum: a.scoreSum + b.scoreSum,
  scored: a.scored + b.scored,
});

export const notBegun = (tally: Tally): number => tally.all - tally.exempt - tally.done - tally.underWay;

/** Scores from 0 to 100 in tens; 100 counts with the last. */
export const scoreTens = 10;
export const tenOf = (score: number): number => Math.min(scoreTens - 1, Math.max(0, Math.floor(score / 10)));

/** done / (all − exempt), 0 to 1; null when nobody is left to count. */
export const completion = (tally: Tally): number | null => (tally.all > tally.exempt ? tally.done / (tally.all - tally.exempt) : null);

/** Over those that have a score; null when none has. */
export const meanScore = (tally: Tally): number | null => (tally.scored > 0 ? tally.scoreSum / tally.scored : null);
