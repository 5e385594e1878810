import type { GroupNode } from '../groups/tree.ts';
import { contains, type Day } from '../time/day.ts';
import type { CourseFacts, Grant, Learner } from './grant.ts';

/* The brute-force twin of `resolve`: asks of one unit, from the group upwards, with nothing shared but the facts. */

export interface World {
  nodes: readonly GroupNode[];
  grants: readonly Grant[];
  facts: CourseFacts;
}

/** Is this unit open to this learner on this day? */
export const twinIsOpen = (all: World, learner: Learner, day: Day, unit: number): boolean => twinWays(all, learner, day, unit).length > 0;

export const twinGroups = (all: World, learner: Learner, day: Day): number[] =>
  learner.memberships
    .filter((held) => contains(held, day) && ancestry(all, held.groupId).every((each) => each.state === 'active' && contains(each, day)))
    .map(({ groupId }) => groupId);

/** The groups through which the unit is open to this learner; null stands for the course's own terms or an administrator's word on the person. */
export function twinWays(all: World, learner: Learner, day: Day, unit: number): (number | null)[] {
  if (!learner.active || !contains(learner, day)) return [];
  const groups = twinGroups(all, learner, day);
  const ways: (number | null)[] = groups.length > 0 ? groups : [null];
  const mine = all.grants.filter(({ at }) => 'person' in at && at.person === learner.personId);
  const speaksOnPath = (each: Grant, way: number): boolean => isSpeaking(all, each, way, day);

  const open = (way: number | null): boolean => {
    if (way === null) return all.facts.terms === 'everyone';
    const leaders = mine.filter((each) => each.makerBranch !== null && speaksOnPath(each, way));
    const isBlockedHere = leaders.some((each) => each.effect === 'block' && covers(each, unit));
    const opens = bestOpens(leaders);
    if (opens.length > 0) {
      // By any leader's open on the person at all, what a firm block from above its branch names is off this path.
      const firmAbove = leaders
        .filter(({ effect }) => effect === 'open')
        .some((each) =>
          firmBlocks(all, groups, way, day).some((block) => covers(block, unit) && isFromAbove(all, block, each.makerBranch ?? 0)),
        );
      return opens.some((each) => covers(each, unit)) && !firmAbove && !isBlockedHere;
    }
    const plain = nearest(all, way, day, unit, null) && !firmBlocks(all, groups, way, day).some((block) => covers(block, unit));
    return plain && !isBlockedHere;
  };
  const administrators = mine.filter((each) => each.makerBranch === null && contains(each, day));
  if (administrators.some((each) => each.effect === 'block' && covers(each, unit))) return [];
  const opens = bestOpens(administrators);
  if (opens.length === 0) return ways.filter(open);
  if (opens.some((each) => covers(each, unit))) return [null, ...groups.filter(open)];
  // Beside an administrator's open, only what leaders opened for this person remains.
  return groups.some(
    (way) => mine.some((each) => each.makerBranch !== null && each.effect === 'open' && speaksOnPath(each, way)) && open(way),
  )
    ? groups.filter(open)
    : [];
}

const covers = (each: Grant, unit: number): boolean => each.units === null || each.units.includes(unit);
export function ancestry({ nodes }: Pick<World, 'nodes'>, id: number): GroupNode[] {
  const found = nodes.find((each) => each.id === id);
  return !found ? [] : [found, ...(found.parentId === null ? [] : ancestry({ nodes }, found.parentId))];
}
/** Opens on the course say which units before those on a set. */
function bestOpens(list: readonly Grant[]): Grant[] {
  const opens = list.filter(({ effect }) => effect === 'open');
  const onCourse = opens.filter(({ about }) => 'course' in about);
  return onCourse.length > 0 ? onCourse : opens;
}
function isSpeaking(all: World, each: Grant, way: number, day: Day): boolean {
  if (!contains(each, day)) return false;
  const { makerBranch } = each;
  if (makerBranch === null) return true;
  if (!ancestry(all, way).some(({ id }) => id === makerBranch) || isAway(all, way)) return false;
  if (all.facts.home) return true;
  if (each.effect === 'block' || (each.byRequest && all.facts.terms === 'request')) return true;
  return all.facts.units.some(
    (unit) =>
      nearest(all, makerBranch, day, unit, makerBranch) &&
      !firmBlocks(all, [makerBranch], makerBranch, day).some((block) => covers(block, unit)),
  );
}
/** The course is another branch's own. */
const isAway = (all: World, way: number): boolean => Boolean(all.facts.home) && !ancestry(all, way).some(({ id }) => id === all.facts.home);
const reachesGroup = ({ at }: Grant, stands: number, way: number): boolean =>
  'group' in at && at.group === stands && (at.withSubgroups || stands === way);
/** The nearest group that says anything of this unit decides. */
function nearest(all: World, way: number, day: Day, unit: number, without: number | null): boolean {
  if (isAway(all, way)) return all.facts.terms === 'everyone';
  for (const { id } of ancestry(all, way)) {
    const said = all.grants.filter(
      (each) =>
        reachesGroup(each, id, way) &&
        !(each.effect === 'open' && without !== null && each.makerBranch === without) &&
        isSpeaking(all, each, way, day),
    );
    if (said.some((each) => each.effect === 'block' && covers(each, unit))) return false;
    const opens = bestOpens(said);
    if (opens.length > 0) return opens.some((each) => covers(each, unit));
  }
  return all.facts.terms === 'everyone';
}
/** Firm blocks anywhere on the person's groups or above that act on this way. */
function firmBlocks(all: World, groups: readonly number[], way: number, day: Day): Grant[] {
  return groups.flatMap((group) =>
    ancestry(all, group).flatMap(({ id }) =>
      all.grants.filter(
        (each) =>
          each.firm &&
          each.effect === 'block' &&
          reachesGroup(each, id, group) &&
          isSpeaking(all, each, group, day) &&
          (each.makerBranch === null || ancestry(all, way).some((step) => step.id === each.makerBranch)),
      ),
    ),
  );
}
function isFromAbove(all: World, { at, makerBranch }: Grant, branch: number): boolean {
  const above = ancestry(all, branch)
    .slice(1)
    .map(({ id }) => id);
  return makerBranch === null || above.includes(makerBranch) || ('group' in at && above.includes(at.group));
}
