import type { Status } from '../courses/status.ts';
import { type Day, millisecondsInDay } from '../time/day.ts';

/*
 * Enrolments as columns of numbers, so that a report over a million of them takes milliseconds: reading them one by one from a
 * database takes a second or more.
 */

/** Days since 1 January 1970. */
export const dayNumber = (day: Day): number => Date.parse(`${day}T00:00:00Z`) / millisecondsInDay;
export const dayOfNumber = (days: number): Day => new Date(days * millisecondsInDay).toISOString().slice(0, 10);
/** In a column of days: none. */
export const noDay = -2_147_483_648;

export const statuses: readonly Status[] = ['not begun', 'under way', 'done'];

/** One enrolment as somebody sees it who sees everything. */
export interface EnrolmentRow {
  personId: number;
  courseId: number;
  status: Status;
  exempt: boolean;
  isOpen: boolean;
  /** Worked on, or exempt. */
  isBegun: boolean;
  hasSeat: boolean;
  inLine: boolean;
  score: number | null;
  /** Days as numbers. */
  doneDay: number | null;
  due: number | null;
  /** The last day on which it was worked on. */
  workedDay: number | null;
  /** Numbers of the lists of groups through which it is open, and through which it was worked on (`IdLists`). */
  openVia: number;
  workVia: number;
  /** Number of the list of units that are open. */
  units: number;
}

/** Where a membership set lies in the columns: its counted learners, also those without a row, and its rows, those of a person next to one another. */
export interface Stretch {
  readonly from: number;
  readonly to: number;
  readonly peopleFrom: number;
  readonly peopleTo: number;
}
type Movable = { -readonly [key in keyof Stretch]: Stretch[key] };

export const statusBits = 3;
export const exemptBit = 4;
export const openBit = 8;
export const begunBit = 16;
export const seatBit = 32;
export const inLineBit = 64;

const factsOf = (row: EnrolmentRow): number =>
  statuses.indexOf(row.status) |
  (row.exempt ? exemptBit : 0) |
  (row.isOpen ? openBit : 0) |
  (row.isBegun ? begunBit : 0) |
  (row.hasSeat ? seatBit : 0) |
  (row.inLine ? inLineBit : 0);

/**
 * Rows of all membership sets in one array for each column, so that a report goes through memory from front to back. A set is added at
 * the end; where one was dropped nothing lies until the columns are moved together.
 */
export class EnrolmentColumns {
  people = new Float64Array(0);
  person = new Float64Array(0);
  /** Numbers of courses (`CourseNumbers`). */
  course = new Int32Array(0);
  facts = new Uint8Array(0);
  score = new Float64Array(0);
  doneDay = new Int32Array(0);
  due = new Int32Array(0);
  workedDay = new Int32Array(0);
  openVia = new Int32Array(0);
  workVia = new Int32Array(0);
  units = new Int32Array(0);
  /** In the order in which they lie. */
  readonly #stretches = new Set<Movable>();
  #rowsUsed = 0;
  #peopleUsed = 0;
  #rowsDropped = 0;

