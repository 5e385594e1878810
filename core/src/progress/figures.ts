/** Figures of enrolments that can be added up. All but `scoreSum` are counts; `scoreSum` and `scored`: sum and number of the scores there are. */
export const tallyFigures = ['all', 'done', 'underWay', 'exempt', 'overdue', 'scoreSum', 'scored'] as const;
export type TallyFigure = (typeof tallyFigures)[number];
/** Enrolments of some people in some courses, added up. */
export type Tally = Record<TallyFigure, number>;

export const emptyTally: Tally = { all: 0, done: 0, underWay: 0, exempt: 0, overdue: 0, scoreSum: 0, scored: 0 };

/** @param value What each figure is, with its place among them. */
export function tallyOf(value: (figure: TallyFigure, place: number) => number): Tally {
  const tally = { ...emptyTally };
  tallyFigures.forEach((figure, place) => {
    tally[figure] = value(figure, place);
  });
  return tally;
}

export const addTallies = (a: Tally, b: Tally): Tally => tallyOf((figure) => a[figure] + b[figure]);

export const notBegun = (tally: Tally): number => tally.all - tally.exempt - tally.done - tally.underWay;

/** Scores from 0 to 100 in tens; 100 counts with the last. */
export const scoreTens = 10;
export const tenOf = (score: number): number => Math.min(scoreTens - 1, Math.max(0, Math.floor(score / 10)));

/** done / (all − exempt), 0 to 1; null when nobody is left to count. */
export const completion = (tally: Tally): number | null => (tally.all > tally.exempt ? tally.done / (tally.all - tally.exempt) : null);

/** Over those that have a score; null when none has. */
export const meanScore = (tally: Tally): number | null => (tally.scored > 0 ? tally.scoreSum / tally.scored : null);
