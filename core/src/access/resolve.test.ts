import fc from 'fast-check';
import { Tree } from '../groups/tree.ts';
import { addDays, contains } from '../time/day.ts';
import { Alike } from './alike.ts';
import type { CourseFacts, Grant, Learner } from './grant.ts';
import { course, day0, grant, member, node, world } from './random-world.ts';
import { courseRules, resolve } from './resolve.ts';
import { twinIsOpen } from './resolve.twin.ts';
import { opensLater, type Window, windows } from './windows.ts';

/** 1 region › 2 station › 3 crew, 4 cadets; 5 another region. */
const tree = new Tree([node(1, null), node(2, 1), node(3, 2), node(4, 2), node(5, 1)]);
const unitsFor = (learner: Learner, grants: Grant[], facts = course): readonly number[] =>
  resolve(courseRules(tree, facts, grants), learner, day0).units;

describe('resolve', () => {
  it('lets the nearest grant win on a path', () => {
    expect(unitsFor(member(4), [grant(1, 'open'), grant(4, 'block')])).toEqual([]);
    expect(unitsFor(member(4), [grant(1, 'block'), grant(4, 'open')])).toEqual([11, 12, 13]);
  });

  it('lets a block win at one group, also one on a course set over an open on the course', () => {
    expect(unitsFor(member(3), [grant(2, 'open'), grant(2, 'block', { about: { courseSet: 9 } })])).toEqual([]);
  });

  it('joins paths, unless a block is firm', () => {
    expect(unitsFor(member(3, 4), [grant(2, 'open'), grant(4, 'block')])).toEqual([11, 12, 13]);
    expect(unitsFor(member(3, 4), [grant(2, 'open'), grant(4, 'block', { firm: true })])).toEqual([]);
  });

  it('opens the named units at the nearest group only', () => {
    expect(unitsFor(member(4), [grant(1, 'open'), grant(4, 'open', { units: [12] })])).toEqual([12]);
  });

  it("gives a person in no group the course's own terms", () => {
    expect(unitsFor(member(), [], { ...course, terms: 'everyone' })).toEqual([11, 12, 13]);
    expect(unitsFor(member(), [grant(1, 'open')])).toEqual([]);
  });

  it('puts a leader’s open out of force while the course is closed at the group their power comes from', () => {
    const byLeader = grant(3, 'open', { makerBranch: 2 });
    expect(unitsFor(member(3), [byLeader])).toEqual([]);
    expect(unitsFor(member(3), [byLeader, grant(1, 'open')])).toEqual([11, 12, 13]);
    // Two opens of the same branch do not hold each other up.
    expect(unitsFor(member(3), [byLeader, grant(2, 'open', { makerBranch: 2 })])).toEqual([]);
  });

  it('confines a leader’s firm block to paths through their branch', () => {
    const grants = [grant(1, 'open'), grant(2, 'block', { firm: true, makerBranch: 2 })];
    expect(unitsFor(member(3), grants)).toEqual([]);
    expect(unitsFor(member(3, 5), grants)).toEqual([11, 12, 13]);
  });

  it('never lets a leader’s open on a person beat a firm block from above, while an administrator’s does', () => {
    const firm = [grant(1, 'open'), grant(4, 'block', { firm: true })];
    expect(unitsFor(member(3, 4), [...firm, grant(0, 'open', { at: { person: 7 }, makerBranch: 2 })])).toEqual([]);
    expect(unitsFor(member(3, 4), [...firm, grant(0, 'open', { at: { person: 7 } })])).toEqual([11, 12, 13]);
  });

  it('lets those under way finish an archived course', () => {
    const archived = { ...course, archived: true };
    expect(unitsFor(member(3), [grant(1, 'open')], archived)).toEqual([]);
    expect(unitsFor({ ...member(3), mayFinish: [1] }, [grant(1, 'open')], archived)).toEqual([11, 12, 13]);
  });

  it('gives a path for each open that applies at one group, as far as blocks leave some of it', () => {
    const opens = [grant(2, 'open', { units: [11] }), grant(2, 'open', { units: [12, 13] })];
    const paths = (grants: Grant[]) =>
      resolve(courseRules(tree, course, grants), member(3), day0).paths.map(({ openedBy, units }) => [openedBy, units]);
    expect(paths(opens)).toEqual([
      [opens[0]?.id, [11]],
      [opens[1]?.id, [12, 13]],
    ]);
    expect(paths([...opens, grant(3, 'block', { units: [11] })])).toEqual([[opens[1]?.id, [12, 13]]]);
  });

  it('lets what is paid above pay for a leader’s open, unless the licence’s home is the leader’s own', () => {
    const paid = grant(1, 'open', { payers: { licences: [5], others: false } });
    const byLeader = grant(3, 'open', { makerBranch: 2 });
    const payers = (grants: Grant[], facts = course) =>
      resolve(courseRules(tree, facts, grants), member(3), day0).paths.map((path) => path.payers);
    const home = (group: number): CourseFacts => ({ ...course, licenceHomes: [{ licence: 5, home: group }] });
    expect(payers([paid, byLeader], home(1))).toEqual([{ licences: [5], others: false }]);
    expect(payers([paid, byLeader], home(2))).toEqual([null]);
    expect(payers([grant(1, 'open'), byLeader], home(1))).toEqual([null]);
    // A leader further down rests on the open of the one above, and so on what pays for that.
    expect(payers([paid, grant(2, 'open', { makerBranch: 2 }), grant(3, 'open', { makerBranch: 3 })], home(1))).toEqual([
      { licences: [5], others: false },
    ]);
  });

  it('tells which grant decided and which was overruled', () => {
    const [above, here] = [grant(1, 'open'), grant(4, 'block')];
    const { chain } = resolve(courseRules(tree, course, [above, here]), member(4), day0);
    expect(chain.map(({ grant: id, verdict }) => [id, verdict])).toEqual([
      [null, 'overruled'],
      [above.id, 'overruled'],
      [here.id, 'decided'],
    ]);
  });

  it('agrees with its twin, unit by unit, on thousands of random worlds', () => {
    let opened = 0;
    fc.assert(
      fc.property(world, ({ nodes, grants, learner, terms, home }) => {
        const random = new Tree(nodes);
        const facts: CourseFacts = { ...course, terms, home };
        const found = resolve(courseRules(random, facts, grants), learner, day0).units;
        opened += found.length > 0 ? 1 : 0;
        expect(found).toEqual(facts.units.filter((unit) => twinIsOpen({ nodes, grants, facts }, learner, day0, unit)));
      }),
      { numRuns: 6000 },
    );
    // The worlds are not all closed.
    expect(opened).toBeGreaterThan(500);
  });
});

