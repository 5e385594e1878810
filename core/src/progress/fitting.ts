import type { CoursePart } from '../filters/filter.ts';
import { addDays, type Day } from '../time/day.ts';
import {
  begunBit,
  type CourseNumbers,
  dayNumber,
  type EnrolmentColumns,
  exemptBit,
  inLineBit,
  noDay,
  openBit,
  seatBit,
  statusBits,
  statuses,
  type Stretch,
} from './enrolment-columns.ts';

/* Which rows of the columns fit a filter. Its meaning is that of `enrolmentFits`; a test compares the two. */

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

/** What is asked of the bits of a row. @param isOpen As the reader knows it. */
function factsFit(part: CoursePart, facts: number, isOpen: boolean): boolean {
  const status = statuses[facts & statusBits];
  switch (part.part) {
    case 'access':
      return isOpen;
    case 'status':
      return status !== undefined && part.of.includes(status);
    case 'exempt':
      return ((facts & exemptBit) !== 0) === part.is;
    case 'seat':
      return part.of.includes((facts & seatBit) !== 0 ? 'has' : isOpen && (facts & inLineBit) !== 0 ? 'in line' : 'none');
    case 'done':
      return status === 'done';
    case 'due':
      return status !== 'done' && (facts & exemptBit) === 0;
    case 'lateness':
      if (part.of.includes('on time')) return true;
      return (facts & exemptBit) === 0 && part.of.some((each) => (each === 'done late') === (status === 'done'));
    default:
      return true;
  }
}

/** @param due As the reader knows it. */
type NumbersTest = (columns: EnrolmentColumns, at: number, due: number) => boolean;

/** What a part asks of the days and the score of a row, beside its bits. */
function numbersTestOf(part: CoursePart, { today, dueSoonDays }: ColumnReader): NumbersTest | null {
  const now = dayNumber(today);
  const within = ({ from, until }: { from: Day | null; until: Day | null }): ((day: number) => boolean) => {
    const [first, last] = [from === null ? noDay + 1 : dayNumber(from), until === null ? Infinity : dayNumber(until)];
    return (day) => day >= first && day <= last;
  };
  switch (part.part) {
    case 'lateness': {
      const soon = dayNumber(addDays(today, dueSoonDays));
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
    case 'score':
      // What is no number is neither more nor less.
      return ({ score }, at) => (score[at] ?? NaN) >= part.from && (score[at] ?? NaN) <= part.to;
    case 'done': {
      const isThen = within(part);
      return ({ doneDay }, at) => isThen(doneDay[at] ?? noDay);
    }
    case 'worked': {
      const isThen = within(part);
      return ({ workedDay }, at) => isThen(workedDay[at] ?? noDay);
    }
    case 'due': {
      const last = dayNumber(addDays(today, part.days));
      return (_columns, _at, due) => due !== noDay && due >= now && due <= last;
    }
    default:
      return null;
  }
}

/** In the table of bits that fit, those of rows that are open to the reader come second. */
const openInTable = 128;
/** From the bit of an open row to that place. */
const openShift = 4;

/** Finds the rows that a reader sees and that fit all parts of a filter. */
export class Fitting {
  /** By the bits of a row, whether they fit. */
  readonly #facts: Uint8Array;
  readonly #numbers: readonly NumbersTest[];
  /** By number of a course: does it fit? */
  readonly #courses: Uint8Array;
  readonly #sees: Uint8Array | null;
  /** The rows that were found last. */
  rows = new Int32Array(1024);

  /** @param setsOf Courses there are, with the course sets of each: work in others is not told of. */
  constructor(parts: readonly CoursePart[], reader: ColumnReader, setsOf: ReadonlyMap<number, readonly number[]>, { ids }: CourseNumbers) {
    const named = parts.filter((part) => part.part === 'course');
    this.#courses = Uint8Array.from(ids, (id) => {
      const sets = setsOf.get(id);
      return sets && named.every((part) => part.courses.includes(id) || sets.some((set) => part.sets.includes(set))) ? 1 : 0;
    });
    this.#facts = Uint8Array.from({ length: 2 * openInTable }, (_, bits) => {
      const isOpen = bits >= openInTable;
      return (isOpen || (bits & begunBit) !== 0) && parts.every((part) => factsFit(part, bits, isOpen)) ? 1 : 0;
    });
    this.#numbers = parts.flatMap((part) => numbersTestOf(part, reader) ?? []);
    this.#sees = reader.sees;
  }

  /** @returns How many `rows` of a set there are. */
  find(columns: EnrolmentColumns, { from, to }: Stretch, isChosen: ((personId: number) => boolean) | null): number {
    this.#makeRoom(to - from);
    let count = this.#sees === null ? this.#findByBits(columns, from, to) : this.#findSeen(columns, from, to, this.#sees);
    if (isChosen !== null) count = this.#keepChosen(columns, count, isChosen);
    for (const test of this.#numbers) count = this.#keepFitting(columns, count, test);
    return count;
  }

  /** The due day of a row as the reader knows it: what is not open to them has none. */
  dueAt(columns: EnrolmentColumns, at: number): number {
    return this.isOpenAt(columns, at) ? (columns.due[at] ?? noDay) : noDay;
  }

  /** Is it open as far as the reader knows? */
  isOpenAt({ facts, openVia }: EnrolmentColumns, at: number): boolean {
    return ((facts[at] ?? 0) & openBit) !== 0 && (this.#sees === null || this.#sees[openVia[at] ?? 0] === 1);
  }

  /** For somebody who sees everything. Each row is written down and counted only if it fits: without a branch this takes half the time. */
  #findByBits({ course, facts }: EnrolmentColumns, from: number, to: number): number {
    const [courses, factsThatFit, rows] = [this.#courses, this.#facts, this.rows];
    let count = 0;
    for (let at = from; at < to; at++) {
      const fact = facts[at] ?? 0;
      rows[count] = at;
      count += (factsThatFit[fact | ((fact & openBit) << openShift)] ?? 0) & (courses[course[at] ?? 0] ?? 0);
    }
    return count;
  }

  #findSeen({ course, facts, openVia, workVia }: EnrolmentColumns, from: number, to: number, sees: Uint8Array): number {
    const [courses, factsThatFit, rows] = [this.#courses, this.#facts, this.rows];
    let count = 0;
    for (let at = from; at < to; at++) {
      const fact = facts[at] ?? 0;
      const isOpen = (fact & openBit) !== 0 && sees[openVia[at] ?? 0] === 1;
      if (factsThatFit[isOpen ? fact + openInTable : fact] !== 1 || courses[course[at] ?? 0] !== 1) continue;
      if (!isOpen && sees[workVia[at] ?? 0] !== 1) continue;
      rows[count++] = at;
    }
    return count;
  }

  #keepChosen({ person }: EnrolmentColumns, found: number, isChosen: (personId: number) => boolean): number {
    let last = -1;
    let isLastChosen = false;
    let count = 0;
    for (const at of this.rows.subarray(0, found)) {
      const of = person[at] ?? 0;
      if (of !== last) isLastChosen = isChosen((last = of));
      if (isLastChosen) this.rows[count++] = at;
    }
    return count;
  }

  #keepFitting(columns: EnrolmentColumns, found: number, test: NumbersTest): number {
    let count = 0;
    for (const at of this.rows.subarray(0, found)) if (test(columns, at, this.dueAt(columns, at))) this.rows[count++] = at;
    return count;
  }

  #makeRoom(length: number): void {
    if (length <= this.rows.length) return;
    this.rows = new Int32Array(length * 2);
  }
}
