import fc from 'fast-check';
import { type Lateness, lateness, type Status } from '../courses/status.ts';
import { type CoursePart, enrolmentFitsAll, type FilteredEnrolment, type SeatState } from '../filters/filter.ts';
import { addDays } from '../time/day.ts';
import { addUp, type Bundle, type AddedSet, type WholeSet } from './add-columns.ts';
import { addUpRows } from './add-rows.ts';
import { CourseNumbers, dayNumber, dayOfNumber, EnrolmentColumns, type EnrolmentRow, IdLists, type Stretch } from './enrolment-columns.ts';
import { isInColumns } from './fitting.ts';
import { emptyTally, type Tally, tenOf } from './figures.ts';
import { talliesOf } from './sums.ts';
import { medianOf, quartilesOf } from './score-list.ts';

/* Sums over columns are what going through the enrolments one by one gives. */

const today = '2026-11-30';
const now = dayNumber(today);
const dueSoonDays = 7;
const setsOf = new Map<number, number[]>([
  [11, []],
  [12, [1]],
  [13, [1, 2]],
]);
const lists = [[], [5], [6], [5, 6], [7]];

const someDay = fc.option(
  fc.integer({ min: -20, max: 20 }).map((days) => now + days),
  { nil: null },
);
const someRow = fc.record({
  personId: fc.integer({ min: 1, max: 6 }),
  // 14 is gone.
  courseId: fc.constantFrom(11, 12, 13, 14),
  status: fc.constantFrom<Status>('not begun', 'under way', 'done'),
  exempt: fc.boolean(),
  isOpen: fc.boolean(),
  isBegun: fc.boolean(),
  hasSeat: fc.boolean(),
  inLine: fc.boolean(),
  score: fc.option(fc.integer({ min: 0, max: 100 }), { nil: null }),
  doneDay: someDay,
  due: someDay,
  workedDay: someDay,
  openVia: fc.integer({ min: 0, max: lists.length - 1 }),
  workVia: fc.integer({ min: 0, max: lists.length - 1 }),
  units: fc.constant(0),
});
const some = <T>(...values: T[]) => fc.subarray(values, { minLength: 1 });
const span = fc
  .tuple(someDay, someDay)
  .map(([from, until]) => ({ from: from === null ? null : dayOfNumber(from), until: until === null ? null : dayOfNumber(until) }));
const somePart: fc.Arbitrary<CoursePart> = fc.oneof(
  fc.record({ part: fc.constant('course' as const), courses: fc.subarray([11, 12, 14]), sets: fc.subarray([1, 2]) }),
  fc.record({ part: fc.constant('status' as const), of: some<Status>('not begun', 'under way', 'done') }),
  fc.record({ part: fc.constant('lateness' as const), of: some<Lateness>('on time', 'due soon', 'overdue', 'done late') }),
  fc.constant<CoursePart>({ part: 'access', of: ['open'] }),
  fc.record({ part: fc.constant('exempt' as const), is: fc.boolean() }),
  fc.record({ part: fc.constant('seat' as const), of: some<SeatState>('has', 'in line', 'none') }),
  fc.record({ part: fc.constant('score' as const), from: fc.integer({ min: 0, max: 60 }), to: fc.integer({ min: 50, max: 100 }) }),
  fc.record({ part: fc.constant('due' as const), days: fc.integer({ min: 0, max: 15 }) }),
  span.map((days) => ({ part: 'done' as const, ...days })),
  span.map(({ from }) => ({ part: 'worked' as const, from, until: null })),
);

/** As a reader knows it who sees only through some groups; null: it is hidden from them. */
function seen(row: EnrolmentRow, groups: readonly number[] | null): FilteredEnrolment | null {
  const through = (list: number): boolean => groups === null || (lists[list] ?? []).some((id) => groups.includes(id));
  const isOpen = row.isOpen && through(row.openVia);
  if (!isOpen && !(row.isBegun && through(row.workVia))) return null;
  const day = (number: number | null): string | null => (number === null ? null : dayOfNumber(number));
  const due = isOpen ? day(row.due) : null;
  return {
    courseId: row.courseId,
    sets: setsOf.get(row.courseId) ?? [],
    access: isOpen ? 'open' : 'not open',
    isBegun: row.isBegun,
    status: row.status,
    lateness: row.exempt ? 'on time' : lateness(due, day(row.doneDay), today, dueSoonDays),
    exempt: row.exempt,
    seat: row.hasSeat ? 'has' : row.inLine && isOpen ? 'in line' : 'none',
    score: row.score,
    doneDay: day(row.doneDay),
    workedDays: row.workedDay === null ? [] : [dayOfNumber(row.workedDay)],
    due,
  };
}

