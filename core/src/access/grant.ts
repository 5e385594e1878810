import type { GroupId } from '../groups/tree.ts';
import type { Day, Span } from '../time/day.ts';

export type CourseId = number;
export type UnitId = number;
export type GrantId = number;
export type PersonId = number;

/** When work is due; a path whose grant has no rule is never due. */
export type DueRule = {
  /** A fixed day, or a number of days after one could really begin. */
  at: { day: Day } | { days: number };
  /** However late one comes in, at least so many days remain. */
  leastDays: number | null;
  firm: boolean;
};

/** Which licences pay for what an open gives. */
export interface Payers {
  /** Those named, tried first. */
  licences: number[];
  /** May any other pay that covers course and path? */
  others: boolean;
}

/** One statement about a course, for a group or for one person. */
export interface Grant extends Span {
  id: GrantId;
  at: { group: GroupId; withSubgroups: boolean } | { person: PersonId };
  about: { course: CourseId } | { courseSet: number };
  effect: 'open' | 'block';
  firm: boolean;
  /** null names all units. A grant on a course set always names all. */
  units: readonly UnitId[] | null;
  due: DueRule | null;
  /** Left out or null: it costs nobody a seat. */
  payers?: Payers | null;
  /** The branch in whose name a leader spoke; null when an administrator did. */
  makerBranch: GroupId | null;
  /** It answers a learner who asked: while the course is *on request*, a leader's rests on that and on nothing above. */
  byRequest?: boolean;
  /** The day on which it was made. */
  madeDay: Day;
  /** The day on which the course came into the set that the statement names; left out or null: it names the course. */
  inSetSince?: Day | null;
}

export type CourseTerms = 'everyone' | 'group' | 'request';

export interface CourseFacts {
  id: CourseId;
  units: readonly UnitId[];
  terms: CourseTerms;
  archived: boolean;
  /** The branch whose own course it is: only paths through it can have the course. Left out or null: everybody's. */
  home?: GroupId | null;
  /** It is valid for a time and then opens again, so that a due day depends on the round somebody is in. */
  hasRounds?: boolean;
  /** Homes of the licences that cover it; left out: none. */
  licenceHomes?: readonly { licence: number; home: GroupId }[];
}

export interface Membership extends Span {
  groupId: GroupId;
}

/** Whoever is asked about: one person, or all who share a membership set (`personId` null). */
export interface Learner extends Span {
  personId: PersonId | null;
  active: boolean;
  memberships: readonly Membership[];
  /** Archived courses that they have begun and not finished: they may go on with these. */
  mayFinish?: readonly CourseId[];
  /** Their account has ended: what they hold comes back. */
  ended?: boolean;
}
