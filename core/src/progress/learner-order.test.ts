import fc from 'fast-check';
import {
  byValue,
  courseOrder,
  type InCourse,
  type LearnerSort,
  nextDue,
  nextLearnerSort,
  readLearnerSort,
  writeLearnerSort,
} from './learner-order.ts';

const someSort: fc.Arbitrary<LearnerSort> = fc.oneof(
  fc.record({ by: fc.constantFrom('name' as const, 'group' as const, 'active' as const, 'due' as const), backwards: fc.boolean() }),
  fc.record({ by: fc.constant('course' as const), id: fc.integer({ min: 1, max: 9_007_199 }), backwards: fc.boolean() }),
);

test('an order is read as it was written, and nothing else is one', () => {
  fc.assert(
    fc.property(someSort, (sorted) => {
      expect(readLearnerSort(writeLearnerSort(sorted))).toEqual(sorted);
    }),
  );
  for (const text of ['', '-', 'names', '0', '-07', '--due', 'due ', '1.5', '9'.repeat(16)]) expect(readLearnerSort(text)).toBeUndefined();
});

test('a column that is pressed again turns round; another one begins at its beginning, last activity with the latest', () => {
  fc.assert(
    fc.property(someSort, someSort, (now, { backwards: _, ...asked }) => {
      const once = nextLearnerSort(now, asked);
      const isSame = now.by === asked.by && (now.by !== 'course' || asked.by !== 'course' || now.id === asked.id);
      expect(once).toEqual({ ...asked, backwards: isSame ? !now.backwards : asked.by === 'active' });
      expect(nextLearnerSort(once, asked)).toEqual({ ...asked, backwards: !once.backwards });
    }),
  );
});

test('in a course: late the longest, due next, in line, not begun, under way, done by score, exempt', () => {
  const of = (values: Partial<InCourse>): number =>
    courseOrder({ status: 'not begun', exempt: false, due: null, score: null, inLine: false, ...values });
  const places = [
    of({ due: '2024-02-29', status: 'under way' }),
    of({ due: '2026-11-30' }),
    of({ due: '2026-12-01' }),
    of({ inLine: true }),
    of({}),
    of({ status: 'under way', score: 100 }),
    of({ status: 'done', due: '2020-01-01' }),
    of({ status: 'done', score: 0 }),
    of({ status: 'done', score: 99.5 }),
    of({ status: 'done', score: 100 }),
    of({ exempt: true, due: '2020-01-01', status: 'done', score: 3 }),
  ];
  expect([...places].sort((a, b) => a - b)).toEqual(places);
  expect(new Set(places).size).toBe(places.length);
});

test('the next due day is the first from today on of what is still to be done', () => {
  const due = (day: string | null, status: InCourse['status'] = 'not begun', exempt = false) => ({ due: day, status, exempt });
  expect(nextDue([due('2026-12-09'), due('2026-12-02', 'under way'), due(null)], '2026-12-02')).toBe('2026-12-02');
  expect(nextDue([due('2026-12-01'), due('2026-12-05', 'done'), due('2026-12-06', 'under way', true)], '2026-12-02')).toBeNull();
});

test('people by value: everybody once, those of each value together, the least value first', () => {
  fc.assert(
    fc.property(
      fc.uniqueArray(fc.integer({ min: 1, max: 999 })),
      fc.array(fc.integer({ min: -3, max: 3 }), { minLength: 1 }),
      (ids, some) => {
        const valueOf = ids.map((_, at) => some[at % some.length] ?? 0);
        const { values, ends, ids: sorted } = byValue(ids, valueOf);
        expect([...values]).toEqual([...new Set(valueOf)].sort((a, b) => a - b));
        [...values].forEach((value, at) => {
          expect([...sorted.slice(ends[at - 1] ?? 0, ends[at])]).toEqual(ids.filter((_, place) => valueOf[place] === value));
        });
        expect(sorted).toHaveLength(ids.length);
      },
    ),
  );
});
