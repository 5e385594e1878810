/** How many enrolments a branch has, those that are exempt left out, and how many were done in each week. */
export interface WeeksOfBranch {
  enrolments: number;
  weeks: readonly { done: number }[];
}

/**
 * What the branch above did week by week, as if it had as many enrolments as the scope: so one sees who is faster, and not who is larger.
 * @returns Null when there is nothing to hold it against.
 * @example 30 done in a week by a branch of 600 enrolments are 5 beside a scope of 100.
 */
export const heldAgainst = (enrolments: number, above: WeeksOfBranch | null): number[] | null =>
  above === null || above.enrolments === 0 || enrolments === 0
    ? null
    : above.weeks.map(({ done }) => Math.round(((done * enrolments) / above.enrolments) * 10) / 10);
