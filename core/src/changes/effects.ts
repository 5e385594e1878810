import type { CourseId, PersonId } from '../access/grant.ts';
import type { CheckedRow, RowOutcome } from '../entry/check-roster.ts';
import type { GroupId } from '../groups/tree.ts';
import { noSeats, type SeatEffects } from '../seats/look-seats.ts';
import type { Day } from '../time/day.ts';

/** People as the rules know them: by membership set, and one by one where somebody has days or grants of their own. */
export interface Who {
  sets: number[];
  persons: PersonId[];
  /** New people who have no id yet, by class: indexes into `Effects.newcomers`. */
  newcomers: number[];
}

export interface CourseEffect {
  courseId: CourseId;
  /** From when; null: today. */
  day: Day | null;
  who: Who;
  people: number;
  /** For how many of them it is a part of the course, since other units of it are open to them as well; left out: nobody. */
  partly?: number;
}

export interface GroupEffect {
  groupId: GroupId;
  who: Who;
  people: number;
}

/** What stands in the way. `blocks`: nothing can be applied; otherwise that part is left as it is. */
export interface Conflict {
  code:
    | 'name taken'
    | 'name empty'
    | 'name too long'
    | 'already in'
    | 'not in'
    | 'grant gone'
    | 'said from above'
    | 'due day past'
    | 'same already'
    | 'course by leader'
    | 'changed since'
    | 'gone since'
    | 'nothing to do'
    | 'too old'
    | 'in itself'
    | 'same place'
    | 'id number taken'
    | 'prefix wrong'
    | 'link wrong'
    | 'days out of order'
    | 'already leads'
    | 'not a leader'
    | 'power lacked'
    | 'address taken'
    | 'sign-in name taken'
    | 'sign-in name too short'
    | 'sign-in name too long'
    | 'sign-in name signs'
    | 'sign-in name reserved'
    | 'sign-in name offensive'
    | 'name missing'
    | 'erased'
    | 'needs an address'
    | 'own account'
    | 'code taken'
    | 'code too short'
    | 'code too long'
    | 'code letters only'
    | 'code needs a limit'
    | 'code needs an end'
    | 'leaders code needs an end'
    | 'leaders code needs a limit'
    | 'leaders code needs a decision'
    | 'moments out of order'
    | 'ending wrong'
    | 'choices missing'
    | 'young learners'
    | 'already asked'
    | 'decided since'
    | 'no price'
    | 'licence over'
    | 'not free'
    | 'day is past'
    | 'letter lacks link'
    | 'letter unknown field'
    | 'letter empty'
    | 'list not whole'
    | 'too many leave'
    | 'too many passwords'
    | 'licence goes'
    | 'paid above'
    | 'not open to them'
    | 'open elsewhere too'
    | 'done already'
    | 'course name taken'
    | 'course of a branch'
    | 'course code taken'
    | 'set name taken'
    | 'set in itself'
    | 'set in use'
    | 'reaches nobody'
    | 'no way to reach'
    | 'too many messages'
    | 'too few choices'
    | 'rule lacks power'
    | 'reminder lacks power'
    | 'rule loops'
    | 'own work'
    | 'marked meanwhile'
    | 'taken by another'
    | 'skill name taken'
    | 'not earned'
    | 'words unknown field'
    | 'not a picture'
    | 'in two parts'
    | 'in another split'
    | 'nobody in parts'
    | 'runs too long'
    | 'time is past'
    | 'seats in use'
    | 'price and decision'
    | 'licence full'
    | 'licence does not fit'
    | 'row missing'
    | 'row wrong'
    | 'next has begun';
  blocks: boolean;
  count: number;
  /** Whom and which groups it is about, where that helps; nobody is named to whom they are not known. */
  people?: readonly PersonId[];
  groups?: readonly GroupId[];
  /** Names of other things it is about. */
  names?: readonly string[];
}