describe('windows', () => {
  it('splits an open from 2 to 10 March around a block on 5 and 6 March', () => {
    const rules = courseRules(tree, course, [
      grant(1, 'open', { firstDay: '2026-03-02', lastDay: '2026-03-10' }),
      grant(3, 'block', { firstDay: '2026-03-05', lastDay: '2026-03-06' }),
    ]);
    expect(windows(rules, member(3)).map(({ firstDay, lastDay }) => [firstDay, lastDay])).toEqual([
      ['2026-03-02', '2026-03-04'],
      ['2026-03-07', '2026-03-10'],
    ]);
    expect(opensLater(rules, member(3), '2026-03-05')).toBe('2026-03-07');
    expect(opensLater(rules, member(3), '2026-03-10')).toBeNull();
  });

  it('says the same as resolve on every day', () => {
    fc.assert(
      fc.property(world, ({ nodes, grants, learner, terms, home }) => {
        const rules = courseRules(new Tree(nodes), { ...course, terms, home }, grants);
        const found = windows(rules, learner);
        for (let ahead = -6; ahead <= 6; ahead++) {
          const day = addDays(day0, ahead);
          const inWindow = found.filter((window) => contains(window, day));
          expect(inWindow.length).toBeLessThanOrEqual(1);
          expect(inWindow[0]?.units ?? []).toEqual(resolve(rules, learner, day).units);
        }
      }),
      { numRuns: 1500 },
    );
  });
});

describe('alike', () => {
  it('gives one mark only to learners who have the same units on the same days, also where a group has moved', () => {
    let shared = 0;
    fc.assert(
      fc.property(world, fc.nat(8), fc.nat(8), ({ nodes, grants, terms, home }, from, into) => {
        const [moved, parent] = [nodes[from % nodes.length], nodes[into % nodes.length]];
        const before = new Tree(nodes);
        const mayMove = moved && parent && moved.parentId !== null && !before.isInBranch(parent.id, moved.id);
        const after = mayMove ? before.with(new Map([[moved.id, { ...moved, parentId: parent.id }]])) : before;
        const found = new Map<string, unknown>();
        const numbers = new Map<string, number>();
        for (const random of [before, after]) {
          const rules = courseRules(random, { ...course, terms, home }, grants);
          const alike = new Alike(rules, numbers);
          for (const one of nodes)
            for (const other of nodes) {
              const learner = member(...new Set([one.id, other.id]));
              const mark = alike.mark(learner);
              const open = onEachDay(windows(rules, learner));
              if (found.has(mark)) shared++;
              else found.set(mark, open);
              expect([mark, found.get(mark)]).toEqual([mark, open]);
              expect(onEachDay(alike.windowsOf(mark, learner))).toEqual(open);
            }
        }
      }),
      { numRuns: 250 },
    );
    expect(shared).toBeGreaterThan(1000);
  });

  it('calls a course closed only to learners to whom no day opens it, and to all whom no grant reaches', () => {
    let closed = 0;
    fc.assert(
      fc.property(world, ({ nodes, grants, learner, terms, home }) => {
        const few = grants.slice(0, 2);
        const rules = courseRules(new Tree(nodes), { ...course, terms, home }, few);
        const alike = new Alike(rules);
        for (const each of [learner, ...nodes.map(({ id }) => member(id))]) {
          const isClosed = alike.isClosedTo(each);
          if (isClosed) {
            closed++;
            expect(windows(rules, each)).toEqual([]);
          }
          if (few.length === 0 && terms !== 'everyone') expect(isClosed).toBe(true);
        }
      }),
      { numRuns: 1000 },
    );
    expect(closed).toBeGreaterThan(300);
  });

  const onEachDay = (list: readonly Window[]): (readonly number[])[] =>
    Array.from({ length: 13 }, (_, index) => list.find((window) => contains(window, addDays(day0, index - 6)))?.units ?? []);
});
