import { courseRules } from '../access/resolve.ts';
import type { CourseFacts, Grant, Learner } from '../access/grant.ts';
import { Tree } from '../groups/tree.ts';
import { digestText, noEffects } from './effects.ts';
import { type LearnerClass, lookAtGrants, lookAtMoves } from './look-access.ts';

const today = '2026-03-01';
const tree = new Tree(
  [
    [1, null],
    [2, 1],
    [3, 2],
    [4, 2],
  ].map(([id, parentId]) => ({ id: id ?? 0, parentId: parentId ?? null, name: `g${id}`, state: 'active', firstDay: null, lastDay: null })),
);
const course: CourseFacts = { id: 1, units: [11, 12], terms: 'group', archived: false };
const grant = (id: number, group: number, effect: 'open' | 'block', more: Partial<Grant> = {}): Grant => ({
  id,
  at: { group, withSubgroups: true },
  about: { course: 1 },
  effect,
  firm: false,
  firstDay: null,
  lastDay: null,
  units: null,
  due: null,
  makerBranch: null,
  madeDay: today,
  ...more,
});
const learner = (...groups: number[]): Learner => ({
  personId: null,
  active: true,
  firstDay: null,
  lastDay: null,
  memberships: groups.map((groupId) => ({ groupId, firstDay: null, lastDay: null })),
});
const classes: LearnerClass[] = [
  { who: { set: 30 }, learner: learner(3), people: 20 },
  { who: { set: 40 }, learner: learner(4), people: 5 },
  { who: { set: 34 }, learner: learner(3, 4), people: 2 },
  { who: { set: 10 }, learner: learner(1), people: 9 },
];
const look = (standing: Grant[], end: number[], begin: Grant[]) =>
  lookAtGrants(
    tree,
    [{ course, grants: standing }],
    classes,
    { end, begin: begin.map((each) => ({ courseIds: [1], grant: each })) },
    today,
  );

test('an open with a block beside it: who gains, and who still gets in by the other crew', () => {
  const effects = look([], [], [grant(-1, 2, 'open'), grant(-2, 4, 'block')]);
  expect(effects.gains).toMatchObject([{ courseId: 1, day: null, people: 22, who: { sets: [30, 34] } }]);
  expect(effects.still).toMatchObject([{ people: 2, who: { sets: [34] } }]);
  expect(effects.loses).toEqual([]);
});

test('ending an open: who loses, today and from a later day', () => {
  expect(look([grant(5, 2, 'open')], [5], []).loses).toMatchObject([{ people: 27, day: null }]);
  expect(look([grant(5, 2, 'open')], [], [grant(-1, 3, 'block', { firstDay: '2026-03-09', firm: true })]).loses).toMatchObject([
    { people: 22, day: '2026-03-09' },
  ]);
});

test('opening part of what is open to all takes the rest away, and says so', () => {
  expect(look([grant(5, 1, 'open')], [], [grant(-1, 4, 'open', { units: [11] })]).loses).toMatchObject([
    { people: 5, partly: 5, who: { sets: [40] } },
  ]);
  expect(look([grant(5, 2, 'open')], [5], []).loses).toMatchObject([{ people: 27, partly: 0 }]);
});

test('moving people: what the new group brings, and what stays by another way', () => {
  const rules = [courseRules(tree, course, [grant(5, 3, 'open')])];
  const effects = lookAtMoves(
    rules,
    [
      { who: { persons: [7] }, people: 1, before: learner(4), after: learner(4, 3) },
      { who: { newcomers: 0 }, people: 6, before: null, after: learner(3) },
      { who: { persons: [8] }, people: 1, before: learner(3), after: learner() },
    ],
    today,
  );
  expect(effects.gains).toMatchObject([{ people: 7, who: { persons: [7], newcomers: [0] } }]);
  expect(effects.loses).toMatchObject([{ people: 1, who: { persons: [8] } }]);
});

test('the digest holds who loses, not who only gains', () => {
  const effect = (sets: number[]) => ({ courseId: 1, day: null, people: 1, who: { sets, persons: [], newcomers: [] } });
  const people = (sets: readonly number[]) => sets.map((set) => set * 10);
  const base = digestText({ ...noEffects(), gains: [effect([1])], loses: [effect([2])] }, people);
  expect(digestText({ ...noEffects(), gains: [effect([1, 3])], loses: [effect([2])] }, people)).toBe(base);
  expect(digestText({ ...noEffects(), gains: [effect([1])], loses: [effect([2, 3])] }, people)).not.toBe(base);
});
