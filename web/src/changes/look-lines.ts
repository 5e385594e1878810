import type { AskedChange, Look, WhoList } from '@gate-roster/contract';
import { showDay } from '../ui/format.ts';
import * as words from '../words.ts';

/* What a look says, line by line: numbers with the words beside them, as the panel shows them. */

const w = words.changes;
const accessLists = [
  'gains',
  'loses',
  'still',
  'becomeDone',
  'noLongerDone',
  'excepted',
  'opensForNow',
  'closesForNow',
  'stillForNow',
] as const satisfies readonly WhoList[];
export type AccessList = (typeof accessLists)[number];
export type Tone = '' | 'good' | 'late';
type Effects = Look['gains'];

/** The largest number of people of one course: somebody behind two of them is not counted twice. */
const most = (list: Effects): number => Math.max(0, ...list.map(({ people }) => people));

/** Lists of courses that open, close or turn, each with how many people it is about. */
export function accessLines(look: Look): { list: AccessList; people: number; effects: Effects }[] {
  const counts: Partial<Record<AccessList, number>> = {
    gains: look.gaining,
    loses: look.losing,
    // Who still gets in matters where somebody is kept out.
    still: look.losing > 0 ? most(look.still) : 0,
  };
  return accessLists.map((list) => ({ list, people: counts[list] ?? most(look[list]), effects: look[list] }));
}

/** Is it a whole course for each of them, a part for each, or either? */
export function partOf(list: readonly { people: number; partly: number }[]): 'whole' | 'part' | 'either' {
  if (list.every(({ partly }) => partly === 0)) return 'whole';
  return list.every(({ people, partly }) => partly === people) ? 'part' : 'either';
}

type SeatList = 'seatsNeeded' | 'fromLine' | 'inLine' | 'seatsEnded' | 'seatsMoved' | 'leftLine';
export interface SeatLine {
  list: SeatList;
  count: number;
  said: string;
  more: string;
  tone: Tone;
}

/** What becomes of seats and places in line. */
export function seatLines({ day, needed, free, fromLine, inLine, rows, ended, moved, leftLine }: Look['seats']): SeatLine[] {
  const line = (list: SeatList, count: number, said: string, tone: Tone = '', more = ''): SeatLine => ({ list, count, said, more, tone });
  const all = [
    line('seatsNeeded', needed, `${w.seatsNeeded(needed)}${day ? w.fromDay(showDay(day)) : ''}.`, '', w.seatsFree(free, inLine > 0)),
    line('fromLine', fromLine, w.fromLine(fromLine), 'good'),
    line('inLine', inLine, w.inLine(inLine), 'late', rows.length > 0 ? w.inLineRows(rows) : ''),
    line('seatsEnded', ended, w.seatsEnded(ended), 'late'),
    line('seatsMoved', moved, w.seatsMoved(moved)),
    line('leftLine', leftLine, w.leftLine(leftLine)),
  ];
  return all.filter(({ count }) => count > 0);
}

/** Numbers that open to nobody: groups, and letters of which it is not known yet to whom they go. */
export function shapeLines({ groups, letters, byLetter, confirming }: Look): { count: number; said: string; tone: Tone }[] {
  const all = [
    { count: groups.made, word: w.groupsMade, tone: 'good' as const },
    { count: groups.back, word: w.groupsBack, tone: 'good' as const },
    { count: groups.moved, word: w.groupsMoved, tone: '' as const },
    { count: groups.gone, word: w.groupsGone, tone: 'late' as const },
    { count: letters - byLetter, word: w.letters, tone: '' as const },
    { count: confirming, word: w.confirming, tone: '' as const },
  ];
  return all.flatMap(({ count, word, tone }) => (count > 0 ? [{ count, said: word(count), tone }] : []));
}

type PeopleList = 'reached' | 'byLetter' | 'guardians' | 'reordered' | 'takenBack' | 'changed';

/** Numbers of people that are one list each. */
export function peopleLines(look: Look): { list: PeopleList; count: number; said: string; tone: Tone }[] {
  const all = [
    { list: 'reached' as const, count: look.reached, word: w.reached, tone: '' as const },
    { list: 'byLetter' as const, count: look.byLetter, word: w.letters, tone: '' as const },
    { list: 'guardians' as const, count: look.guardians, word: w.guardians, tone: '' as const },
    { list: 'reordered' as const, count: look.reordered, word: w.reordered, tone: '' as const },
    { list: 'takenBack' as const, count: look.takenBack, word: w.takenBack, tone: 'late' as const },
    // Of one person it goes without saying.
    { list: 'changed' as const, count: look.changedPeople > 1 ? look.changedPeople : 0, word: w.changed, tone: '' as const },
  ];
  return all.flatMap(({ word, ...line }) => (line.count > 0 ? [{ ...line, said: word(line.count) }] : []));
}

export const mostGroups = 6;
const mostCourses = 12;

/** The courses of a list, each with its day: the first of them, and of how many courses no more is shown. */
export const courseLines = (effects: Effects): { shown: Effects; more: number } => ({
  shown: effects.slice(0, mostCourses),
  more: new Set(effects.slice(mostCourses).map(({ courseId }) => courseId)).size,
});

/** Who joins and leaves which group, the first of each; and how many groups are not shown. */
export function moveLines({ joins, leaves }: Look): { moves: (Look['joins'][number] & { list: 'joins' | 'leaves' })[]; more: number } {
  const lists = [
    { list: 'joins' as const, moves: joins },
    { list: 'leaves' as const, moves: leaves },
  ];
  return {
    moves: lists.flatMap(({ list, moves }) => moves.slice(0, mostGroups).map((move) => ({ list, ...move }))),
    more: lists.reduce((sum, { moves }) => sum + Math.max(0, moves.length - mostGroups), 0),
  };
}

/** Does it change what anybody can get into at all? Then losing nobody is worth a word. */
export const isAboutAccess = (look: Look, change: AskedChange | null): boolean =>
  look.gaining + look.losing + look.joins.length + look.leaves.length + look.groups.moved + look.groups.gone > 0 ||
  change?.kind === 'grant-access';

const aboutSeats: readonly AskedChange['kind'][] = ['make-licence', 'edit-licence', 'limit-seats'];
export const isAboutSeats = (change: AskedChange | null): boolean => change !== null && aboutSeats.includes(change.kind);
