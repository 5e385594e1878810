import type { Day } from '../time/day.ts';

/** What is known of somebody who cannot get in, as far as the helper may know it. Moments are ISO texts in UTC. */
export interface SignInFacts {
  state: 'asking' | 'active' | 'paused' | 'ended';
  firstDay: Day | null;
  lastDay: Day | null;
  hasPassword: boolean;
  hasAddress: boolean;
  /** Whether they ever came in. */
  hasSignedIn: boolean;
  /** The last sign-in that failed, when none succeeded after it. */
  lastWrongAt: string | null;
  /** Until when further tries are refused. */
  slowedUntil: string | null;
  /** The last letter to them, when it came back. */
  bouncedAt: string | null;
  asking: { group: string; since: string } | null;
  /** Groups that stand and work today; without one they get nothing. */
  groups: number;
  /** Groups they are in that do not give anything today: archived, or outside their days. */
  restingGroups: string[];
  /** The course they want, when one is named. */
  course: { name: string; open: boolean; opensOn: Day | null; inLine: number | null } | null;
  /** The first course for which they stand in line. */
  waitsFor: { name: string; inLine: number } | null;
  /** How many courses are open to them, and wait for no seat. */
  coursesOpen: number;
}

export type Obstacle =
  | { code: 'asking'; group: string; since: string; act: 'decide' }
  | { code: 'paused'; act: 'let work' }
  | { code: 'ended'; day: Day | null; act: 'let work' }
  | { code: 'begins later'; day: Day; act: 'change days' }
  | { code: 'too many tries'; until: string; act: 'let in now' }
  | { code: 'wrong password'; at: string; act: 'let in now' }
  | { code: 'letter came back'; at: string; act: 'change address' }
  | { code: 'never in'; act: 'card' }
  | { code: 'no password'; act: 'let in now' }
  | { code: 'group rests'; group: string; act: 'put in group' }
  | { code: 'in no group'; act: 'put in group' }
  | { code: 'course opens later'; course: string; day: Day; act: 'see why' }
  | { code: 'course not open'; course: string; act: 'see why' }
  | { code: 'in line'; course: string; place: number; act: 'see seats' }
  | { code: 'nothing open'; act: 'see why' }
  | { code: 'nothing'; act: 'let in now' };
export type HelpAct = Obstacle['act'];

/**
 * The first thing that stops somebody, in the order in which they meet it: the account, signing in, the groups, the course.
 * @example firstObstacle({ ...facts, state: 'paused' }, '2026-11-03').code // 'paused'
 */
export function firstObstacle(facts: SignInFacts, today: Day): Obstacle {
  return ofAccount(facts, today) ?? ofSigningIn(facts) ?? ofGroups(facts) ?? ofCourse(facts) ?? { code: 'nothing', act: 'let in now' };
}

function ofAccount({ state, firstDay, lastDay, asking }: SignInFacts, today: Day): Obstacle | null {
  if (state === 'asking') return { code: 'asking', group: asking?.group ?? '', since: asking?.since ?? '', act: 'decide' };
  if (state === 'paused') return { code: 'paused', act: 'let work' };
  if (state === 'ended' || (lastDay !== null && lastDay < today)) return { code: 'ended', day: lastDay, act: 'let work' };
  return firstDay !== null && firstDay > today ? { code: 'begins later', day: firstDay, act: 'change days' } : null;
}

function ofSigningIn(facts: SignInFacts): Obstacle | null {
  if (facts.slowedUntil !== null) return { code: 'too many tries', until: facts.slowedUntil, act: 'let in now' };
  if (facts.lastWrongAt !== null && facts.hasPassword) return { code: 'wrong password', at: facts.lastWrongAt, act: 'let in now' };
  if (!facts.hasSignedIn && !facts.hasPassword) {
    // Without an address no letter could have told them of their account.
    if (facts.bouncedAt !== null) return { code: 'letter came back', at: facts.bouncedAt, act: 'change address' };
    return { code: 'never in', act: 'card' };
  }
  return facts.hasPassword ? null : { code: 'no password', act: 'let in now' };
}

function ofGroups({ groups, restingGroups }: SignInFacts): Obstacle | null {
  if (groups > 0) return null;
  const [resting] = restingGroups;
  return resting === undefined
    ? { code: 'in no group', act: 'put in group' }
    : { code: 'group rests', group: resting, act: 'put in group' };
}

function ofCourse({ course, coursesOpen, waitsFor }: SignInFacts): Obstacle | null {
  if (course && !course.open)
    return course.opensOn === null
      ? { code: 'course not open', course: course.name, act: 'see why' }
      : { code: 'course opens later', course: course.name, day: course.opensOn, act: 'see why' };
  if (course && course.inLine !== null) return { code: 'in line', course: course.name, place: course.inLine, act: 'see seats' };
  if (course) return null;
  if (waitsFor) return { code: 'in line', course: waitsFor.name, place: waitsFor.inLine, act: 'see seats' };
  return coursesOpen === 0 ? { code: 'nothing open', act: 'see why' } : null;
}
