import type { CoursePart } from '../filters/filter.ts';
import {
  type CourseNumbers,
  dayNumber,
  type EnrolmentColumns,
  exemptBit,
  isThereAt,
  listOf,
  noDay,
  type Stretch,
} from './enrolment-columns.ts';
import { type ColumnReader, Fitting } from './fitting.ts';
import { scoreTens, type Tally, tenOf } from './figures.ts';
import { ScoreList } from './score-list.ts';
import { addOneRow, type CourseSums, courseSumsOf, isSettled, sumWidth, totalOf } from './sums.ts';

/* What columns of enrolments come to, by group and course. */

export interface AddedUp {
  /** Learners who fit; with no course part also those to whom nothing is open. */
  learners: number;
  everybody: number;
  total: Tally;
  byCourse: CourseSums;
  /** By the day on which they were done, as numbers. */
  doneOn: ReadonlyMap<number, number>;
  /** How many of those that are not exempt have a score of each ten. */
  tens: readonly number[];
  /** Of those that are not exempt, with the numbers of their courses; empty unless they are asked for. */
  scores: ScoreList;
}

export interface AddingQuestion {
  columns: EnrolmentColumns;
  parts: readonly CoursePart[];
  reader: ColumnReader;
  setsOf: ReadonlyMap<number, readonly number[]>;
  courses: CourseNumbers;
  /** Null: everybody. */
  isChosen: ((personId: number) => boolean) | null;
  /** Groups of which days and tens, and if asked for scores, are told too. */
  spreadOf: ReadonlySet<number>;
  withScores: boolean;
  /** Else only the totals are told. */
  withCourses?: boolean;
}

/** What a set comes to for somebody who sees all of it, without a filter. Kept with its columns once it was asked for. */
export interface WholeSet {
  /** Numbers of the lists of groups through which it is seen. */
  lists: Int32Array;
  /** Numbers of courses, and the sums of each one after the other. */
  courses: Int32Array;
  sums: Float64Array;
  /** Days and how many were done on each, by course: three numbers after one another. */
  doneOn: Int32Array;
  /** Tens and how many scores are in each, by course, in the same way. */
  tens: Int32Array;
}

export interface AddedSet {
  stretch: Stretch;
  whole?: WholeSet | undefined;
}

/** Sets that count for the same groups, of those that are asked for: what they come to together is added to each of them. */
export interface Bundle<S extends AddedSet> {
  countsFor: readonly number[];
  sets: readonly S[];
}

/** Sums of a group: one row for each course by its number. */
interface Adding {
  learners: number;
  everybody: number;
  sums: Float64Array;
  doneOn: DayCounts;
  tens: Int32Array;
  scores: ScoreList;
}

/**
 * What the sets of each group come to. A set is gone through once, however many groups it counts for.
 * @param keep Is given what a set comes to as a whole, where that was worked out.
 */
