import type { Status } from '../courses/status.ts';
import type { Day } from '../time/day.ts';
import type { AddingQuestion } from './add-columns.ts';
import { dayNumber, inLineBit, noDay, statusAt, type Stretch } from './enrolment-columns.ts';
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

/**
 * What learners are sorted by, from columns: their place in a course (`courseOrder`), or their next due day as a number.
 * @param courseId Null: the next due day.
 * @returns Person, value, person, value; those who have no value are left out.
 */
export function valuesInColumns(
  sets: Iterable<{ stretch: Stretch }>,
  courseId: number | null,
  { columns, reader, setsOf, courses }: Pick<AddingQuestion, 'columns' | 'reader' | 'setsOf' | 'courses'>,
): Float64Array {
  const fitting = new Fitting(courseId === null ? [] : [{ part: 'course', courses: [courseId], sets: [] }], reader, setsOf, courses);
  const now = dayNumber(reader.today);
  const found: number[] = [];
  const { person, facts, score } = columns;
  for (const { stretch } of sets) {
    const count = fitting.find(columns, stretch, null);
    for (let index = 0; index < count; index++) {
      const at = fitting.rows[index] ?? 0;
      const [id, due, of] = [person[at] ?? 0, fitting.dueAt(columns, at), statusAt(columns, at)];
      if (courseId !== null) {
        const inLine = ((facts[at] ?? 0) & inLineBit) !== 0 && fitting.isOpenAt(columns, at);
        found.push(id, orderOf({ ...of, due, score: score[at] ?? NaN, inLine }));
      } else if (due >= now && of.status !== 'done' && !of.exempt) {
        // Rows of one person are next to one another, and nobody is in two sets.
        const last = found.length - 2;
        if (found[last] === id) found[last + 1] = Math.min(found[last + 1] ?? due, due);
        else found.push(id, due);
      }
    }
  }
  return Float64Array.from(found);
}
