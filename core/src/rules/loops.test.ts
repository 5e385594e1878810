import { Tree } from '../groups/tree.ts';
import { canSetOff, loopThrough, type LoopWorld, type RuleInGraph } from './loops.ts';
import { inOrder } from './rule.ts';

const span = { firstDay: null, lastDay: null };
/** 1 holds 2 and 3; 4 is in 2. Course 10 is opened at 2 with subgroups, 11 at 3 alone. */
const tree = new Tree(
  [
    [1, null],
    [2, 1],
    [3, 1],
    [4, 2],
  ].map(([id, parentId]) => ({ id: id ?? 0, parentId: parentId ?? null, name: `g${id}`, state: 'active' as const, ...span })),
);
const open = (course: number, group: number, withSubgroups: boolean) => ({
  course: { id: course, units: [course * 10], terms: 'group' as const, archived: false },
  grants: [
    {
      id: course,
      at: { group, withSubgroups },
      about: { course },
      effect: 'open' as const,
      firm: false,
      units: null,
      due: null,
      makerBranch: null,
      madeDay: '2026-01-01',
      ...span,
    },
  ],
});
const world: LoopWorld = { tree, about: [open(10, 2, true), open(11, 3, false)], tags: new Map([[7, 'boat ready']]) };
const rule = (id: number, when: RuleInGraph['when'], ...then: RuleInGraph['then'][number][]): RuleInGraph => ({ id, when, then });

test('whoever is put in a group enters every branch above it, and gets what is opened on the way', () => {
  const intoFour = { act: 'put in', groupId: 4 } as const;
  expect(canSetOff(intoFour, { when: 'enters', groupId: 2 }, world)).toBe(true);
  expect(canSetOff(intoFour, { when: 'enters', groupId: 3 }, world)).toBe(false);
  expect(canSetOff(intoFour, { when: 'gets', courses: [10] }, world)).toBe(true);
  expect(canSetOff(intoFour, { when: 'gets', courses: [11] }, world)).toBe(false);
  expect(canSetOff({ act: 'put in', groupId: 3 }, { when: 'gets', courses: [11, 12] }, world)).toBe(true);
  expect(canSetOff({ act: 'move', fromId: 4, intoId: 3 }, { when: 'leaves', groupId: 2 }, world)).toBe(true);
  expect(canSetOff({ act: 'tag', name: ' Boat ready ' }, { when: 'tagged', tagId: 7 }, world)).toBe(true);
  expect(canSetOff({ act: 'open', courseId: 10 }, { when: 'finishes', courseId: 10, unitId: null }, world)).toBe(false);
});

test('a group that opens the course which puts people in it is a loop of one', () => {
  expect(loopThrough(rule(1, { when: 'gets', courses: [10] }, { act: 'put in', groupId: 4 }), [], world)).toEqual([1]);
  expect(loopThrough(rule(1, { when: 'gets', courses: [11] }, { act: 'put in', groupId: 4 }), [], world)).toBeNull();
});

test('a circle over several rules is found, the shortest, from the rule that would close it', () => {
  const others = [
    rule(2, { when: 'enters', groupId: 4 }, { act: 'tag', name: 'Boat ready' }),
    rule(3, { when: 'tagged', tagId: 7 }, { act: 'move', fromId: 4, intoId: 3 }),
    rule(4, { when: 'enters', groupId: 3 }, { act: 'open', courseId: 10 }, { act: 'write', title: 'T', body: '' }),
  ];
  expect(loopThrough(rule(9, { when: 'leaves', groupId: 4 }, { act: 'put in', groupId: 4 }), others, world)).toEqual([9, 2, 3]);
  expect(loopThrough(rule(9, { when: 'gets', courses: [10] }, { act: 'put in', groupId: 2 }), others, world)).toEqual([9]);
  // A rule is not followed by itself as it stood before it was changed.
  expect(loopThrough(rule(3, { when: 'tagged', tagId: 7 }, { act: 'take out', groupId: 3 }), others, world)).toBeNull();
});

test('against every walk of the graph: a loop is found exactly when one can come back', () => {
  let state = 17;
  const draw = (n: number): number => {
    state = (state * 48_271) % 2_147_483_647;
    return state % n;
  };
  let loops = 0;
  for (let round = 0; round < 400; round++) {
    const group = (): number => 1 + draw(4);
    const rules = Array.from({ length: 5 }, (_, id) =>
      rule(
        id,
        draw(2) === 0 ? { when: 'enters', groupId: group() } : { when: 'leaves', groupId: group() },
        draw(2) === 0 ? { act: 'put in', groupId: group() } : { act: 'take out', groupId: group() },
      ),
    );
    const [start = rule(0, { when: 'idle', days: 1 }), ...others] = rules;
    // All that can come after, by walking until nothing new is reached.
    const reached = new Set<number>();
    let edge = [start];
    while (edge.length > 0) {
      edge = rules.filter(({ id, when }) => !reached.has(id) && edge.some(({ then }) => then.some((act) => canSetOff(act, when, world))));
      for (const { id } of edge) reached.add(id);
    }
    const way = loopThrough(start, others, world);
    expect(way !== null).toBe(reached.has(start.id));
    if (way === null) continue;
    loops++;
    way.forEach((id, index) => {
      const next = rules[way[index + 1] ?? start.id];
      expect(rules[id]?.then.some((act) => next !== undefined && canSetOff(act, next.when, world))).toBe(true);
    });
  }
  expect(loops).toBeGreaterThan(50);
});

test('who is moved away is moved last', () => {
  expect(
    inOrder([
      { act: 'take out', groupId: 2 },
      { act: 'tag', name: 'a' },
      { act: 'move', fromId: 1, intoId: 2 },
    ]).map(({ act }) => act),
  ).toEqual(['tag', 'take out', 'move']);
});
