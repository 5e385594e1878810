import type { UnitId } from '../access/grant.ts';
import type { Status } from '../courses/status.ts';
import { daysBetween, type Day } from '../time/day.ts';
import { dayNumber } from './enrolment-columns.ts';
import { type Quartiles, quartilesOf } from './score-list.ts';

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
 * Days from finishing one unit to finishing the next one, of one learner: what tests hold `insideSums` against.
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

/** What is known of one learner of a course. */
export interface LearnerInside {
  status: Status;
  exempt: boolean;
  openUnits: readonly UnitId[];
  worked: readonly WorkedActivity[];
}

export interface InsideSums {
  figures: { all: number; done: number; underWay: number; exempt: number };
  /** How many have stopped at an activity. */
  stops: { activityId: number; people: number }[];
  /** From finishing a unit to finishing the next one that has activities. */
  days: ({ unitId: UnitId; people: number } & Omit<Quartiles, 'of'>)[];
}

/** The day on which the last of these activities was finished; null: some are not, or there are none. */
function allFinishedOn(activities: readonly number[], worked: readonly WorkedActivity[]): Day | null {
  let last: Day | null = null;
  for (const id of activities) {
    const day = worked.find(({ activityId, finished }) => activityId === id && finished)?.lastDay;
    if (day === undefined) return null;
    if (last === null || day > last) last = day;
  }
  return last;
}

/** What the learners of a course come to; each unit is looked at once for each learner. @param activities In the order of their units. */
export function insideSums(learners: Iterable<LearnerInside>, activities: readonly PlacedActivity[], today: Day): InsideSums {
  const units = [...new Set(activities.map(({ unitId }) => unitId))];
  const figures = { all: 0, done: 0, underWay: 0, exempt: 0 };
  const stops = new Map<number, number>();
  const ofUnits = units.map((unit) => activities.flatMap(({ id, unitId }) => (unitId === unit ? [id] : [])));
  const steps = units.slice(1).map((_, index) => ({ from: units[index] ?? 0, days: [] as number[] }));
  // Many have finished on the same days.
  const numbers = new Map<Day, number>();
  const numberOf = (day: Day): number => {
    const known = numbers.get(day) ?? dayNumber(day);
    numbers.set(day, known);
    return known;
  };
  for (const { status, exempt, openUnits, worked } of learners) {
    figures.all++;
    if (exempt) figures.exempt++;
    else if (status === 'done') figures.done++;
    else if (status === 'under way') {
      figures.underWay++;
      const at = hasStopped(worked, today) ? placeIn(activities, openUnits, worked) : null;
      if (at !== null) stops.set(at, (stops.get(at) ?? 0) + 1);
    }
    if (worked.length === 0) continue;
    const finishedOn = ofUnits.map((own) => allFinishedOn(own, worked));
    for (const [index, { days }] of steps.entries()) {
      const [first, then] = [finishedOn[index] ?? null, finishedOn[index + 1] ?? null];
      if (first !== null && then !== null) days.push(numberOf(then) - numberOf(first));
    }
  }
  return {
    figures,
    stops: [...stops].map(([activityId, people]) => ({ activityId, people })),
    days: steps.flatMap(({ from, days }) => {
      const quartiles = quartilesOf(days);
      if (quartiles === null) return [];
      const { of, ...quarters } = quartiles;
      return [{ unitId: from, people: of, ...quarters }];
    }),
  };
}
