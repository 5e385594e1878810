import fc from 'fast-check';
import type { Grant, Learner } from '../access/grant.ts';
import { courseRules } from '../access/resolve.ts';
import { type GroupNode, Tree } from '../groups/tree.ts';
import type { Licence, SeatLimit, SeatPerson, SeatWay } from './licence.ts';
import { lookAtSeats } from './look-seats.ts';
import { SeatRoom } from './seat-room.ts';
import { seatNeed } from './seat-ways.ts';
import { settleSeats } from './settle-seats.ts';

const today = '2026-11-25';
const node = (id: number, parentId: number | null): GroupNode => ({
  id,
  parentId,
  name: `g${id}`,
  state: 'active',
  firstDay: null,
  lastDay: null,
});
/** 1 home › 2 station › 3 crew, 4 cadets; 5 another station; 9 outside. */
const tree = new Tree([node(0, null), node(1, 0), node(2, 1), node(3, 2), node(4, 2), node(5, 1), node(9, 0)]);
const licence = (more: Partial<Licence> = {}): Licence => ({
  id: 1,
  seats: 2,
  covers: new Set([7]),
  homeId: 1,
  onLeaving: 'comes back',
  firstDay: null,
  lastDay: null,
  ...more,
});
const person = (key: number, groupId: number, more: Partial<SeatPerson> = {}): SeatPerson => ({
  key,
  groups: [groupId],
  seats: [],
  begun: new Set(),
  places: new Map(),
  words: new Map(),
  fileRow: 0,
  needs: [{ courseId: 7, ways: [{ licenceId: 1, groupId }] }],
  ...more,
});
const roomOf = (licences: Licence[], limits: SeatLimit[] = [], used: (SeatWay & { seats: number })[] = []): SeatRoom =>
  new SeatRoom(tree, licences, limits, used);
const keys = (list: readonly { key: number }[]): number[] => list.map(({ key }) => key);

describe('room for seats', () => {
  it('is the smallest remainder from the group up to the home, for a leader only of what they see', () => {
    const room = roomOf([licence({ seats: 10 })], [{ licenceId: 1, groupId: 2, most: 3 }], [{ licenceId: 1, groupId: 3, seats: 2 }]);
    expect(room.free({ licenceId: 1, groupId: 4 })).toBe(1);
    expect(room.free({ licenceId: 1, groupId: 5 })).toBe(8);
    expect(room.free({ licenceId: 1, groupId: 4 }, (id) => id >= 3)).toBeNull();
    expect(room.used(1, 1)).toBe(2);
  });

  it('is in the groups down to which no limit is used up; one that is full closes what lies below it', () => {
    const limits = [
      { licenceId: 1, groupId: 2, most: 3 },
      { licenceId: 1, groupId: 4, most: 1 },
    ];
    const used = (crew: number, cadets: number, other: number) =>
      roomOf([licence({ seats: 10 })], limits, [
        { licenceId: 1, groupId: 3, seats: crew },
        { licenceId: 1, groupId: 4, seats: cadets },
        { licenceId: 1, groupId: 5, seats: other },
      ]).groupsWithRoom(1, 1);
    expect(used(0, 0, 0)).toEqual([1, 2, 3, 4, 5]);
    expect(used(1, 1, 0)).toEqual([1, 2, 3, 5]);
    expect(used(2, 1, 0)).toEqual([1, 5]);
    expect(used(2, 1, 7)).toEqual([]);
    expect(roomOf([licence()]).groupsWithRoom(1, 77)).toEqual([]);
  });

  it('is for the groups of the branch of its home alone', () => {
    const room = roomOf([licence()]);
    expect([1, 2, 3, 4, 5, 0, 9, 77].filter((groupId) => room.reaches(1, groupId))).toEqual([1, 2, 3, 4, 5]);
    expect([room.reaches(2, 3), room.hasRoom({ licenceId: 2, groupId: 3 })]).toEqual([false, false]);
  });

  it('counts the seat of a group that is gone at the home, and is below zero where a limit was lowered', () => {
    const room = roomOf([licence({ seats: 1 })], [], [{ licenceId: 1, groupId: 77, seats: 2 }]);
    expect(room.free({ licenceId: 1, groupId: 3 })).toBe(-1);
    expect(room.hasRoom({ licenceId: 1, groupId: 3 })).toBe(false);
  });
});

