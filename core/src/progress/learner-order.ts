import type { Status } from '../courses/status.ts';
import type { Day } from '../time/day.ts';
import type { AddingQuestion } from './add-columns.ts';
import { dayNumber, inLineBit, isToDo, noDay, statusAt, type Stretch } from './enrolment-columns.ts';
import { Fitting } from './fitting.ts';

/** What learners can be sorted by. */
export type LearnerSortBy = { by: 'name' | 'group' | 'active' | 'due' } | { by: 'course'; id: number };
/** Backwards: from the other end. Who has nothing to be sorted by comes last either way. */
export type LearnerSort = LearnerSortBy & { backwards: boolean };

/** Written as in an address: `name`, `active`, `7` for a course, each with a minus for backwards. */
export const learnerSortText = /^(-?)(name|group|active|due|[1-9]\d{0,14})$/u;

/** @returns Undefined for what is no order. */
export function readLearnerSort(text: string): LearnerSort | undefined {
  const [, minus, what = ''] = learnerSortText.exec(text) ?? [];
  if (minus === undefined) return undefined;
  const backwards = minus === '-';
  if (what === 'name' || what === 'group' || what === 'active' || what === 'due') return { by: what, backwards };
  return { by: 'course', id: Number(what), backwards };
}

export const writeLearnerSort = (sorted: LearnerSort): string =>
  `${sorted.backwards ? '-' : ''}${sorted.by === 'course' ? String(sorted.id) : sorted.by}`;

/** Pressed once, and once more from the other end. Who was active last comes first. */
export function nextLearnerSort(now: LearnerSort, asked: LearnerSortBy): LearnerSort {
  const isSame = writeLearnerSort({ ...asked, backwards: now.backwards }) === writeLearnerSort(now);
  return { ...asked, backwards: isSame ? !now.backwards : asked.by === 'active' };
}

/** What the order among the learners of a course depends on. */
export interface InCourse {
  status: Status;
  exempt: boolean;
  due: Day | null;
  score: number | null;
  inLine: boolean;
}

/** A day and a score are below it. */
const step = 1_000_000;

/**
 * Where a learner comes among those of a course: who is late for the longest, who is due next, who is in line for a seat, who has
 * not begun, who is under way, who has done it by their score, and who is exempt.
 */
export const courseOrder = ({ due, score, ...of }: InCourse): number =>
  orderOf({ ...of, due: due === null ? noDay : dayNumber(due), score: score ?? NaN });

function orderOf({ status, exempt, due, score, inLine }: Omit<InCourse, 'due' | 'score'> & { due: number; score: number }): number {
  if (exempt) return 5 * step;
  if (status === 'done') return 4 * step + (Number.isNaN(score) ? -1 : score);
  if (due !== noDay) return due;
  return (inLine ? 1 : status === 'not begun' ? 2 : 3) * step;
}

/** The next day on which somebody is due; null: none. */
export const nextDue = (enrolments: readonly Pick<InCourse, 'status' | 'exempt' | 'due'>[], today: Day): Day | null =>
  enrolments.flatMap(({ due, status, exempt }) => (due !== null && due >= today && status !== 'done' && !exempt ? [due] : [])).sort()[0] ??
  null;

/** People by a value that each has: those of the least value come first. */
export interface ByValue {
  /** Each value once, and where its people end. */
  readonly values: Float64Array;
  readonly ends: Int32Array;
  readonly ids: Float64Array;
}

/** @param valueOf By the place of a person among the ids. */
export function byValue(ids: ArrayLike<number>, valueOf: ArrayLike<number>): ByValue {
  const counts = new Map<number, number>();
  for (let at = 0; at < ids.length; at++) counts.set(valueOf[at] ?? 0, (counts.get(valueOf[at] ?? 0) ?? 0) + 1);
  const values = Float64Array.from(counts.keys()).sort();
  const ends = new Int32Array(values.length);
  const next = new Map<number, number>();
  let end = 0;
  values.forEach((value, at) => {
    next.set(value, end);
    ends[at] = end += counts.get(value) ?? 0;
  });
  const sorted = new Float64Array(ids.length);
  for (let at = 0; at < ids.length; at++) {
    const place = next.get(valueOf[at] ?? 0) ?? 0;
    sorted[place] = ids[at] ?? 0;
    next.set(valueOf[at] ?? 0, place + 1);
  }
  return { values, ends, ids: sorted };
}

/**
 * What learners are sorted by, from columns: their place in a course (`courseOrder`), or their next due day as a number. Those who
 * have no value are left out.
 * @param courseId Null: the next due day.
 */
export function valuesInColumns(
  sets: Iterable<{ stretch: Stretch }>,
  courseId: number | null,
  { columns, reader, setsOf, courses }: Pick<AddingQuestion, 'columns' | 'reader' | 'setsOf' | 'courses'>,
): ByValue {
  const fitting = new Fitting(courseId === null ? [] : [{ part: 'course', courses: [courseId], sets: [] }], reader, setsOf, courses);
  const now = dayNumber(reader.today);
  const [ids, values]: [number[], number[]] = [[], []];
  const { person, facts, score } = columns;
  for (const { stretch } of sets) {
    const count = fitting.find(columns, stretch, null);
    for (let index = 0; index < count; index++) {
      const at = fitting.rows[index] ?? 0;
      const [id, fact, due] = [person[at] ?? 0, facts[at] ?? 0, fitting.dueAt(columns, at)];
      if (courseId !== null) {
        const inLine = (fact & inLineBit) !== 0 && fitting.isOpenAt(columns, at);
        ids.push(id);
        values.push(orderOf({ ...statusAt(columns, at), due, score: score[at] ?? NaN, inLine }));
      } else if (due >= now && isToDo(fact)) {
        // Rows of one person are next to one another, and nobody is in two sets.
        const last = ids.length - 1;
        if (ids[last] === id) values[last] = Math.min(values[last] ?? due, due);
        else {
          ids.push(id);
          values.push(due);
        }
      }
    }
  }
  return byValue(ids, values);
}
