import type { Status } from '../courses/status.ts';
import type { CoursePart } from '../filters/filter.ts';
import { addDays, type Day, millisecondsInDay } from '../time/day.ts';

/*
 * Enrolments as columns of numbers, so that a report over a million of them takes milliseconds: reading them one by one from a
 * database takes a second or more. The meaning of a filter is that of `enrolmentFits`; a test compares the two.
 */

/** Days since 1 January 1970. */
export const dayNumber = (day: Day): number => Date.parse(`${day}T00:00:00Z`) / millisecondsInDay;
export const dayOfNumber = (days: number): Day => new Date(days * millisecondsInDay).toISOString().slice(0, 10);
/** In a column of days: none. */
export const noDay = -2_147_483_648;

const statuses: readonly Status[] = ['not begun', 'under way', 'done'];

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

/** Rows of one membership set, those of a person next to one another. */
export interface EnrolmentColumns {
  /** All counted learners of the set, also those without a row. */
  people: Float64Array;
  person: Float64Array;
  /** Numbers of courses (`CourseNumbers`). */
  course: Int32Array;
  facts: Uint8Array;
  score: Float64Array;
  doneDay: Int32Array;
  due: Int32Array;
  workedDay: Int32Array;
  openVia: Int32Array;
  workVia: Int32Array;
  units: Int32Array;
}

export const statusBits = 3;
export const exemptBit = 4;
const openBit = 8;
const begunBit = 16;
const seatBit = 32;
const inLineBit = 64;