describe('what somebody needs', () => {
  const grant = (id: number, group: number, more: Partial<Grant> = {}): Grant => ({
    id,
    at: { group, withSubgroups: true },
    about: { course: 7 },
    effect: 'open',
    firm: false,
    firstDay: null,
    lastDay: null,
    units: null,
    due: null,
    payers: { licences: [1], others: false },
    makerBranch: null,
    madeDay: today,
    ...more,
  });
  const member = (...groups: number[]): Learner => ({
    personId: 5,
    active: true,
    firstDay: null,
    lastDay: null,
    memberships: groups.map((groupId) => ({ groupId, firstDay: null, lastDay: null })),
  });
  const needOf = (learner: Learner, grants: Grant[], licences: Licence[]) =>
    seatNeed(courseRules(tree, { id: 7, units: [1, 2], terms: 'group', archived: false }, grants), learner, today, licences);

  it('is nothing where a way is open that costs nothing, or none is open', () => {
    expect(needOf(member(3, 9), [grant(1, 1), grant(2, 9, { payers: null })], [licence()])).toBeNull();
    expect(needOf(member(9), [grant(1, 1)], [licence()])).toBeNull();
    expect(needOf(member(3), [grant(1, 2), grant(2, 2, { payers: null })], [licence()])).toBeNull();
  });

  it('tries named licences first, those that end first, and the longest-standing membership', () => {
    const late = licence({ id: 1, lastDay: '2027-12-31' });
    const soon = licence({ id: 2, lastDay: '2026-12-31' });
    const other = licence({ id: 3, lastDay: '2026-11-30' });
    const open = grant(1, 1, { payers: { licences: [1, 2], others: true } });
    expect(needOf(member(4, 3), [open], [late, soon, other])?.ways).toEqual([
      { licenceId: 2, groupId: 4 },
      { licenceId: 2, groupId: 3 },
      { licenceId: 1, groupId: 4 },
      { licenceId: 1, groupId: 3 },
      { licenceId: 3, groupId: 4 },
      { licenceId: 3, groupId: 3 },
    ]);
  });

  it('uses no licence that is over, covers another course, or has its home elsewhere', () => {
    const wrong = [licence({ lastDay: '2026-11-24' }), licence({ covers: new Set([8]) }), licence({ homeId: 9 })];
    for (const each of wrong) expect(needOf(member(3), [grant(1, 1)], [each])).toEqual({ courseId: 7, ways: [] });
  });

  it('is charged to a membership in the home’s branch where a word on the person opens', () => {
    const own = grant(1, 0, { at: { person: 5 } });
    expect(needOf(member(9, 4), [own], [licence()])?.ways).toEqual([{ licenceId: 1, groupId: 4 }]);
    expect(needOf(member(9), [own], [licence()])?.ways).toEqual([]);
  });
});

