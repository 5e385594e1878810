import type { CourseId, PersonId } from '../access/grant.ts';
import type { LicenceId, Seat, SeatId, SeatPerson, SeatWay } from './licence.ts';
import type { SeatRoom } from './seat-room.ts';

/** What becomes of seats and of the line. */
export interface SeatOutcome {
  begin: (SeatWay & { key: PersonId; courseId: CourseId })[];
  /** Charged to another membership of the same person. */
  move: { seatId: SeatId; key: PersonId; way: SeatWay }[];
  end: { seatId: SeatId; key: PersonId }[];
  queue: { key: PersonId; courseId: CourseId }[];
  unqueue: { key: PersonId; courseId: CourseId }[];
}

/**
 * Hands out seats to whoever needs one, takes back those whose membership has ended, and lines up the others
 * (`product.md`, Seats). First what comes back; then the line by place; then who is new, in the order of the file.
 * No admission takes a number past its limit at any level; `room` is charged as it goes.
 *
 * A licence *by hand* admits only those to whom a seat was given, and a seat that was taken back is not given again by itself: they
 * wait. For a licence whose place in line somebody gave up they do not wait.
 *
 * @param comesBack Seats that come back whatever their licence says, since what brought them is undone.
 * @param first Who comes before the line, since they only get back what they had.
 * @example One seat left, a line of one whose path has room, and somebody new: the one in line gets it, the new one lines up.
 */
export function settleSeats(
  room: SeatRoom,
  people: readonly SeatPerson[],
  comesBack: ReadonlySet<SeatId> = new Set(),
  first: ReadonlySet<PersonId> = new Set(),
): SeatOutcome {
  const outcome: SeatOutcome = { begin: [], move: [], end: [], queue: [], unqueue: [] };
  const held = new Map(people.map((person) => [person.key, holdOn(room, person, comesBack, outcome)]));

  const claims = people.flatMap((person) =>
    person.needs.map((need) => ({ person, need, place: person.places.get(need.courseId) ?? Number.POSITIVE_INFINITY })),
  );
  const rank = ({ key }: SeatPerson): number => (first.has(key) ? 0 : 1);
  claims.sort(
    (a, b) =>
      rank(a.person) - rank(b.person) ||
      (a.place === b.place ? 0 : a.place - b.place) ||
      a.person.fileRow - b.person.fileRow ||
      inOrder(a.person.key, b.person.key),
  );
  for (const { person, need } of claims) {
    const has = held.get(person.key);
    const isWaiting = person.places.has(need.courseId);
    let isMet = need.ways.some(({ licenceId }) => has?.has(licenceId));
    const ways = need.ways.filter(({ licenceId }) => person.words.get(licenceId) !== 'gave up');
    const way = isMet ? undefined : ways.find((each) => mayGet(room, person, each) && room.hasRoom(each));
    if (way) {
      room.charge(way);
      has?.add(way.licenceId);
      outcome.begin.push({ key: person.key, courseId: need.courseId, ...way });
      isMet = true;
    }
    // Where no licence can pay there is nothing to wait for.
    const waits = !isMet && ways.length > 0;
    if (waits !== isWaiting) (waits ? outcome.queue : outcome.unqueue).push({ key: person.key, courseId: need.courseId });
  }
  for (const { key, places, needs } of people)
    for (const courseId of places.keys()) if (!needs.some((need) => need.courseId === courseId)) outcome.unqueue.push({ key, courseId });
  return outcome;
}

/** Of the seats somebody has, those that stay theirs. */
function holdOn(room: SeatRoom, person: SeatPerson, comesBack: ReadonlySet<SeatId>, outcome: SeatOutcome): Set<LicenceId> {
  const held = new Set<LicenceId>();
  for (const seat of person.seats) {
    const licence = room.licence(seat.licenceId);
    if (person.words.get(seat.licenceId) === 'taken back') {
      room.release(seat);
      outcome.end.push({ seatId: seat.id, key: person.key });
      continue;
    }
    if (licence && person.groups.includes(seat.groupId) && room.reaches(seat.licenceId, seat.groupId)) {
      held.add(seat.licenceId);
      continue;
    }
    room.release(seat);
    const way = licence && otherWay(room, person, seat);
    if (way) {
      room.charge(way);
      held.add(way.licenceId);
      outcome.move.push({ seatId: seat.id, key: person.key, way });
    } else if (licence && !comesBack.has(seat.id) && staysUsed(person, seat, room)) {
      room.charge(seat);
      held.add(seat.licenceId);
    } else outcome.end.push({ seatId: seat.id, key: person.key });
  }
  return held;
}

/** Does a licence give somebody a seat by itself, or was one given by hand? Who has one keeps it, whatever the licence says later. */
export function mayGet(room: SeatRoom, { words }: SeatPerson, { licenceId }: SeatWay): boolean {
  const word = words.get(licenceId);
  return room.licence(licenceId)?.byHand ? word === 'given' : word !== 'taken back';
}

/** Another membership that the seat can be charged to: one that opens a covered course, with room on its path. */
function otherWay(room: SeatRoom, { needs }: SeatPerson, seat: Seat): SeatWay | undefined {
  return needs.flatMap(({ ways }) => ways).find((way) => way.licenceId === seat.licenceId && room.hasRoom(way));
}

function staysUsed({ begun }: SeatPerson, { licenceId }: Seat, room: SeatRoom): boolean {
  const licence = room.licence(licenceId);
  if (licence?.onLeaving !== 'comes back if not begun') return licence?.onLeaving === 'stays used';
  return [...licence.covers].some((courseId) => begun.has(courseId));
}

/** New people come after those who are known, in the order in which they were numbered. */
const inOrder = (a: PersonId, b: PersonId): number => Number(a < 0) - Number(b < 0) || Math.abs(a) - Math.abs(b);
