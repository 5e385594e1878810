import fc from 'fast-check';
import { type GroupNode, Tree } from '../groups/tree.ts';
import { addDays, contains, type Day } from '../time/day.ts';
import { CouldGetIn, type PastLearner } from './could-get-in.ts';
import type { CourseFacts, Grant } from './grant.ts';
import { courseRules, resolve } from './resolve.ts';

const day0: Day = '2026-03-01';
const course: CourseFacts = { id: 1, units: [11, 12], terms: 'group', archived: false };
const node = (id: number, parentId: number | null): GroupNode => ({
  id,
  parentId,
  name: `g${id}`,
  state: 'active',
  firstDay: null,
  lastDay: null,
});
/** 1 region › 2 station › 3 crew; 4 another region. In the second tree the crew has moved there. */
const trees = [
  new Tree([node(1, null), node(2, 1), node(3, 2), node(4, 1)]),
  new Tree([node(1, null), node(2, 1), node(3, 4), node(4, 1)]),
];
const length = 12;
const span = { firstDay: day0, lastDay: addDays(day0, length - 1) };

const dayNear = fc.option(
  fc.integer({ min: -3, max: length + 2 }).map((by) => addDays(day0, by)),
  { nil: null },
);
const days = fc
  .tuple(dayNear, dayNear)
  .map(([a, b]) => (a !== null && b !== null && a > b ? { firstDay: b, lastDay: a } : { firstDay: a, lastDay: b }));
const group = fc.integer({ min: 1, max: 4 });
const grants = fc
  .array(
    fc.record({
      at: fc.oneof(
        { weight: 4, arbitrary: fc.record({ group, withSubgroups: fc.boolean() }) },
        { weight: 1, arbitrary: fc.constant({ person: 7 }) },
      ),
      effect: fc.constantFrom<'open' | 'block'>('open', 'open', 'block'),
      firm: fc.boolean(),
      span: days,
    }),
    { maxLength: 5 },
  )
  .map((list) =>
    list.map(({ span: own, ...each }, index): Grant => ({
      ...each,
      ...own,
      id: index + 1,
      about: { course: 1 },
      firm: each.firm && each.effect === 'block',
      units: null,
      due: null,
      makerBranch: null,
      madeDay: day0,
    })),
  );
const learner = fc.record({
  personId: fc.constantFrom(7, 8),
  active: fc.array(days, { minLength: 1, maxLength: 1 }),
  memberships: fc.array(fc.tuple(group, days), { maxLength: 3 }).map((list) => list.map(([groupId, own]) => ({ groupId, ...own }))),
});

test('what it says of each day is what the rules of that day say, and everybody has their own', () => {
  let open = 0;
  fc.assert(
    fc.property(
      fc.array(fc.tuple(fc.integer({ min: 1, max: length - 1 }), fc.constantFrom(...trees), grants), { minLength: 1, maxLength: 4 }),
      fc.array(learner, { minLength: 1, maxLength: 4 }),
      (later, people) => {
        const starts = new Map(later.map(([by, tree, said], index) => [index === 0 ? -2 : by, courseRules(tree, course, said)]));
        const epochs = [...starts].sort(([a], [b]) => a - b).map(([by, rules]) => ({ firstDay: addDays(day0, by), rules }));
        const found = new CouldGetIn(epochs, span);
        for (const person of people) {
          const stays = found.of(person);
          for (let by = 0; by < length; by++) {
            const day = addDays(day0, by);
            const on = stays.filter((stay) => contains(stay, day));
            const expected = waysOn(epochs, person, day);
            expect(on.map(({ through }) => through.join())).toEqual(expected === null ? [] : [expected]);
            if (expected !== null) open++;
          }
          expect(stays.every((stay, index) => index === 0 || (stays[index - 1]?.lastDay ?? '') < stay.firstDay)).toBe(true);
        }
      },
    ),
    { numRuns: 800 },
  );
  expect(open).toBeGreaterThan(500);
});

/** The groups through which it is open on a day; null: it is closed. */
function waysOn(
  epochs: { firstDay: Day; rules: ReturnType<typeof courseRules> }[],
  { personId, active, memberships }: PastLearner,
  day: Day,
): string | null {
  const rules = epochs.findLast(({ firstDay }) => firstDay <= day)?.rules;
  if (!rules) return null;
  const access = resolve(
    rules,
    { personId, active: active.some((each) => contains(each, day)), firstDay: null, lastDay: null, memberships },
    day,
  );
  if (access.units.length === 0) return null;
  return [...new Set(access.paths.flatMap(({ groupId }) => groupId ?? []))].sort((a, b) => a - b).join();
}