export function addUp<S extends AddedSet>(
  groups: readonly number[],
  bundles: Iterable<Bundle<S>>,
  { columns, parts, reader, setsOf, courses, isChosen, spreadOf, withScores, withCourses = true }: AddingQuestion,
  keep: (set: S, whole: WholeSet) => void = () => undefined,
): Map<number, AddedUp> {
  const { ids } = courses;
  const found = new Map<number, Adding>(
    groups.map((id) => [
      id,
      {
        learners: 0,
        everybody: 0,
        sums: new Float64Array(ids.length * sumWidth),
        doneOn: new DayCounts(),
        tens: new Int32Array(scoreTens),
        scores: new ScoreList(),
      },
    ]),
  );
  const { sees } = reader;
  const isThere = Uint8Array.from(ids, (id) => (setsOf.has(id) ? 1 : 0));
  const everything = new Fitting([], { ...reader, sees: null }, new Map(ids.map((id) => [id, []])), courses);
  const fitting = new Fitting(parts, reader, setsOf, courses);
  const own = new OwnSums(ids.length);
  const alone = new OwnSums(ids.length);
  const now = dayNumber(reader.today);
  const isPlain = parts.length === 0 && isChosen === null;
  const wholeOf = (set: S): WholeSet => {
    if (set.whole) return set.whole;
    const whole = wholeSet(columns, set.stretch, everything, alone, now);
    keep(set, whole);
    return whole;
  };
  for (const { countsFor, sets } of bundles) {
    const into = countsFor.flatMap((id) => found.get(id) ?? []);
    const spread = countsFor.flatMap((id) => (spreadOf.has(id) ? (found.get(id) ?? []) : []));
    own.clear();
    let [learners, everybody] = [0, 0];
    for (const set of sets) {
      const { stretch } = set;
      const all = stretch.peopleTo - stretch.peopleFrom;
      everybody += all;
      const whole = isPlain ? wholeOf(set) : null;
      if (whole && (sees === null || whole.lists.every((list) => sees[list] === 1))) {
        learners += all;
        own.addWhole(whole, isThere);
        for (const each of spread) addWholeSpread(each, whole, isThere);
        if (withScores) for (const each of spread) addScores(each.scores, columns, stretch, isThere);
        continue;
      }
      const count = fitting.find(columns, stretch, isChosen);
      const people = own.take(columns, fitting, count, now);
      learners += parts.length > 0 ? people : isChosen === null ? all : howMany(columns, stretch, isChosen);
      for (const each of spread) addSpread(each, columns, fitting, count, withScores);
    }
    for (const each of into) {
      each.learners += learners;
      each.everybody += everybody;
      own.addTo(each.sums);
    }
  }
  return new Map(
    [...found].map(([group, { learners, everybody, sums, doneOn, tens, scores }]) => [
      group,
      {
        learners,
        everybody,
        total: totalOf(sums),
        byCourse: courseSumsOf(sums, withCourses ? ids : []),
        doneOn: doneOn.found(),
        tens: [...tens],
        scores,
      },
    ]),
  );
}

/** How many people of a set are chosen. */
function howMany({ people }: EnrolmentColumns, { peopleFrom, peopleTo }: Stretch, isChosen: (personId: number) => boolean): number {
  let count = 0;
  for (let at = peopleFrom; at < peopleTo; at++) if (isChosen(people[at] ?? 0)) count++;
  return count;
}

function wholeSet(columns: EnrolmentColumns, stretch: Stretch, everything: Fitting, own: OwnSums, now: number): WholeSet {
  const count = everything.find(columns, stretch, null);
  own.clear();
  own.take(columns, everything, count, now);
  const days = new CourseCounts();
  const tens = new CourseCounts();
  const lists = new Set<number>();
  for (const at of everything.rows.subarray(0, count)) {
    lists.add(listOf(columns, at));
    if (((columns.facts[at] ?? 0) & exemptBit) !== 0) continue;
    const course = columns.course[at] ?? 0;
    const day = columns.doneDay[at] ?? noDay;
    if (day !== noDay) days.count(course, day);
    const points = columns.score[at] ?? NaN;
    if (!Number.isNaN(points)) tens.count(course, tenOf(points));
  }
  return { lists: Int32Array.from(lists), ...own.copy(), doneOn: days.triples(), tens: tens.triples() };
}

function addWholeSpread({ doneOn, tens }: Adding, whole: WholeSet, isThere: Uint8Array): void {
  forCounts(whole.doneOn, isThere, (day, count) => doneOn.add(day, count));
  forCounts(whole.tens, isThere, (ten, count) => (tens[ten]! += count));
}

/** How many of each key there are, by course. */
class CourseCounts {
  readonly #found = new Map<string, [course: number, key: number, count: number]>();

  count(course: number, key: number): void {
    const known = this.#found.get(`${course}/${key}`);
    if (known) known[2]++;
    else this.#found.set(`${course}/${key}`, [course, key, 1]);
  }

