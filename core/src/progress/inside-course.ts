import type { UnitId } from '../access/grant.ts';
import { daysBetween, type Day } from '../time/day.ts';

/** Somebody who is under way and has done nothing for so many days has stopped. */
export const stoppedAfterDays = 14;

export interface PlacedActivity {
  id: number;
  unitId: UnitId;
}

export interface WorkedActivity {
  activityId: number;
  finished: boolean;
  /** The day of the last report on it. */
  lastDay: Day;
}

/**
 * Where somebody is in a course: the first activity of the open units, in their order, that is not finished.
 * @returns null when all are finished, or none is open.
 */
export function placeIn(
  activities: readonly PlacedActivity[],
  openUnits: readonly UnitId[],
  worked: readonly WorkedActivity[],
): number | null {
  const finished = new Set(worked.flatMap(({ activityId, finished: is }) => (is ? [activityId] : [])));
  return activities.find(({ id, unitId }) => openUnits.includes(unitId) && !finished.has(id))?.id ?? null;
}

/** Has somebody who is under way stopped there? Somebody who has reported nothing has not begun, and so has not stopped. */
export function hasStopped(worked: readonly WorkedActivity[], today: Day): boolean {
  const last = worked
    .map(({ lastDay }) => lastDay)
    .sort()
    .at(-1);
  return last !== undefined && daysBetween(last, today) >= stoppedAfterDays;
}

/**
 * Days from finishing one unit to finishing the next one.
 * @returns null when one of the two is not finished; negative when they were finished the other way round.
 */
export function daysFromUnitToUnit(
  activities: readonly PlacedActivity[],
  [from, to]: readonly [UnitId, UnitId],
  worked: readonly WorkedActivity[],
): number | null {
  const finishedOn = (unit: UnitId): Day | null => {
    const own = activities.filter(({ unitId }) => unitId === unit);
    const done = own.flatMap(({ id }) => worked.find(({ activityId, finished }) => activityId === id && finished)?.lastDay ?? []);
    return own.length > 0 && done.length === own.length ? (done.sort().at(-1) ?? null) : null;
  };
  const [first, then] = [finishedOn(from), finishedOn(to)];
  return first === null || then === null ? null : daysBetween(first, then);
}
