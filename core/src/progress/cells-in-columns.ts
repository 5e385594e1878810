import { type Lateness, lateness, type Status } from '../courses/status.ts';
import type { Day } from '../time/day.ts';
import type { AddingQuestion } from './add-columns.ts';
import { dayNumber, dayOfNumber, inLineBit, isToDo, noDay, statusAt, type Stretch } from './enrolment-columns.ts';
import { Fitting } from './fitting.ts';

/** What a file says of one learner and one course. */
export interface FileCell {
  courseId: number;
  status: Status;
  lateness: Lateness;
  exempt: boolean;
  inLine: boolean;
  score: number | null;
  due: Day | null;
  doneDay: Day | null;
}

/** Rows of columns, those of a person next to one another. It can be sent to another thread. */
export interface TakenRows {
  /** Everybody with a row of any course, and where their taken rows end. */
  readonly people: Float64Array;
  readonly ends: Int32Array;
  /** Next due days over all courses; `noDay`: none. */
  readonly nextDue: Int32Array;
  readonly courseId: Float64Array;
  readonly facts: Uint8Array;
  readonly score: Float64Array;
  readonly due: Int32Array;
  readonly doneDay: Int32Array;
}

/** Takes the rows of some courses, as a reader knows them, and what is due next in all. */
export function takeRows(
  sets: Iterable<{ stretch: Stretch }>,
  courseIds: readonly number[],
  { columns, reader, setsOf, courses }: Pick<AddingQuestion, 'columns' | 'reader' | 'setsOf' | 'courses'>,
): TakenRows {
  const fitting = new Fitting([], reader, setsOf, courses);
  const isWanted = Uint8Array.from(courses.ids, (id) => (courseIds.includes(id) ? 1 : 0));
  const now = dayNumber(reader.today);
  const [people, ends, nextDue]: [number[], number[], number[]] = [[], [], []];
  const taken: number[] = [];
  const { person, course, facts } = columns;
  for (const { stretch } of sets) {
    const count = fitting.find(columns, stretch, null);
    for (let index = 0; index < count; index++) {
      const at = fitting.rows[index] ?? 0;
      const id = person[at] ?? 0;
      if (people.at(-1) !== id) {
        people.push(id);
        ends.push(taken.length);
        nextDue.push(noDay);
      }
      const last = people.length - 1;
      const due = fitting.dueAt(columns, at);
      if (due >= now && isToDo(facts[at] ?? 0)) nextDue[last] = nextDue[last] === noDay ? due : Math.min(nextDue[last] ?? due, due);
      if (isWanted[course[at] ?? 0] === 1) ends[last] = taken.push(at);
    }
  }
  return {
    people: Float64Array.from(people),
    ends: Int32Array.from(ends),
    nextDue: Int32Array.from(nextDue),
    courseId: Float64Array.from(taken, (at) => courses.ids[course[at] ?? 0] ?? 0),
    facts: Uint8Array.from(taken, (at) => (fitting.isOpenAt(columns, at) ? (facts[at] ?? 0) : (facts[at] ?? 0) & ~inLineBit)),
    score: Float64Array.from(taken, (at) => columns.score[at] ?? NaN),
    due: Int32Array.from(taken, (at) => fitting.dueAt(columns, at)),
    doneDay: Int32Array.from(taken, (at) => columns.doneDay[at] ?? noDay),
  };
}

/** Reads taken rows person by person. @returns Of one person the cells, and the next due day. */
export function cellsFromRows(
  rows: TakenRows,
  { today, dueSoonDays }: { today: Day; dueSoonDays: number },
): (personId: number) => { cells: FileCell[]; nextDue: Day | null } {
  const places = new Map(Array.from(rows.people, (id, place) => [id, place]));
  const days = new Map<number, Day>();
  const dayOf = (number: number | undefined): Day | null => {
    if (number === undefined || number === noDay) return null;
    const known = days.get(number) ?? dayOfNumber(number);
    days.set(number, known);
    return known;
  };
  const cellAt = (at: number): FileCell => {
    const [{ status, exempt }, score] = [statusAt(rows, at), rows.score[at] ?? NaN];
    const [due, doneDay] = [dayOf(rows.due[at]), dayOf(rows.doneDay[at])];
    return {
      courseId: rows.courseId[at] ?? 0,
      status,
      exempt,
      lateness: exempt ? 'on time' : lateness(due, doneDay, today, dueSoonDays),
      inLine: ((rows.facts[at] ?? 0) & inLineBit) !== 0,
      score: Number.isNaN(score) ? null : score,
      due,
      doneDay,
    };
  };
  return (personId) => {
    const place = places.get(personId);
    if (place === undefined) return { cells: [], nextDue: null };
    const from = rows.ends[place - 1] ?? 0;
    return {
      cells: Array.from({ length: (rows.ends[place] ?? from) - from }, (_, index) => cellAt(from + index)),
      nextDue: dayOf(rows.nextDue[place]),
    };
  };
}
