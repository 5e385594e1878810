import { createHash } from 'node:crypto';

export interface Exercise {
  question: string;
  answers: number[];
  right: number;
}

export const exercisesPerActivity = 4;

/**
 * Small sums of seamanship that stand in for an activity's content: the same for everybody and every time.
 * Marked here, on the player's server; the browser never has the right answers.
 */
export function exercisesOf(activityId: number): Exercise[] {
  return Array.from({ length: exercisesPerActivity }, (_, index) => {
    const seed = createHash('sha256').update(`${activityId}/${index}`).digest();
    const pick = (at: number, from: readonly number[]): number => from[(seed[at] ?? 0) % from.length] ?? 0;
    const knots = pick(0, [6, 8, 10, 12, 18, 24]);
    const minutes = pick(1, [15, 20, 30, 45, 60, 90]);
    const right = (knots * minutes) / 60;
    const places = [0, 1, 2, 3].map((place) => (place + (seed[2] ?? 0)) % 4);
    const offered = [right, right + 1, right * 2, right + 3.5];
    const answers = places.map((place) => offered[place] ?? 0);
    return {
      question: `At ${knots} knots for ${minutes} minutes, how many nautical miles does the boat run?`,
      answers,
      right: answers.indexOf(right),
    };
  });
}

/** 0 to 1: the share of right answers. */
export function mark(activityId: number, given: readonly number[]): number {
  return exercisesOf(activityId).filter(({ right }, index) => given[index] === right).length / exercisesPerActivity;
}