/** What a change would do. */
export interface Effects {
  gains: CourseEffect[];
  loses: CourseEffect[];
  /** Named by a block or a removal, and still in by another way. */
  still: CourseEffect[];
  /** Everything that stays open to them is finished, so that they are done; and those who were, and would not be any more. */
  becomeDone: CourseEffect[];
  noLongerDone: CourseEffect[];
  /** A split: what opens or closes until it ends, and what closes in its group and stays open by another way. */
  opensForNow: CourseEffect[];
  closesForNow: CourseEffect[];
  stillForNow: CourseEffect[];
  /** People for whom the due day moves, or who are exempt or no longer exempt. */
  excepted: CourseEffect[];
  joins: GroupEffect[];
  leaves: GroupEffect[];
  /** People who would be made, whose details would change, and (undo) who would be taken back. */
  newPeople: number;
  /** How many new people each class of newcomers (same groups, same days) has. */
  newcomers: number[];
  changedPeople: PersonId[];
  takenBack: PersonId[];
  /** Rows of a roster that need a look, as many as are worth showing; and how many rows come to what. */
  rows: CheckedRow[];
  rowCounts: Record<RowOutcome, number>;
  conflicts: Conflict[];
  /** Groups that would be made, moved, go or come back. */
  /** Groups that a file would make, under ids below zero. */
  newGroups: { id: GroupId; name: string }[];
  groups: { made: number; moved: number; gone: number; back: number };
  seats: SeatEffects;
  /** Addresses that would get a letter; and those that would first be asked whether the account is theirs. */
  letters: number;
  confirming: number;
  /** Of a message: those to whom a letter goes, themselves or through a guardian. */
  byLetter: number[];
  /** Young learners of whom a letter goes to a guardian. */
  guardians: number[];
  /** Whom a message would reach on their page. */
  reached: PersonId[];
  /** Who would come to another place in line, in the order in which they would be served. */
  reordered: PersonId[];
  /** An undo: it sets no automatic rule off. */
  isUndo: boolean;
}

export const noEffects = (): Effects => ({
  gains: [],
  loses: [],
  still: [],
  becomeDone: [],
  noLongerDone: [],
  excepted: [],
  opensForNow: [],
  closesForNow: [],
  stillForNow: [],
  joins: [],
  leaves: [],
  newPeople: 0,
  newcomers: [],
  changedPeople: [],
  takenBack: [],
  rows: [],
  rowCounts: { new: 0, joins: 0, changes: 0, nothing: 0, 'needs a look': 0 },
  conflicts: [],
  newGroups: [],
  groups: { made: 0, moved: 0, gone: 0, back: 0 },
  seats: noSeats(),
  letters: 0,
  confirming: 0,
  byLetter: [],
  guardians: [],
  reached: [],
  reordered: [],
  isUndo: false,
});

export const isBlocked = (effects: Effects): boolean => effects.conflicts.some(({ blocks }) => blocks);

/**
 * The text whose digest apply compares with what was seen: who loses, moves, is changed, and what
 * conflicts, as sorted ids. Those who only gain are left out: they may have joined since.
 * `peopleOf` gives the counted people of membership sets.
 */
export function digestText(effects: Effects, peopleOf: (sets: readonly number[]) => readonly PersonId[]): string {
  const ids = (who: Who): number[] => [...new Set([...peopleOf(who.sets), ...who.persons])].sort((a, b) => a - b);
  const byKey = <T>(list: readonly T[], key: (each: T) => string, who: (each: T) => Who): string[] =>
    list.map((each) => `${key(each)}:${ids(who(each)).join()}`).sort();
  return JSON.stringify({
    loses: byKey(
      effects.loses,
      (each) => `${each.courseId}@${each.day ?? ''}`,
      (each) => each.who,
    ),
    done: [effects.becomeDone, effects.noLongerDone, effects.excepted, effects.closesForNow].map((list) =>
      byKey(
        list,
        (each) => String(each.courseId),
        (each) => each.who,
      ),
    ),
    joins: byKey(
      effects.joins,
      (each) => String(each.groupId),
      (each) => each.who,
    ),
    leaves: byKey(
      effects.leaves,
      (each) => String(each.groupId),
      (each) => each.who,
    ),
    newPeople: effects.newPeople,
    changed: [...effects.changedPeople].sort((a, b) => a - b),
    takenBack: [...effects.takenBack].sort((a, b) => a - b),
    rows: effects.rows.map(({ row }) => row),
    bad: effects.rowCounts['needs a look'],
    groups: effects.groups,
    seats: [effects.seats.given, effects.seats.fromLine, effects.seats.ended, effects.seats.moved, effects.seats.leftLine].map((keys) =>
      keys.toSorted((a, b) => a - b),
    ),
    reordered: effects.reordered,
    line: effects.seats.line.map(({ key, courseId }) => `${key}/${courseId}`).sort(),
    letters: [effects.letters, effects.confirming, ...effects.byLetter, 0, ...effects.guardians],
    conflicts: effects.conflicts.map(({ code, count }) => `${code}:${count}`).sort(),
  });
}