  triples(): Int32Array {
    return Int32Array.from([...this.#found.values()].flat());
  }
}

function forCounts(triples: Int32Array, isThere: Uint8Array, add: (key: number, count: number) => void): void {
  for (let at = 0; at < triples.length; at += 3) if (isThere[triples[at] ?? 0] === 1) add(triples[at + 1] ?? 0, triples[at + 2] ?? 0);
}

/** How many there are of each day, in one array: a map would be asked a million times. */
class DayCounts {
  #counts = new Int32Array(0);
  /** The day of the first place. */
  #first = 0;

  add(day: number, count: number): void {
    if (day < this.#first || day >= this.#first + this.#counts.length) this.#reach(day);
    this.#counts[day - this.#first]! += count;
  }

  found(): Map<number, number> {
    const days = new Map<number, number>();
    this.#counts.forEach((count, place) => {
      if (count > 0) days.set(this.#first + place, count);
    });
    return days;
  }

  /** A year to either side of what is reached, so that it seldom has to grow. */
  #reach(day: number): void {
    const isFirst = this.#counts.length === 0;
    const first = Math.min(isFirst ? day : this.#first, day) - daysOfRoom;
    const end = Math.max(isFirst ? day : this.#first + this.#counts.length, day) + daysOfRoom;
    const grown = new Int32Array(end - first);
    if (!isFirst) grown.set(this.#counts, this.#first - first);
    this.#counts = grown;
    this.#first = first;
  }
}
const daysOfRoom = 366;

/** Sums in one place that is emptied again: most sets touch a few of many courses. */
class OwnSums {
  readonly #sums: Float64Array;
  readonly #touched: number[] = [];

  constructor(courses: number) {
    this.#sums = new Float64Array(courses * sumWidth);
  }

  clear(): void {
    for (const place of this.#touched) this.#sums.fill(0, place, place + sumWidth);
    this.#touched.length = 0;
  }

  /** @returns How many people the rows are of. */
  take(columns: EnrolmentColumns, fitting: Fitting, count: number, now: number): number {
    const { person, course, facts, score } = columns;
    const { rows } = fitting;
    const sums = this.#sums;
    let people = 0;
    let last = -1;
    for (let index = 0; index < count; index++) {
      const at = rows[index] ?? 0;
      if (person[at] !== last) {
        last = person[at] ?? 0;
        people++;
      }
      const place = (course[at] ?? 0) * sumWidth;
      if (sums[place] === 0) this.#touched.push(place);
      const fact = facts[at] ?? 0;
      addOneRow(sums, place, fact, score[at] ?? NaN, isSettled(fact) ? noDay : fitting.dueAt(columns, at), now);
    }
    return people;
  }

  addWhole({ courses, sums }: WholeSet, isThere: Uint8Array): void {
    const own = this.#sums;
    for (let index = 0; index < courses.length; index++) {
      const course = courses[index] ?? 0;
      if (isThere[course] !== 1) continue;
      const place = course * sumWidth;
      if (own[place] === 0) this.#touched.push(place);
      for (let field = 0; field < sumWidth; field++) own[place + field]! += sums[index * sumWidth + field] ?? 0;
    }
  }

  copy(): Pick<WholeSet, 'courses' | 'sums'> {
    const sums = new Float64Array(this.#touched.length * sumWidth);
    this.#touched.forEach((place, index) => {
      sums.set(this.#sums.subarray(place, place + sumWidth), index * sumWidth);
    });
    return { courses: Int32Array.from(this.#touched, (place) => place / sumWidth), sums };
  }

  addTo(into: Float64Array): void {
    for (const place of this.#touched)
      for (let field = 0; field < sumWidth; field++) into[place + field]! += this.#sums[place + field] ?? 0;
  }
}

function addSpread(
  into: Adding,
  { course, facts, doneDay, score }: EnrolmentColumns,
  { rows }: Fitting,
  count: number,
  withScores: boolean,
): void {
  const { doneOn, tens } = into;
  for (let index = 0; index < count; index++) {
    const at = rows[index] ?? 0;
    if (((facts[at] ?? 0) & exemptBit) !== 0) continue;
    const done = doneDay[at] ?? noDay;
    if (done !== noDay) doneOn.add(done, 1);
    const points = score[at] ?? NaN;
    if (points !== points) continue;
    tens[tenOf(points)]!++;
    if (withScores) into.scores.add(course[at] ?? 0, points);
  }
}

/** All scores of a set. A loop over its columns: a list of its rows first would take twice as long. */
function addScores(into: ScoreList, columns: EnrolmentColumns, { from, to }: Stretch, isThere: Uint8Array): void {
  const { course, facts, score } = columns;
  for (let at = from; at < to; at++) {
    const points = score[at] ?? NaN;
    if (points !== points || ((facts[at] ?? 0) & exemptBit) !== 0 || isThere[course[at] ?? 0] !== 1 || !isThereAt(facts, at)) continue;
    into.add(course[at] ?? 0, points);
  }
}
