import type { Lateness, Status } from '../courses/status.ts';
import type { GroupId } from '../groups/tree.ts';
import { addDays, type Day } from '../time/day.ts';

/*
 * One filter, the same everywhere people are listed, counted or exported (product.md, Filters). It is a list of parts that all
 * have to fit. Person parts choose learners; course parts choose enrolments.
 */

export type PersonStateName = 'asking' | 'active' | 'paused' | 'ended';
export type AddressState = 'none' | 'unconfirmed' | 'confirmed' | 'does not work';
export type CameBy = 'file' | 'hand' | 'join code' | 'invitation' | 'rule' | 'feed' | 'undo';
/** Open today; else open from a day to come; else kept away by a block in force; else by nothing opening it. */
export const accessStates = ['open', 'opens later', 'blocked', 'not open'] as const;
export type AccessState = (typeof accessStates)[number];
export type SeatState = 'has' | 'in line' | 'none';

export type PersonPart =
  /** In name, sign-in name, address or ID number. */
  | { part: 'words'; text: string }
  /** These people, as they were chosen in a list. */
  | { part: 'people'; how: 'only' | 'without'; ids: number[] }
  | { part: 'groups'; how: 'in' | 'not in'; ids: GroupId[]; withSubgroups: boolean }
  | { part: 'tags'; how: 'any' | 'all' | 'none'; ids: number[] }
  | { part: 'list'; how: 'in' | 'not in'; id: number }
  | { part: 'state'; of: PersonStateName[] }
  /** A membership of the scope; days on which it began, both included. No way named: any. */
  | { part: 'came'; by: CameBy[]; from: Day | null; until: Day | null }
  /** `before`: they were active, the last time more than so many days ago. */
  | { part: 'active'; how: 'within' | 'before' | 'never'; days: number }
  | { part: 'led by'; ids: number[] }
  | { part: 'signed in'; is: boolean }
  | { part: 'name hidden'; is: boolean }
  | { part: 'several groups'; is: boolean }
  | { part: 'young learner'; is: boolean }
  | { part: 'address'; of: AddressState[] }
  /** Any of these skills was confirmed in work of theirs, or none of them. */
  | { part: 'skill'; how: 'shown' | 'not shown'; ids: number[] };

export type CoursePart =
  /** Any of these, or of those in these sets. */
  | { part: 'course'; courses: number[]; sets: number[] }
  /** Only with this part pairs count that are neither open nor worked on. */
  | { part: 'access'; of: AccessState[] }
  | { part: 'status'; of: Status[] }
  | { part: 'lateness'; of: Lateness[] }
  | { part: 'exempt'; is: boolean }
  | { part: 'seat'; of: SeatState[] }
  /** Both included; somebody without a score fits no score. */
  | { part: 'score'; from: number; to: number }
  | { part: 'done'; from: Day | null; until: Day | null }
  /** Something of it was done on one of these days. */
  | { part: 'worked'; from: Day | null; until: Day | null }
  /** Due today or within so many days, and neither done nor exempt. */
  | { part: 'due'; days: number };

export type FilterPart = PersonPart | CoursePart;
export type Filter = readonly FilterPart[];

const coursePartNames: ReadonlySet<string> = new Set<CoursePart['part']>([
  'course',
  'access',
  'status',
  'lateness',
  'exempt',
  'seat',
  'score',
  'done',
  'worked',
  'due',
]);
export const isCoursePart = (part: FilterPart): part is CoursePart => coursePartNames.has(part.part);
export const personParts = (filter: Filter): PersonPart[] => filter.filter((part): part is PersonPart => !isCoursePart(part));
export const courseParts = (filter: Filter): CoursePart[] => filter.filter(isCoursePart);

/** What is known of somebody, as far as the reader may know it. */
export interface FilteredPerson {
  id: number;
  /** Name, sign-in name, address and ID number. */
  texts: readonly string[];
  /** Standing memberships, with the groups above each, the group itself among them. */
  memberships: readonly { groupId: GroupId; branches: readonly GroupId[]; isInScope: boolean; by: CameBy; since: Day }[];
  /** In how many groups they are today. */
  groupsToday: number;
  tags: readonly number[];
  lists: readonly number[];
  state: PersonStateName;
  /** In the platform's time zone; null: never. */
  activeDay: Day | null;
  /** Groups that somebody leads today. */
  ledIn: (leaderId: number) => readonly GroupId[];
  signedIn: boolean;
  nameHidden: boolean;
  isYoung: boolean;
  address: AddressState;
  /** Skills that were confirmed in their work. */
  skills: readonly number[];
}

