import type { BranchAbove } from '@gate-roster/contract';

/**
 * What the branch above did week by week, as if it had as many enrolments as the scope: so one sees who is faster, and not who is larger.
 * @returns Null when there is nothing to hold it against.
 * @example 30 done in a week by a branch of 600 enrolments are 5 beside a scope of 100.
 */
export const heldAgainst = (enrolments: number, above: BranchAbove): number[] | null =>
  above === null || above.enrolments === 0 || enrolments === 0
    ? null
    : above.weeks.map(({ done }) => Math.round(((done * enrolments) / above.enrolments) * 10) / 10);