const tallyOf = (list: readonly FilteredEnrolment[]): Tally => {
  const counted = list.filter(({ exempt }) => !exempt);
  const scored = counted.flatMap(({ score }) => score ?? []);
  return {
    ...emptyTally,
    all: list.length,
    exempt: list.length - counted.length,
    done: counted.filter(({ status }) => status === 'done').length,
    underWay: counted.filter(({ status }) => status === 'under way').length,
    overdue: counted.filter(({ status, due }) => status !== 'done' && due !== null && due < today).length,
    scored: scored.length,
    scoreSum: scored.reduce((sum, each) => sum + each, 0),
  };
};

test('sums by group and course, who fits, days and scores are those of enrolments gone through one by one', () => {
  const world = fc.record({
    sets: fc.array(
      fc.record({
        rows: fc.uniqueArray(someRow, { maxLength: 15, selector: ({ personId, courseId }) => `${personId}/${courseId}` }),
        countsFor: fc.subarray([100, 200]),
      }),
      { maxLength: 4 },
    ),
    parts: fc.array(somePart, { maxLength: 3 }),
    groups: fc.option(fc.subarray([5, 6, 7]), { nil: null }),
    odd: fc.boolean(),
    readAgain: fc.array(fc.nat(3), { maxLength: 12 }),
    withScores: fc.boolean(),
  });
  fc.assert(
    fc.property(world, ({ sets, parts, groups, odd, readAgain, withScores }) => {
      const [columns, courses, groupLists] = [new EnrolmentColumns(), new CourseNumbers(), new IdLists()];
      const numbers = lists.map((list) => groupLists.numberOf(list));
      const kept = new Map<AddedSet, WholeSet>();
      // People of one set are in no other.
      const own = sets.map(({ rows, countsFor }, index) => {
        const people = [1, 2, 3, 4, 5, 6].map((id) => index * 10 + id);
        const moved = rows.map((row) => ({ ...row, personId: index * 10 + row.personId }));
        const numbered = moved.map((row) => ({ ...row, openVia: numbers[row.openVia] ?? 0, workVia: numbers[row.workVia] ?? 0 }));
        const add = (): Stretch => columns.add(people, numbered, courses);
        return { people, rows: moved, countsFor, add, stretch: add() };
      });
      // Sets that are read again leave room behind, and now and then all of them are moved.
      for (const index of readAgain) {
        const set = own[index];
        if (!set) continue;
        columns.drop(set.stretch);
        set.stretch = set.add();
      }
      const isChosen = odd ? (id: number): boolean => id % 2 === 1 : null;
      type Own = AddedSet & { countsFor: readonly number[] };
      const bundled = (list: readonly Own[]): Bundle<Own>[] =>
        [[100], [200], [100, 200]].map((countsFor) => ({
          countsFor,
          sets: list.filter((set) => set.countsFor.join() === countsFor.join()),
        }));
      const ask = (list: readonly Own[]) =>
        addUp(
          [100, 200],
          bundled(list),
          {
            columns,
            parts,
            reader: { today, dueSoonDays, sees: groups === null ? null : groupLists.touching(new Set(groups)) },
            setsOf,
            courses,
            isChosen,
            spreadOf: new Set([100]),
            withScores,
          },
          (set, whole) => kept.set(set, whole),
        );
      const found = ask(own);
      for (const group of [100, 200]) {
        const theirs = own.filter(({ countsFor }) => countsFor.includes(group));
        const chosen = theirs.flatMap(({ people }) => people.filter((id) => isChosen?.(id) ?? true));
        const fitting = theirs.flatMap(({ rows }) =>
          rows.flatMap((row) => {
            const each = chosen.includes(row.personId) && setsOf.has(row.courseId) ? seen(row, groups) : null;
            return each && enrolmentFitsAll(each, parts, today) ? [{ ...each, personId: row.personId }] : [];
          }),
        );
        const answer = found.get(group);
        expect(answer).toMatchObject({
          everybody: theirs.length * 6,
          learners: parts.length === 0 ? chosen.length : new Set(fitting.map(({ personId }) => personId)).size,
          total: tallyOf(fitting),
        });
        const byCourse = answer ? talliesOf(answer.byCourse) : new Map<number, Tally>();
        for (const id of setsOf.keys())
          expect(byCourse.get(id) ?? emptyTally).toEqual(tallyOf(fitting.filter(({ courseId }) => courseId === id)));
        if (group === 200) continue;
        const counted = fitting.filter(({ exempt }) => !exempt);
        expect([...(answer?.doneOn ?? [])].flatMap(([day, done]) => Array<string>(done).fill(dayOfNumber(day))).sort()).toEqual(
          counted.flatMap(({ doneDay }) => doneDay ?? []).sort(),
        );
        const scores = counted.flatMap(({ courseId, score }) => (score === null ? [] : { courseId, score }));
        expect(answer?.tens).toEqual(Array.from({ length: 10 }, (_, ten) => scores.filter(({ score }) => tenOf(score) === ten).length));
        if (withScores)
          for (const id of setsOf.keys())
            expect([...(answer?.scores.byCourse().get(courses.numberOf(id)) ?? [])].sort()).toEqual(
              scores.flatMap(({ courseId, score }) => (courseId === id ? score : [])).sort(),
            );
      }
      // A row that somebody is in is what a group would be of which those alone are.
      const rowsOf = (id: number): number[] => (id % 3 === 0 ? [] : id % 2 === 1 ? [7] : [7, 8]);
      const everywhere = own.map((set) => ({ ...set, countsFor: [100] }));
      const question = {
        columns,
        parts,
        reader: { today, dueSoonDays, sees: groups === null ? null : groupLists.touching(new Set(groups)) },
        setsOf,
        courses,
        withScores,
      };
      const byRow = addUpRows(everywhere, rowsOf, { ...question, isChosen });
      const none = { courseIds: new Float64Array(0), sums: new Float64Array(0) };
      for (const row of [7, 8]) {
        const isIn = (id: number): boolean => (isChosen?.(id) ?? true) && rowsOf(id).includes(row);
        const alone = addUp([100], bundled(everywhere), { ...question, isChosen: isIn, spreadOf: new Set([100]) }).get(100);
        const { learners = 0, total = emptyTally, byCourse = none } = byRow.get(row) ?? {};
        expect({ learners, total, byCourse }).toEqual({ learners: alone?.learners, total: alone?.total, byCourse: alone?.byCourse });
        expect(quartilesOf(byRow.get(row)?.scores.points ?? [])).toEqual(quartilesOf(alone?.scores.points ?? []));
      }
      // What was kept of whole sets gives the same once more.
      expect(
        ask(
          own.map((set) => {
            const whole = kept.get(set);
            return whole ? { ...set, whole } : set;
          }),
        ),
      ).toEqual(found);
    }),
    { numRuns: 1500 },
  );
});

test('quartiles lie between their neighbours in proportion; without numbers there are none', () => {
  expect([quartilesOf([]), medianOf([])]).toEqual([null, null]);
  expect(quartilesOf([40])).toEqual({ low: 40, median: 40, high: 40, of: 1 });
  expect(medianOf([30, 10, 20])).toBe(20);
  expect(quartilesOf([30, 10, 20, 40])).toEqual({ low: 17.5, median: 25, high: 32.5, of: 4 });
});

test('what was worked on between two days of which the second has passed cannot be answered from the last day alone', () => {
  const worked = (until: string | null): CoursePart => ({ part: 'worked', from: null, until });
  expect([null, today, addDays(today, -1)].map((until) => isInColumns([worked(until)], today))).toEqual([true, true, false]);
});
