import fc from 'fast-check';
import type { GroupNode } from '../groups/tree.ts';
import { addDays, type Day } from '../time/day.ts';
import type { CourseFacts, Grant, Learner } from './grant.ts';

export const day0: Day = '2026-03-01';
export const course: CourseFacts = { id: 1, units: [11, 12, 13], terms: 'group', archived: false };
export const node = (id: number, parentId: number | null, more: Partial<GroupNode> = {}): GroupNode => ({
  id,
  parentId,
  name: `g${id}`,
  state: 'active',
  firstDay: null,
  lastDay: null,
  ...more,
});

let nextId = 1;
export const grant = (group: number, effect: 'open' | 'block', more: Partial<Grant> = {}): Grant => ({
  id: nextId++,
  at: { group, withSubgroups: true },
  about: { course: 1 },
  effect,
  firm: false,
  firstDay: null,
  lastDay: null,
  units: null,
  due: null,
  makerBranch: null,
  madeDay: day0,
  ...more,
});
export const member = (...groups: number[]): Learner => ({
  personId: 7,
  active: true,
  firstDay: null,
  lastDay: null,
  memberships: groups.map((groupId) => ({ groupId, firstDay: null, lastDay: null })),
});

/* Random worlds: up to 9 groups, everything about one course, days within five of day0. */

const dayNear = fc.integer({ min: -4, max: 4 }).map((by) => addDays(day0, by));
const span = fc.oneof(
  { weight: 3, arbitrary: fc.constant({ firstDay: null, lastDay: null }) },
  {
    weight: 1,
    arbitrary: fc
      .tuple(fc.option(dayNear), fc.option(dayNear))
      .map(([a, b]) => (a && b && a > b ? { firstDay: b, lastDay: a } : { firstDay: a, lastDay: b })),
  },
);
export const world = fc.integer({ min: 1, max: 9 }).chain((size) => {
  const group = fc.integer({ min: 1, max: size });
  const target = fc.oneof(
    { weight: 5, arbitrary: fc.record({ group, withSubgroups: fc.boolean() }) },
    { weight: 1, arbitrary: fc.constant({ person: 7 }) },
  );
  const about = fc.oneof(fc.constant({ course: 1 }), fc.constant({ courseSet: 9 }));
  return fc.record({
    nodes: fc.tuple(
      ...Array.from({ length: size }, (_, index) =>
        fc
          .record({ parent: fc.integer({ min: 1, max: Math.max(1, index) }), days: span, archived: fc.integer({ max: 11, min: 0 }) })
          .map(({ parent, days, archived }) =>
            node(index + 1, index === 0 ? null : parent, { ...days, state: archived === 0 ? 'archived' : 'active' }),
          ),
      ),
    ),
    grants: fc
      .array(
        fc.record({
          at: target,
          about,
          effect: fc.constantFrom<'open' | 'block'>('open', 'open', 'block'),
          firm: fc.boolean(),
          days: span,
          units: fc.option(fc.subarray([...course.units], { minLength: 1 })),
          makerBranch: fc.option(group),
          byRequest: fc.boolean(),
        }),
        { maxLength: 8 },
      )
      .map((list) =>
        list.map(({ days, ...each }, index): Grant => ({
          ...each,
          ...days,
          id: index + 1,
          firm: each.firm && each.effect === 'block',
          byRequest: each.byRequest && 'person' in each.at,
          units: 'course' in each.about ? each.units : null,
          due: null,
          madeDay: day0,
        })),
      ),
    learner: fc
      .record({
        memberships: fc.array(fc.record({ groupId: group, days: span }), { maxLength: 3 }),
        days: span,
        active: fc.integer({ min: 0, max: 9 }),
      })
      .map(({ memberships, days, active }): Learner => ({
        personId: 7,
        active: active > 0,
        ...days,
        memberships: memberships
          .filter((held, index) => memberships.findIndex(({ groupId }) => groupId === held.groupId) === index)
          .map((held) => ({ groupId: held.groupId, ...held.days })),
      })),
    terms: fc.constantFrom<CourseFacts['terms']>('everyone', 'group', 'request'),
    home: fc.option(group, { freq: 3 }),
  });
});
