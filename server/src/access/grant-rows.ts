import type { Day, Grant } from '@gate-roster/core';

/** An open of all units for one person, that is not made yet; the `index`-th of its change. */
export const grantOnPerson = (made: {
  person: number;
  courseId: number;
  makerBranch: number | null;
  madeDay: Day;
  index: number;
}): Grant => ({
  id: -1 - made.index,
  at: { person: made.person },
  about: { course: made.courseId },
  effect: 'open',
  firm: false,
  firstDay: null,
  lastDay: null,
  units: null,
  due: null,
  payers: null,
  makerBranch: made.makerBranch,
  madeDay: made.madeDay,
});

/** The columns of a statement that begins now. */
export const grantColumns = (grant: Grant, madeBy: number): Record<string, unknown> => ({
  person_id: 'person' in grant.at ? grant.at.person : null,
  group_id: 'group' in grant.at ? grant.at.group : null,
  with_subgroups: 'group' in grant.at ? grant.at.withSubgroups : true,
  course_id: 'course' in grant.about ? grant.about.course : null,
  course_set_id: 'courseSet' in grant.about ? grant.about.courseSet : null,
  effect: grant.effect,
  firm: grant.firm,
  first_day: grant.firstDay,
  last_day: grant.lastDay,
  units: grant.units,
  due_day: grant.due && 'day' in grant.due.at ? grant.due.at.day : null,
  due_days: grant.due && 'days' in grant.due.at ? grant.due.at.days : null,
  due_least_days: grant.due?.leastDays ?? null,
  due_firm: grant.due?.firm ?? false,
  licences: grant.payers?.licences ?? null,
  other_licences: grant.payers?.others ?? true,
  maker_branch_id: grant.makerBranch,
  by_request: grant.byRequest ?? false,
  made_by: madeBy,
  made_at: new Date().toISOString(),
});
