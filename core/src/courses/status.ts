import { addDays, type Day } from '../time/day.ts';
import type { UnitId } from '../access/grant.ts';

export type Status = 'not begun' | 'under way' | 'done';
export type Lateness = 'on time' | 'due soon' | 'overdue' | 'done late';

/** An open enrolment is due soon from so many days before its due day on, unless the site sets another number. */
export const usualDueSoonDays = 7;

export interface ActivityFacts {
  id: number;
  unitId: UnitId;
  /** Counts into the mean score. */
  scored: boolean;
}

/** What one person has done in one activity, the best of all tries. */
export interface ActivityResult {
  activityId: number;
  finished: boolean;
  /** 0 to 100; null when the activity gives none. */
  score: number | null;
}

export interface CourseRule {
  /** Named activities that make it done; null: all activities of the units open to the person. */
  activities: readonly number[] | null;
  /** 0 to 100; null when any score will do. */
  passScore: number | null;
}

export interface Standing {
  status: Status;
  /** Mean of the scored activities that have a score; null when none has: a missing score is never 0. */
  score: number | null;
  finishedActivities: number;
  neededActivities: number;
}

/** How far one person is in one course, over the units that are open to them. */
export function standing(
  activities: readonly ActivityFacts[],
  openUnits: readonly UnitId[],
  results: readonly ActivityResult[],
  rule: CourseRule,
): Standing {
  const byActivity = new Map(results.map((result) => [result.activityId, result]));
  const needed = activities.filter((activity) =>
    rule.activities ? rule.activities.includes(activity.id) : openUnits.includes(activity.unitId),
  );
  const finished = needed.filter((activity) => byActivity.get(activity.id)?.finished);
  const scores = activities.flatMap((activity) => (activity.scored ? (byActivity.get(activity.id)?.score ?? []) : []));
  const score = scores.length === 0 ? null : scores.reduce((sum, each) => sum + each, 0) / scores.length;
  const passed = rule.passScore === null || (score !== null && score >= rule.passScore);
  const isDone = needed.length > 0 && finished.length === needed.length && passed;
  return {
    status: isDone ? 'done' : results.length > 0 ? 'under way' : 'not begun',
    score,
    finishedActivities: finished.length,
    neededActivities: needed.length,
  };
}

/** A second fact beside the status. `doneDay` null: not done. */
export function lateness(due: Day | null, doneDay: Day | null, today: Day, dueSoonDays = usualDueSoonDays): Lateness {
  if (due === null) return 'on time';
  if (doneDay !== null) return doneDay > due ? 'done late' : 'on time';
  if (due < today) return 'overdue';
  return due <= addDays(today, dueSoonDays) ? 'due soon' : 'on time';
}
