import type { CourseId, PersonId } from '../access/grant.ts';
import type { GroupId } from '../groups/tree.ts';
import type { Day } from '../time/day.ts';
import type { LicenceId, SeatId, SeatNeed, SeatPerson, SeatWay } from './licence.ts';
import type { SeatRoom } from './seat-room.ts';
import { mayGet, settleSeats } from './settle-seats.ts';

/** What a change would do to seats. People below zero are new ones. */
export interface SeatEffects {
  /** From when; null: from today. */
  day: Day | null;
  /** How many more seats are needed than its people have. */
  needed: number;
  /** How many of those that could be charged are free; null: the reader may not know more than whether there is room. */
  free: number | null;
  /** Who would get a seat, and of those in line now, who would. */
  given: PersonId[];
  fromLine: PersonId[];
  ended: PersonId[];
  moved: PersonId[];
  /** Who would wait no longer, without a seat. */
  leftLine: PersonId[];
  /** Who would stand in line, in the order of the line; `row` of the file that brings them. */
  line: { key: PersonId; courseId: CourseId; row: number }[];
  /** Limits that would keep them in line, from the licence's home down, and how many seats are missing at each, beside those for people who wait already. */
  short: { licenceId: LicenceId; groupId: GroupId; most: number; missing: number }[];
}

export const noSeats = (): SeatEffects => ({
  day: null,
  needed: 0,
  free: 0,
  given: [],
  fromLine: [],
  ended: [],
  moved: [],
  leftLine: [],
  line: [],
  short: [],
});

/**
 * Seats of people as they would be afterwards.
 * @param seen Groups whose limits the reader may know; null: all.
 * @param undone Seats that come back whatever their licence says, and who comes before the line, when a change is undone.
 */
export function lookAtSeats(
  room: SeatRoom,
  people: readonly SeatPerson[],
  seen: ((groupId: GroupId) => boolean) | null,
  undone: { seats: readonly SeatId[]; first: readonly PersonId[] } = { seats: [], first: [] },
): SeatEffects {
  const outcome = settleSeats(room, people, new Set(undone.seats), new Set(undone.first));
  const { move, end, queue } = outcome;
  const byKey = new Map(people.map((person) => [person.key, person]));
  const needOf = ({ key, courseId }: { key: PersonId; courseId: CourseId }): SeatNeed | undefined =>
    byKey.get(key)?.needs.find((need) => need.courseId === courseId);

  const wasInLine = ({ key, courseId }: { key: PersonId; courseId: CourseId }): boolean => byKey.get(key)?.places.has(courseId) ?? false;
  const fromLine = outcome.begin.filter(wasInLine);
  const begin = outcome.begin.filter((each) => !wasInLine(each));
  const isServed = new Set(outcome.begin.map(({ key }) => key));
  const leftLine = outcome.unqueue.flatMap(({ key }) => (isServed.has(key) ? [] : [key]));
  // Of whoever stands in line for several courses that one licence pays for, one seat is needed.
  const short = new Set(queue.map((each) => `${each.key}/${needOf(each)?.ways[0]?.licenceId ?? `course ${each.courseId}`}`));
  const groupsOf = new Map<number, Set<GroupId>>();
  for (const each of [...begin, ...queue]) {
    for (const { licenceId, groupId } of needOf(each)?.ways ?? []) {
      const groups = groupsOf.get(licenceId) ?? new Set();
      groupsOf.set(licenceId, groups.add(groupId));
    }
  }
  let free: number | null = begin.length;
  for (const [licenceId, groups] of groupsOf) {
    const left = [...groups].map((groupId) => room.free({ licenceId, groupId }, seen ?? undefined));
    if (left.includes(null)) free = null;
    else if (free !== null) free += Math.max(0, ...left.flatMap((each) => each ?? []));
  }
  return {
    day: null,
    needed: begin.length + short.size,
    free,
    given: begin.map(({ key }) => key),
    fromLine: fromLine.map(({ key }) => key),
    ended: end.map(({ key }) => key),
    moved: move.map(({ key }) => key),
    leftLine: [...new Set(leftLine)],
    short: limitsInTheWay(
      room,
      queue.flatMap((each) => {
        const person = byKey.get(each.key);
        const way = needOf(each)?.ways.find((one) => person && mayGet(room, person, one));
        return way ? [{ key: each.key, ...way }] : [];
      }),
      seen,
    ),
    line: queue.map(({ key, courseId }) => ({ key, courseId, row: byKey.get(key)?.fileRow ?? 0 })),
  };
}

/** Of those who wait, each counts once at every limit on the way of the licence that would pay for them. */
function limitsInTheWay(
  room: SeatRoom,
  waiting: readonly (SeatWay & { key: PersonId })[],
  seen: ((groupId: GroupId) => boolean) | null,
): SeatEffects['short'] {
  const limits = new Map<string, { licenceId: LicenceId; groupId: GroupId; most: number; left: number; keys: Set<PersonId> }>();
  for (const { key, ...way } of waiting)
    for (const { groupId, most, left } of room.limitsOn(way, seen ?? undefined)) {
      const at = `${way.licenceId}/${groupId}`;
      const limit = limits.get(at) ?? { licenceId: way.licenceId, groupId, most, left, keys: new Set() };
      limits.set(at, limit);
      limit.keys.add(key);
    }
  return [...limits.values()].flatMap(({ licenceId, groupId, most, left, keys }) =>
    keys.size > left ? [{ licenceId, groupId, most, missing: keys.size - left }] : [],
  );
}
