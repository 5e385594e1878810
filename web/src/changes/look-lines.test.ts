import type { Change, Look } from '@gate-roster/contract';
import { expect, test } from '@jest/globals';
import { showDay } from '../ui/format.ts';
import * as words from '../words.ts';
import {
  accessLines,
  courseLines,
  isAboutAccess,
  isAboutSeats,
  moveLines,
  partOf,
  peopleLines,
  seatLines,
  shapeLines,
} from './look-lines.ts';

const noSeats: Look['seats'] = {
  day: null,
  needed: 0,
  free: null,
  fromLine: 0,
  ended: 0,
  moved: 0,
  leftLine: 0,
  inLine: 0,
  rows: [],
  short: [],
};
const look = (some: Partial<Look> = {}): Look => ({
  digest: 'seen',
  gains: [],
  loses: [],
  still: [],
  becomeDone: [],
  noLongerDone: [],
  excepted: [],
  opensForNow: [],
  closesForNow: [],
  stillForNow: [],
  gaining: 0,
  losing: 0,
  joins: [],
  leaves: [],
  newPeople: 0,
  changedPeople: 0,
  takenBack: 0,
  rows: [],
  rowCounts: {} as Look['rowCounts'],
  conflicts: [],
  groups: { made: 0, moved: 0, gone: 0, back: 0 },
  seats: noSeats,
  letters: 0,
  confirming: 0,
  byLetter: 0,
  guardians: 0,
  reached: 0,
  reordered: 0,
  rules: [],
  ...some,
});
const effect = (courseId: number, people: number, partly = 0, day: string | null = null): Look['gains'][number] => ({
  courseId,
  course: `Course ${courseId}`,
  day,
  people,
  partly,
});
const group = (groupId: number): Look['joins'][number] => ({ groupId, group: `Group ${groupId}`, people: 2 });

test('nothing is said of what does not happen', () => {
  const nothing = look();
  expect(accessLines(nothing).map(({ people }) => people)).toEqual(Array.from({ length: 9 }, () => 0));
  expect([seatLines(noSeats), shapeLines(nothing), peopleLines(nothing), moveLines(nothing)]).toEqual([[], [], [], { moves: [], more: 0 }]);
});

test('people are counted once, however many courses open to them; of other lists the longest course is told', () => {
  const of = (some: Partial<Look>): Record<string, number> =>
    Object.fromEntries(accessLines(look(some)).flatMap(({ list, people }) => (people > 0 ? [[list, people]] : [])));
  expect(of({ gains: [effect(1, 5), effect(2, 4)], gaining: 7, becomeDone: [effect(1, 2), effect(2, 3)] })).toEqual({
    gains: 7,
    becomeDone: 3,
  });
  // Who still gets in is worth telling only beside those who do not.
  expect(of({ still: [effect(1, 9)] })).toEqual({});
  expect(of({ still: [effect(1, 9), effect(2, 1)], losing: 1, loses: [effect(1, 1)] })).toEqual({ loses: 1, still: 9 });
});

test('of a long list of courses the first are shown, and how many courses are left', () => {
  const effects = Array.from({ length: 15 }, (_, index) => effect(index, 1));
  expect(courseLines(effects.slice(0, 12))).toEqual({ shown: effects.slice(0, 12), more: 0 });
  const found = courseLines([...effects, effect(14, 2, 0, '2027-01-01')]);
  expect([found.shown.length, found.more]).toEqual([12, 3]);
});

test('a whole course, a part of it, or either', () => {
  expect(
    [[effect(1, 3, 0)], [effect(1, 3, 3), effect(2, 1, 1)], [effect(1, 3, 1)], [effect(1, 3, 3), effect(2, 3, 0)], []].map(partOf),
  ).toEqual(['whole', 'part', 'either', 'either', 'whole']);
});

test('seats: from which day, how many are free, and which rows of the file are in line', () => {
  const lines = seatLines({ ...noSeats, needed: 3, free: 1, day: '2027-01-05', inLine: 2, rows: [4, 9], ended: 1 });
  expect(lines.map(({ list, count, tone }) => [list, count, tone])).toEqual([
    ['seatsNeeded', 3, ''],
    ['inLine', 2, 'late'],
    ['seatsEnded', 1, 'late'],
  ]);
  expect(lines[0]?.said).toContain(showDay('2027-01-05'));
  expect(lines[0]?.more).toBe(words.changes.seatsFree(1, true));
  expect(lines[1]?.more).toBe(words.changes.inLineRows([4, 9]));
});

test('letters are told once: those of which it is known who gets them open to names', () => {
  const some = look({ letters: 5, byLetter: 3, confirming: 1, groups: { made: 2, moved: 0, gone: 1, back: 0 } });
  expect(shapeLines(some).map(({ count, tone }) => [count, tone])).toEqual([
    [2, 'good'],
    [1, 'late'],
    [2, ''],
    [1, ''],
  ]);
  expect(peopleLines(some).map(({ list, count }) => [list, count])).toEqual([['byLetter', 3]]);
  expect(shapeLines(look({ letters: 3, byLetter: 3 }))).toEqual([]);
});

test('that one person changes goes without saying; that several do is told', () => {
  expect(peopleLines(look({ changedPeople: 1 }))).toEqual([]);
  expect(peopleLines(look({ changedPeople: 2, takenBack: 1 })).map(({ list, tone }) => [list, tone])).toEqual([
    ['takenBack', 'late'],
    ['changed', ''],
  ]);
});

test('the first groups of those that are joined and left are shown, and how many are left', () => {
  const joins = Array.from({ length: 8 }, (_, index) => group(index));
  const found = moveLines(look({ joins, leaves: [group(20)] }));
  expect([found.moves.length, found.moves.at(-1), found.more]).toEqual([7, { list: 'leaves', ...group(20) }, 2]);
});

test('losing nobody is worth a word where access or the tree is what it is about', () => {
  const renamed = { kind: 'rename-group' } as unknown as Change;
  expect(isAboutAccess(look(), renamed)).toBe(false);
  expect(isAboutAccess(look(), { kind: 'grant-access' } as unknown as Change)).toBe(true);
  for (const some of [{ gaining: 1 }, { joins: [group(1)] }, { groups: { made: 0, moved: 1, gone: 0, back: 0 } }])
    expect([some, isAboutAccess(look(some), renamed)]).toEqual([some, true]);
  expect([isAboutSeats({ kind: 'limit-seats' } as unknown as Change), isAboutSeats(renamed), isAboutSeats(null)]).toEqual([
    true,
    false,
    false,
  ]);
});
