import fc from 'fast-check';
import { type GroupNode, Tree } from '../groups/tree.ts';
import type { Day } from '../time/day.ts';
import type { CourseFacts, Grant, Learner } from './grant.ts';
import { course, day0, grant, member, node, world } from './random-world.ts';
import { courseRules } from './resolve.ts';
import { ancestry, twinGroups, twinWays, type World } from './resolve.twin.ts';
import { type Allowance, allowanceModes, resolveInParts, type RunningPart } from './splits.ts';

/* 1 region, 2 station, 3 crew, 4 cadets. */
const nodes: GroupNode[] = [node(1, null), node(2, 1), node(3, 2), node(4, 2)];
const part = (mode: Allowance['mode'], units: number[] | null, more: Partial<RunningPart> = {}): RunningPart => ({
  groupId: 2,
  makerBranch: 2,
  allowance: { mode, courses: [{ courseId: 1, units }] },
  ...more,
});
function openTo(learner: Learner, grants: Grant[], parts: RunningPart[], facts = course): number[] {
  const { kept, offered } = resolveInParts(courseRules(new Tree(nodes), facts, grants), learner, day0, parts);
  return [...new Set([...kept, ...offered.flatMap(({ units }) => units)])].sort();
}

describe('a part of a split', () => {
  it('leaves only what it names, adds to it, or takes it off', () => {
    const given = [grant(1, 'open', { units: [11, 12] })];
    expect(openTo(member(3), given, [part('only', [12])])).toEqual([12]);
    expect(openTo(member(3), given, [part('as well', [13])])).toEqual([11, 12, 13]);
    expect(openTo(member(3), given, [part('none', [12])])).toEqual([11]);
  });

  it('leaves what comes by another group', () => {
    expect(openTo(member(3, 4), [grant(1, 'open')], [part('only', [12], { groupId: 3, makerBranch: 3 })])).toEqual([11, 12, 13]);
  });

  it('never opens what its leader could not, and never beats a firm block from above', () => {
    expect(openTo(member(3), [], [part('as well', [13])])).toEqual([]);
    expect(openTo(member(3), [], [part('as well', [13], { makerBranch: null })])).toEqual([13]);
    expect(openTo(member(3), [grant(1, 'open'), grant(1, 'block', { units: [13], firm: true })], [part('as well', [13])])).toEqual([
      11, 12,
    ]);
    const ownBlock = grant(3, 'block', { units: [13], firm: true, makerBranch: 2 });
    expect(openTo(member(3), [grant(1, 'open'), ownBlock], [part('as well', [13])])).toEqual([11, 12, 13]);
  });

  it('counts by the nearest group on a path', () => {
    const parts = [part('only', [11]), part('only', [12], { groupId: 3, makerBranch: 3 })];
    expect(openTo(member(3), [grant(1, 'open')], parts)).toEqual([12]);
    expect(openTo(member(4), [grant(1, 'open')], parts)).toEqual([11]);
  });

  it('names who could pay for what it opens, unless that is free above', () => {
    const facts: CourseFacts = { ...course, licenceHomes: [{ licence: 5, home: 2 }] };
    const payers = { licences: [5], others: false };
    const offer = (grants: Grant[], more: Partial<RunningPart> = {}) =>
      resolveInParts(courseRules(new Tree(nodes), facts, grants), member(3), day0, [part('as well', [13], more)]).offered[0]?.licences;
    expect(offer([grant(1, 'open', { payers, units: [11] })])).toEqual([5]);
    expect(offer([grant(1, 'open', { units: [11] })])).toBeNull();
    expect(offer([], { makerBranch: null })).toEqual([5]);
  });

  it('agrees with its brute-force twin, and is over when the split is', () => {
    let different = 0;
    const parts = fc.array(
      fc.record({
        groupId: fc.integer({ min: 1, max: 4 }),
        makerBranch: fc.option(fc.integer({ min: 1, max: 2 })),
        allowance: fc.option(
          fc.record({
            mode: fc.constantFrom(...allowanceModes),
            courses: fc.subarray(
              [
                { courseId: 1, units: null as number[] | null },
                { courseId: 1, units: [11, 13] },
              ],
              { maxLength: 1 },
            ),
          }),
        ),
      }),
      { maxLength: 3 },
    );
    fc.assert(
      fc.property(world, parts, fc.boolean(), ({ nodes: groups, grants: said, learner, terms, home }, drawn, isOpenAtTop) => {
        const grants = isOpenAtTop ? [...said, grant(1, 'open', { units: [11, 12] })] : said;
        const facts = { ...course, terms, home };
        const tree = new Tree(groups);
        const running = drawn.filter(
          ({ groupId, makerBranch }, index) =>
            tree.has(groupId) &&
            (makerBranch === null || tree.path(groupId).includes(makerBranch)) &&
            drawn.findIndex((each) => each.groupId === groupId) === index,
        );
        const all = { nodes: groups, grants, facts };
        const { always, kept, offered } = resolveInParts(courseRules(tree, facts, grants), learner, day0, running);
        const given = course.units.filter((unit) => kept.includes(unit) || offered.some(({ units }) => units.includes(unit)));
        expect(given).toEqual(course.units.filter((unit) => twinInParts(all, learner, day0, unit, running)));
        expect(always).toEqual(course.units.filter((unit) => twinWays(all, learner, day0, unit).length > 0));
        expect(resolveInParts(courseRules(tree, facts, grants), learner, day0, []).kept).toEqual(always);
        if (given.join() !== always.join()) different++;
      }),
      { numRuns: 4000 },
    );
    expect(different).toBeGreaterThan(100);
  });
});

/** One unit, one way after the other; what the leader could open is asked of a world in which the leader has opened it. */
function twinInParts(all: World, learner: Learner, day: Day, unit: number, parts: readonly RunningPart[]): boolean {
  const ways = twinWays(all, learner, day, unit);
  if (ways.includes(null)) return true;
  if (!learner.active) return false;
  return twinGroups(all, learner, day).some((way) => {
    const route = ancestry(all, way).map(({ id }) => id);
    const nearest = parts
      .filter(({ groupId }) => route.includes(groupId))
      .sort((a, b) => route.indexOf(a.groupId) - route.indexOf(b.groupId))[0];
    const wasOpen = ways.includes(way);
    if (!nearest?.allowance) return wasOpen;
    const { mode, courses } = nearest.allowance;
    const [about] = courses;
    const isNamed = about !== undefined && (about.units ?? course.units).includes(unit);
    if (mode === 'none') return wasOpen && !isNamed;
    const opened: Grant = {
      ...grant(0, 'open'),
      id: 99,
      at: { person: learner.personId ?? 0 },
      units: about ? about.units : [],
      makerBranch: nearest.makerBranch,
    };
    const then = twinWays({ ...all, grants: [...all.grants, opened] }, learner, day, unit);
    const could = isNamed && then.includes(nearest.makerBranch === null ? null : way);
    return mode === 'only' ? (isNamed && wasOpen) || could : wasOpen || could;
  });
}