  /** @param people Everybody of the set. */
  add(people: readonly number[], rows: readonly EnrolmentRow[], courses: CourseNumbers): Stretch {
    this.#makeRoom(rows.length, people.length);
    const [from, peopleFrom] = [this.#rowsUsed, this.#peopleUsed];
    const stretch = { from, to: from + rows.length, peopleFrom, peopleTo: peopleFrom + people.length };
    this.people.set(people, peopleFrom);
    [...rows]
      .sort((a, b) => a.personId - b.personId)
      .forEach((row, index) => {
        this.#write(from + index, row, courses);
      });
    this.#rowsUsed = stretch.to;
    this.#peopleUsed = stretch.peopleTo;
    this.#stretches.add(stretch);
    return stretch;
  }

  drop(stretch: Stretch): void {
    if (this.#stretches.delete(stretch)) this.#rowsDropped += stretch.to - stretch.from;
  }

  #write(at: number, row: EnrolmentRow, courses: CourseNumbers): void {
    this.person[at] = row.personId;
    this.course[at] = courses.numberOf(row.courseId);
    this.facts[at] = factsOf(row);
    this.score[at] = row.score ?? NaN;
    this.doneDay[at] = row.doneDay ?? noDay;
    this.due[at] = row.due ?? noDay;
    this.workedDay[at] = row.workedDay ?? noDay;
    this.openVia[at] = row.openVia;
    this.workVia[at] = row.workVia;
    this.units[at] = row.units;
  }

  #makeRoom(rows: number, people: number): void {
    const isFull = (): boolean => this.#rowsUsed + rows > this.person.length || this.#peopleUsed + people > this.people.length;
    if (isFull() && this.#rowsDropped * 4 > this.#rowsUsed) this.#moveTogether();
    if (!isFull()) return;
    this.people = withRoom(this.people, this.#peopleUsed + people);
    for (const name of columnsOfRows) Object.assign(this, { [name]: withRoom(this[name], this.#rowsUsed + rows) });
  }

  #moveTogether(): void {
    [this.#rowsUsed, this.#peopleUsed, this.#rowsDropped] = [0, 0, 0];
    for (const stretch of this.#stretches) {
      const { from, to, peopleFrom, peopleTo } = stretch;
      for (const name of columnsOfRows) this[name].copyWithin(this.#rowsUsed, from, to);
      this.people.copyWithin(this.#peopleUsed, peopleFrom, peopleTo);
      stretch.from = this.#rowsUsed;
      stretch.to = this.#rowsUsed += to - from;
      stretch.peopleFrom = this.#peopleUsed;
      stretch.peopleTo = this.#peopleUsed += peopleTo - peopleFrom;
    }
  }
}

const columnsOfRows = ['person', 'course', 'facts', 'score', 'doneDay', 'due', 'workedDay', 'openVia', 'workVia', 'units'] as const;

/** Half as much again, so that it is seldom copied. */
function withRoom<A extends Float64Array | Int32Array | Uint8Array>(array: A, least: number): A {
  if (array.length >= least) return array;
  const longer = new (array.constructor as new (length: number) => A)(Math.ceil(least * 1.5));
  longer.set(array);
  return longer;
}

/** Lists of groups, or of units, by number: thousands of enrolments share a handful of lists. */
export class IdLists {
  readonly #numbers = new Map<string, number>();
  readonly #lists: (readonly number[])[] = [];

  numberOf(list: readonly number[]): number {
    const key = list.join();
    const known = this.#numbers.get(key);
    if (known !== undefined) return known;
    this.#numbers.set(key, this.#lists.length);
    this.#lists.push(list);
    return this.#lists.length - 1;
  }

  list(number: number): readonly number[] {
    return this.#lists[number] ?? [];
  }

  /** For each list, 1 if any of these is in it. */
  touching(wanted: ReadonlySet<number>): Uint8Array {
    return Uint8Array.from(this.#lists, (list) => (list.some((id) => wanted.has(id)) ? 1 : 0));
  }
}

/** Courses by number, in the order in which they were met: sums by course are then places in an array. */
export class CourseNumbers {
  readonly #numbers = new Map<number, number>();
  readonly ids: number[] = [];

  numberOf(courseId: number): number {
    const known = this.#numbers.get(courseId);
    if (known !== undefined) return known;
    this.#numbers.set(courseId, this.ids.length);
    this.ids.push(courseId);
    return this.ids.length - 1;
  }
}

/** Is a row told of at all: is it open, or begun? */
export const isThereAt = (facts: Uint8Array, at: number): boolean => ((facts[at] ?? 0) & (openBit | begunBit)) !== 0;

/** How far a row’s learner is, and whether they are exempt. */
export const statusAt = ({ facts }: { facts: Uint8Array }, at: number): { status: Status; exempt: boolean } => ({
  status: statuses[(facts[at] ?? 0) & statusBits] ?? 'not begun',
  exempt: ((facts[at] ?? 0) & exemptBit) !== 0,
});

/** The list of groups through which a row can be seen by everybody who can see it at all: where it is open, or else was worked on. */
export const listOf = ({ facts, openVia, workVia }: EnrolmentColumns, at: number): number =>
  ((facts[at] ?? 0) & openBit) !== 0 ? (openVia[at] ?? 0) : (workVia[at] ?? 0);

/** Neither done nor exempt, by the bits of a row. */
export const isToDo = (facts: number): boolean => statuses[facts & statusBits] !== 'done' && (facts & exemptBit) === 0;