/** @param people Everybody of the set. */
export function columnsOf(people: readonly number[], rows: readonly EnrolmentRow[], courses: CourseNumbers): EnrolmentColumns {
  const sorted = [...rows].sort((a, b) => a.personId - b.personId);
  const days = (of: (row: EnrolmentRow) => number | null): Int32Array => Int32Array.from(sorted, (row) => of(row) ?? noDay);
  return {
    people: Float64Array.from(people),
    person: Float64Array.from(sorted, ({ personId }) => personId),
    course: Int32Array.from(sorted, ({ courseId }) => courses.numberOf(courseId)),
    facts: Uint8Array.from(
      sorted,
      (row) =>
        statuses.indexOf(row.status) |
        (row.exempt ? exemptBit : 0) |
        (row.isOpen ? openBit : 0) |
        (row.isBegun ? begunBit : 0) |
        (row.hasSeat ? seatBit : 0) |
        (row.inLine ? inLineBit : 0),
    ),
    score: Float64Array.from(sorted, ({ score }) => score ?? NaN),
    doneDay: days(({ doneDay }) => doneDay),
    due: days(({ due }) => due),
    workedDay: days(({ workedDay }) => workedDay),
    openVia: Int32Array.from(sorted, ({ openVia }) => openVia),
    workVia: Int32Array.from(sorted, ({ workVia }) => workVia),
    units: Int32Array.from(sorted, ({ units }) => units),
  };
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
export const statusAt = ({ facts }: EnrolmentColumns, at: number): { status: Status; exempt: boolean } => ({
  status: statuses[(facts[at] ?? 0) & statusBits] ?? 'not begun',
  exempt: ((facts[at] ?? 0) & exemptBit) !== 0,
});

/** The list of groups through which a row can be seen by everybody who can see it at all: where it is open, or else was worked on. */
export const listOf = ({ facts, openVia, workVia }: EnrolmentColumns, at: number): number =>
  ((facts[at] ?? 0) & openBit) !== 0 ? (openVia[at] ?? 0) : (workVia[at] ?? 0);

export interface ColumnReader {
  today: Day;
  dueSoonDays: number;
  /** By number of a list of groups: does the reader see through it? Null: they see everything. */
  sees: Uint8Array | null;
}

/** Can these parts be answered from columns? They know the last day of work alone, and only what is open or was worked on. */
export const isInColumns = (parts: readonly CoursePart[], today: Day): boolean =>
  parts.every((part) =>
    part.part === 'worked'
      ? part.until === null || part.until >= today
      : part.part !== 'access' || part.of.every((each) => each === 'open'),
  );

/** @param isOpen As the reader knows it. */
type Test = (columns: EnrolmentColumns, at: number, due: number, inLine: boolean, isOpen: boolean) => boolean;

function testOf(part: Exclude<CoursePart, { part: 'course' }>, { today, dueSoonDays }: ColumnReader): Test {
  const now = dayNumber(today);
  const soon = dayNumber(addDays(today, dueSoonDays));
  const within = (from: Day | null, until: Day | null): ((day: number) => boolean) => {
    const [first, last] = [from === null ? -Infinity : dayNumber(from), until === null ? Infinity : dayNumber(until)];
    return (day) => day !== noDay && day >= first && day <= last;
  };
  switch (part.part) {
    case 'access':
      return (_columns, _at, _due, _inLine, isOpen) => isOpen;
    case 'status': {
      const wanted = statuses.map((status) => part.of.includes(status));
      return ({ facts }, at) => wanted[(facts[at] ?? 0) & statusBits] === true;
    }
    case 'lateness': {
      const [onTime, dueSoon, overdue, doneLate] = (['on time', 'due soon', 'overdue', 'done late'] as const).map((each) =>
        part.of.includes(each),
      );
      return ({ facts, doneDay }, at, due) => {
        const done = doneDay[at] ?? noDay;
        if (((facts[at] ?? 0) & exemptBit) !== 0 || due === noDay) return onTime === true;
        if (done !== noDay) return (done > due ? doneLate : onTime) === true;
        return (due < now ? overdue : due <= soon ? dueSoon : onTime) === true;
      };
    }
    case 'exempt':
      return ({ facts }, at) => (((facts[at] ?? 0) & exemptBit) !== 0) === part.is;
    case 'seat': {
      const [has, waits, none] = (['has', 'in line', 'none'] as const).map((each) => part.of.includes(each));
      return ({ facts }, at, _due, inLine) => (((facts[at] ?? 0) & seatBit) !== 0 ? has : inLine ? waits : none) === true;
    }
    case 'score':
      // What is no number is neither more nor less.
      return ({ score }, at) => (score[at] ?? NaN) >= part.from && (score[at] ?? NaN) <= part.to;
    case 'done': {
      const isThen = within(part.from, part.until);
      return ({ facts, doneDay }, at) => ((facts[at] ?? 0) & statusBits) === 2 && isThen(doneDay[at] ?? noDay);
    }
    case 'worked': {
      const isThen = within(part.from, part.until);
      return ({ workedDay }, at) => isThen(workedDay[at] ?? noDay);
    }
    case 'due': {
      const last = dayNumber(addDays(today, part.days));
      return ({ facts }, at, due) => ((facts[at] ?? 0) & (statusBits | exemptBit)) < 2 && due !== noDay && due >= now && due <= last;
    }
  }
}

/** A loop, since `every` would make a function for each row. */
function fitsAll(tests: readonly Test[], columns: EnrolmentColumns, at: number, due: number, inLine: boolean, isOpen: boolean): boolean {
  for (const test of tests) if (!test(columns, at, due, inLine, isOpen)) return false;
  return true;
}

/** Finds the rows that a reader sees and that fit all parts of a filter. */
export class Fitting {
  readonly #tests: readonly Test[];
  /** By number of a course: does it fit? */
  readonly #courses: Uint8Array;
  readonly #sees: Uint8Array | null;
  /** The rows that were found last, and the due day of each as the reader knows it. */
  rows = new Int32Array(1024);
  dues = new Int32Array(1024);

  /** @param setsOf Courses there are, with the course sets of each: work in others is not told of. */
  constructor(parts: readonly CoursePart[], reader: ColumnReader, setsOf: ReadonlyMap<number, readonly number[]>, { ids }: CourseNumbers) {
    const named = parts.filter((part) => part.part === 'course');
    this.#tests = parts.flatMap((part) => (part.part === 'course' ? [] : [testOf(part, reader)]));
    this.#courses = Uint8Array.from(ids, (id) => {
      const sets = setsOf.get(id);
      return sets && named.every((part) => part.courses.includes(id) || sets.some((set) => part.sets.includes(set))) ? 1 : 0;
    });
    this.#sees = reader.sees;
  }

  /** @returns How many `rows` there are. */
  find(columns: EnrolmentColumns, isChosen: ((personId: number) => boolean) | null): number {
    const { person, course, facts, openVia, workVia } = columns;
    const [sees, courses, tests] = [this.#sees, this.#courses, this.#tests];
    this.#makeRoom(facts.length);
    const [rows, dues] = [this.rows, this.dues];
    let last = -1;
    let isLastChosen = true;
    let count = 0;
    for (let at = 0; at < facts.length; at++) {
      if (isChosen !== null && person[at] !== last) {
        last = person[at] ?? 0;
        isLastChosen = isChosen(last);
      }
      if (!isLastChosen || courses[course[at] ?? 0] !== 1) continue;
      const fact = facts[at] ?? 0;
      const isOpen = (fact & openBit) !== 0 && (sees === null || sees[openVia[at] ?? 0] === 1);
      if (!isOpen && ((fact & begunBit) === 0 || (sees !== null && sees[workVia[at] ?? 0] !== 1))) continue;
      const due = isOpen ? (columns.due[at] ?? noDay) : noDay;
      const inLine = isOpen && (fact & inLineBit) !== 0;
      if (tests.length > 0 && !fitsAll(tests, columns, at, due, inLine, isOpen)) continue;
      rows[count] = at;
      dues[count] = due;
      count++;
    }
    return count;
  }

  #makeRoom(length: number): void {
    if (length <= this.rows.length) return;
    this.rows = new Int32Array(length * 2);
    this.dues = new Int32Array(length * 2);
  }
}