export interface FilteredEnrolment {
  courseId: number;
  sets: readonly number[];
  access: AccessState;
  /** Worked on, or exempt. */
  isBegun: boolean;
  status: Status;
  lateness: Lateness;
  exempt: boolean;
  seat: SeatState;
  score: number | null;
  doneDay: Day | null;
  /** Days on which an activity of it was worked on. */
  workedDays: readonly Day[];
  due: Day | null;
}

const isBetween = (day: Day | null, from: Day | null, until: Day | null): boolean =>
  day !== null && (from === null || day >= from) && (until === null || day <= until);

/** Does somebody fit one person part? The meaning that the database's condition has to agree with. */
export function personFits(person: FilteredPerson, part: PersonPart, today: Day): boolean {
  switch (part.part) {
    case 'words':
      return person.texts.some((text) => text.toLowerCase().includes(part.text.toLowerCase()));
    case 'people':
      return part.ids.includes(person.id) === (part.how === 'only');
    case 'groups': {
      const isIn = person.memberships.some(({ groupId, branches }) =>
        part.withSubgroups ? branches.some((id) => part.ids.includes(id)) : part.ids.includes(groupId),
      );
      return isIn === (part.how === 'in');
    }
    case 'tags': {
      const has = part.ids.filter((id) => person.tags.includes(id)).length;
      return part.how === 'any' ? has > 0 : part.how === 'all' ? has === part.ids.length : has === 0;
    }
    case 'list':
      return person.lists.includes(part.id) === (part.how === 'in');
    case 'state':
      return part.of.includes(person.state);
    case 'came':
      return person.memberships.some(
        ({ isInScope, by, since }) =>
          isInScope && (part.by.length === 0 || part.by.includes(by)) && isBetween(since, part.from, part.until),
      );
    case 'active': {
      if (part.how === 'never') return person.activeDay === null;
      if (person.activeDay === null) return false;
      return person.activeDay >= addDays(today, -part.days) === (part.how === 'within');
    }
    case 'led by':
      return part.ids.some((leader) => person.memberships.some(({ branches }) => person.ledIn(leader).some((id) => branches.includes(id))));
    case 'signed in':
      return person.signedIn === part.is;
    case 'name hidden':
      return person.nameHidden === part.is;
    case 'several groups':
      return person.groupsToday > 1 === part.is;
    case 'young learner':
      return person.isYoung === part.is;
    case 'address':
      return part.of.includes(person.address);
    case 'skill':
      return part.ids.some((id) => person.skills.includes(id)) === (part.how === 'shown');
  }
}

/** Does an enrolment fit one course part? */
export function enrolmentFits(enrolment: FilteredEnrolment, part: CoursePart, today: Day): boolean {
  switch (part.part) {
    case 'course':
      return part.courses.includes(enrolment.courseId) || enrolment.sets.some((id) => part.sets.includes(id));
    case 'access':
      return part.of.includes(enrolment.access);
    case 'status':
      return part.of.includes(enrolment.status);
    case 'lateness':
      return part.of.includes(enrolment.lateness);
    case 'exempt':
      return enrolment.exempt === part.is;
    case 'seat':
      return part.of.includes(enrolment.seat);
    case 'score':
      return enrolment.score !== null && enrolment.score >= part.from && enrolment.score <= part.to;
    case 'done':
      return enrolment.status === 'done' && isBetween(enrolment.doneDay, part.from, part.until);
    case 'worked':
      return enrolment.workedDays.some((day) => isBetween(day, part.from, part.until));
    case 'due':
      return enrolment.status !== 'done' && !enrolment.exempt && isBetween(enrolment.due, today, addDays(today, part.days));
  }
}

/** Do these parts speak of what is neither open nor worked on? Then they have to name a course or a course set. */
export const asksWhatIsClosed = (parts: Filter): boolean =>
  parts.some((part) => part.part === 'access' && (part.of.includes('blocked') || part.of.includes('not open')));

/** Is it one that these course parts speak of, and does it fit all of them? */
export const enrolmentFitsAll = (enrolment: FilteredEnrolment, parts: readonly CoursePart[], today: Day): boolean =>
  (enrolment.access === 'open' || enrolment.isBegun || parts.some(({ part }) => part === 'access')) &&
  parts.every((part) => enrolmentFits(enrolment, part, today));

/** A learner fits when all person parts fit, and at least one of their enrolments fits all course parts together. */
export function fits(person: FilteredPerson, enrolments: readonly FilteredEnrolment[], filter: Filter, today: Day): boolean {
  const about = courseParts(filter);
  return (
    personParts(filter).every((part) => personFits(person, part, today)) &&
    (about.length === 0 || enrolments.some((each) => enrolmentFitsAll(each, about, today)))
  );
}
