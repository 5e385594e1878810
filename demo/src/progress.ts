import { addDays, type Day, daysBetween, later } from '@gate-roster/core';
import type { CourseContent } from './courses.ts';
import type { Random } from './random.ts';

/** A person to whom a course is open today. */
export interface Entitled {
  personId: number;
  courseId: number;
  units: number[];
  viaGroups: number[];
  since: Day;
}

type Cell = string | number | boolean | null | readonly number[];

/** A year of work: most have done the basics, some are in the middle, some have not begun, a few are exempt. */
export function makeProgress(
  random: Random,
  entitled: readonly Entitled[],
  activities: CourseContent['activities'],
  today: Day,
  learnerId: number,
): { enrolments: Cell[][]; results: Cell[][] } {
  const enrolments: Cell[][] = [];
  const results: Cell[][] = [];
  const diligence = new Map<number, number>();
  for (const { personId, courseId, units, viaGroups, since } of entitled) {
    if (!diligence.has(personId)) diligence.set(personId, random.next());
    const zeal = diligence.get(personId) ?? 0;
    const draw = random.next() * 0.45 + zeal * 0.55;
    // Stations differ: some drill more than others.
    const drill = (((viaGroups[0] ?? 0) * 37) % 11) / 11;
    const easy = (courseAppeal[courseId] ?? 0.5) + (drill - 0.5) * 0.16;
    const content = (activities.get(courseId) ?? []).filter(({ unitId }) => units.includes(unitId));
    const isLearner = personId === learnerId;
    if (!isLearner && random.chance(0.008)) {
      enrolments.push([
        enrolments.length + 1,
        personId,
        courseId,
        'not begun',
        null,
        null,
        null,
        null,
        0,
        true,
        'Has the certificate of another service',
        viaGroups,
      ]);
      continue;
    }
    // The demo's learner has one course done, one begun, and the rest to do.
    const share = isLearner
      ? courseId === 4
        ? 1
        : courseId === 1
          ? 0.4
          : 0
      : draw > 1 - easy
        ? 1
        : draw > 0.85 - easy
          ? random.next()
          : 0;
    const count = Math.floor(content.length * share);
    if (count === 0) continue;
    const earliest = later(since, addDays(today, -365));
    const begun = addDays(earliest, random.whole(0, Math.max(0, Math.floor(daysBetween(earliest, today) * 0.8))));
    const last = addDays(begun, random.whole(0, Math.max(0, Math.min(40, daysBetween(begun, today)))));
    const isDone = count === content.length;
    const scores: number[] = [];
    const id = enrolments.length + 1;
    const length = daysBetween(begun, last);
    content.slice(0, count).forEach(({ id: activityId, scored }, index) => {
      const score = scored
        ? Math.min(
            100,
            [50, 75, 75, 100, 100][random.whole(zeal + drill > 1.2 ? 2 : zeal + drill > 0.6 ? 1 : 0, drill > 0.4 ? 4 : 3)] ?? 75,
          )
        : null;
      const passing = score === null ? null : isDone ? Math.max(score, 75) : score;
      if (passing !== null) scores.push(passing);
      // One after the other from the day on which they began to the last one; some units take longer than others.
      const day = count === 1 ? last : addDays(begun, Math.round(length * (index / (count - 1)) ** (courseId % 2 === 0 ? 0.7 : 1.4)));
      results.push([id, activityId, true, passing, `${day}T1${random.whole(0, 9)}:${random.whole(10, 59)}:00Z`]);
    });
    const score = scores.length === 0 ? null : scores.reduce((sum, each) => sum + each, 0) / scores.length;
    enrolments.push([
      id,
      personId,
      courseId,
      isDone ? 'done' : 'under way',
      `${begun}T08:30:00Z`,
      isDone ? `${last}T19:00:00Z` : null,
      isDone ? last : null,
      score,
      count,
      false,
      null,
      viaGroups,
    ]);
  }
  return { enrolments, results };
}

/** How readily a course is finished, by its number in the world: 0 to 1. */
const courseAppeal: Record<number, number> = {
  1: 0.72,
  2: 0.5,
  3: 0.58,
  4: 0.78,
  5: 0.42,
  6: 0.3,
  7: 0.33,
  8: 0.2,
  9: 0.84,
  10: 0.6,
  11: 0.45,
  12: 0.65,
};
