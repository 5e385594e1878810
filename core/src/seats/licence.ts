import type { CourseId, PersonId } from '../access/grant.ts';
import type { GroupId } from '../groups/tree.ts';
import type { Span } from '../time/day.ts';

export type LicenceId = number;
export type SeatId = number;

/** What becomes of a seat when the membership it is charged to ends and no other takes it. */
export const onLeavings = ['comes back', 'comes back if not begun', 'stays used'] as const;
export type OnLeaving = (typeof onLeavings)[number];

/** The right to so many people's use of some courses, through groups of its home's branch. One seat serves all of them. */
export interface Licence extends Span {
  id: LicenceId;
  seats: number;
  covers: ReadonlySet<CourseId>;
  homeId: GroupId;
  onLeaving: OnLeaving;
  /** It gives nothing by itself: those entitled wait until a seat is given to them. */
  byHand?: boolean;
}

/**
 * What was decided about one person and one licence: a seat is given by hand; it was taken back, and they wait until one is given;
 * or they gave up their place, and wait for none.
 */
export const seatWords = ['given', 'taken back', 'gave up'] as const;
export type SeatWord = (typeof seatWords)[number];

/** The most seats of a licence that a branch may use. */
export interface SeatLimit {
  licenceId: LicenceId;
  groupId: GroupId;
  most: number;
}

/** One person's use of a licence, charged to a membership in this group. */
export interface Seat {
  id: SeatId;
  licenceId: LicenceId;
  groupId: GroupId;
}

/** One way to pay for a course: a licence, and the membership it would be charged to. */
export type SeatWay = Omit<Seat, 'id'>;

/** Somebody who needs a course that is open to them only where it is paid for. */
export interface SeatNeed {
  courseId: CourseId;
  /** In the order in which they are tried; none: nothing can pay now. */
  ways: readonly SeatWay[];
}

/** Somebody as far as seats go. */
export interface SeatPerson {
  /** Below zero: somebody new, who has no id yet. */
  key: PersonId;
  /** Groups they stand in, the longest-standing membership first. */
  groups: readonly GroupId[];
  seats: readonly Seat[];
  /** Courses they have begun to work on. */
  begun: ReadonlySet<CourseId>;
  needs: readonly SeatNeed[];
  /** Where they stand in line, by course. */
  places: ReadonlyMap<CourseId, number>;
  /** What was decided about them by hand. */
  words: ReadonlyMap<LicenceId, SeatWord>;
  /** Row of the file that brings them; 0: no file does. Below zero: they were chosen to come first of those who are new. */
  fileRow: number;
}