describe('settling', () => {
  it('serves the line by place, then new people in the order of the file', () => {
    const people = [
      person(30, 3, { fileRow: 9 }),
      person(-1, 3, { fileRow: 4 }),
      person(20, 3, { places: new Map([[7, 2]]) }),
      person(10, 3, { places: new Map([[7, 1]]) }),
    ];
    const outcome = settleSeats(roomOf([licence({ seats: 3 })]), people);
    expect(keys(outcome.begin)).toEqual([10, 20, -1]);
    expect(keys(outcome.unqueue)).toEqual([10, 20]);
    expect(keys(outcome.queue)).toEqual([30]);
  });

  it('passes over whoever’s path has no room', () => {
    const line = [person(1, 3, { places: new Map([[7, 1]]) }), person(2, 5, { places: new Map([[7, 2]]) })];
    const outcome = settleSeats(roomOf([licence()], [{ licenceId: 1, groupId: 2, most: 0 }]), line);
    expect(keys(outcome.begin)).toEqual([2]);
    expect(outcome.unqueue).toEqual([{ key: 2, courseId: 7 }]);
  });

  const leaver = (more: Partial<SeatPerson> = {}): SeatPerson =>
    person(1, 9, { needs: [], seats: [{ id: 50, licenceId: 1, groupId: 3 }], ...more });
  it.each([
    ['comes back', false, true],
    ['comes back', true, true],
    ['comes back if not begun', false, true],
    ['comes back if not begun', true, false],
    ['stays used', false, false],
  ] as const)('a seat that %s, with work begun: %s, goes on to the line: %s', (onLeaving, hasBegun, isFreed) => {
    const room = roomOf([licence({ seats: 1, onLeaving })], [], [{ licenceId: 1, groupId: 3, seats: 1 }]);
    const outcome = settleSeats(room, [leaver({ begun: new Set(hasBegun ? [7] : []) }), person(2, 5, { places: new Map([[7, 1]]) })]);
    expect(keys(outcome.end)).toEqual(isFreed ? [1] : []);
    expect(keys(outcome.begin)).toEqual(isFreed ? [2] : []);
  });

  it('comes back whatever is said when what brought it is undone, and those who had one come before the line', () => {
    const room = roomOf([licence({ seats: 1, onLeaving: 'stays used' })], [], [{ licenceId: 1, groupId: 3, seats: 1 }]);
    const outcome = settleSeats(room, [leaver(), person(2, 5, { places: new Map([[7, 1]]) }), person(3, 5)], new Set([50]), new Set([3]));
    expect(keys(outcome.end)).toEqual([1]);
    expect(keys(outcome.begin)).toEqual([3]);
  });

  it('moves to another membership that opens the course and has room', () => {
    const moving = person(1, 5, { seats: [{ id: 50, licenceId: 1, groupId: 3 }] });
    const used = [{ licenceId: 1, groupId: 3, seats: 1 }];
    expect(settleSeats(roomOf([licence()], [], used), [moving]).move).toEqual([{ seatId: 50, key: 1, way: { licenceId: 1, groupId: 5 } }]);
    const full = settleSeats(roomOf([licence()], [{ licenceId: 1, groupId: 5, most: 0 }], used), [moving]);
    expect([keys(full.end), keys(full.queue)]).toEqual([[1], [1]]);
  });

  it('gives one seat for all courses that a licence covers', () => {
    const both = person(1, 3, {
      needs: [7, 8].map((courseId) => ({ courseId, ways: [{ licenceId: 1, groupId: 3 }] })),
      places: new Map([[8, 1]]),
    });
    const outcome = settleSeats(roomOf([licence({ seats: 1, covers: new Set([7, 8]) })]), [both]);
    expect([outcome.begin.length, outcome.unqueue, outcome.queue]).toEqual([1, [{ key: 1, courseId: 8 }], []]);
  });

  it('lets somebody leave the line for whom nothing waits any more, and takes seats of a licence that is over', () => {
    const outcome = settleSeats(roomOf([]), [person(1, 3, { needs: [], places: new Map([[7, 1]]) }), leaver({ groups: [3] })]);
    expect([outcome.unqueue, keys(outcome.end)]).toEqual([[{ key: 1, courseId: 7 }], [1]]);
  });

  it('a licence by hand admits only those to whom a seat was given, and one that was taken back is not given anew', () => {
    const line = (key: number, more: Partial<SeatPerson> = {}): SeatPerson => person(key, 3, { places: new Map([[7, key]]), ...more });
    const given = { words: new Map([[1, 'given' as const]]) };
    const byHand = settleSeats(roomOf([licence({ seats: 5, byHand: true })]), [line(1), line(2, given), line(3)]);
    expect(keys(byHand.begin)).toEqual([2]);
    expect(byHand.queue).toEqual([]);
    const holder = person(9, 3, { seats: [{ id: 50, licenceId: 1, groupId: 3 }], words: new Map([[1, 'taken back']]) });
    const room = roomOf([licence({ seats: 1 })], [], [{ licenceId: 1, groupId: 3, seats: 1 }]);
    const back = settleSeats(room, [holder, line(4)]);
    expect([keys(back.end), keys(back.begin), keys(back.queue)]).toEqual([[9], [4], [9]]);
    // Who has a seat of a licence that becomes one by hand keeps it.
    const kept = { ...holder, words: new Map() };
    expect(settleSeats(roomOf([licence({ byHand: true })], [], [{ licenceId: 1, groupId: 3, seats: 1 }]), [kept]).end).toEqual([]);
  });

  it('never admits past a number or limit at any level, leaves nobody waiting who has room, and says so in the look', () => {
    fc.assert(
      fc.property(
        fc.array(
          fc.record({
            group: fc.constantFrom(2, 3, 4, 5),
            place: fc.option(fc.nat(99)),
            isHolder: fc.boolean(),
            word: fc.constantFrom(null, null, 'given' as const, 'taken back' as const, 'gave up' as const),
          }),
          {
            maxLength: 20,
          },
        ),
        fc.array(fc.record({ groupId: fc.constantFrom(1, 2, 3, 4, 5), most: fc.nat(6) }), { maxLength: 4 }),
        fc.nat(12),
        fc.boolean(),
        (drawn, limits, seats, byHand) => {
          const people = drawn.map(({ group, place, isHolder, word }, index) =>
            person(index + 1, group, {
              places: new Map(place === null || isHolder ? [] : [[7, place]]),
              seats: isHolder ? [{ id: index + 1, licenceId: 1, groupId: group }] : [],
              words: new Map(word === null ? [] : [[1, word]]),
            }),
          );
          const most = limits
            .map((limit) => ({ licenceId: 1, ...limit }))
            .filter((limit, index, all) => all.findIndex(({ groupId }) => groupId === limit.groupId) === index);
          const used = drawn.flatMap(({ group, isHolder }) => (isHolder ? [{ licenceId: 1, groupId: group, seats: 1 }] : []));
          const room = roomOf([licence({ seats, byHand })], most, used);
          const outcome = settleSeats(room, people);
          const holders = [
            ...people.filter((each) => each.seats.length > 0 && each.words.get(1) !== 'taken back'),
            ...outcome.begin.map(({ key }) => people[key - 1]),
          ];
          for (const step of [1, 2, 3, 4, 5]) {
            const counted = holders.filter((each) => tree.path(each?.groups[0] ?? 0).includes(step)).length;
            expect(room.used(1, step)).toBe(counted);
            const top = Math.min(
              step === 1 ? seats : Infinity,
              ...most.filter(({ groupId }) => groupId === step).map((limit) => limit.most),
            );
            const came = outcome.begin.some(({ groupId }) => tree.path(groupId).includes(step));
            if (came) expect(counted).toBeLessThanOrEqual(top);
          }
          const waiting = people.filter((each) => !holders.includes(each) && each.words.get(1) !== 'gave up');
          for (const each of people.filter(({ words }) => words.get(1) === 'gave up'))
            expect(outcome.queue.some(({ key }) => key === each.key) || outcome.begin.some(({ key }) => key === each.key)).toBe(false);
          const isHeld = ({ words }: SeatPerson): boolean => (byHand ? words.get(1) !== 'given' : words.get(1) === 'taken back');
          expect(outcome.begin.every(({ key }) => !isHeld(people[key - 1] ?? person(0, 1)))).toBe(true);
          for (const each of waiting.filter((one) => !isHeld(one)))
            expect(room.hasRoom({ licenceId: 1, groupId: each.groups[0] ?? 0 })).toBe(false);
          const look = lookAtSeats(roomOf([licence({ seats, byHand })], most, used), people, null);
          expect([...look.given, ...look.fromLine].sort((a, b) => a - b)).toEqual(keys(outcome.begin).sort((a, b) => a - b));
          expect(look.needed - look.given.length).toBe(waiting.filter(({ places }) => places.size === 0).length);
          const newInLine = ({ line }: typeof look): number[] => keys(line).filter((key) => !isHeld(people[key - 1] ?? person(0, 1)));
          if (newInLine(look).length > 0) expect(look.short).not.toEqual([]);
          // Where nobody was in line before, raising the limits that are named lets all of them in.
          const raised = new Map(look.short.map(({ groupId, most: was, missing }) => [groupId, was + missing]));
          const homeSeats = Math.max(seats, raised.get(1) ?? 0);
          const raisedLimits = most.map((limit) => ({ ...limit, most: raised.get(limit.groupId) ?? limit.most }));
          if (people.every(({ places }) => places.size === 0))
            expect(newInLine(lookAtSeats(roomOf([licence({ seats: homeSeats, byHand })], raisedLimits, used), people, null))).toEqual([]);
          if (look.line.length > 0 && waiting.every(({ groups }) => groups[0] === waiting[0]?.groups[0])) expect(look.free).not.toBeNull();
        },
      ),
      { numRuns: 300 },
    );
  });
});
