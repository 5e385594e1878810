import type { GroupId, Tree } from '../groups/tree.ts';
import { addTo } from '../lists/add-to.ts';
import { contains, type Day } from '../time/day.ts';
import type { CourseFacts, Learner, Payers, PersonId, Grant, GrantId, UnitId } from './grant.ts';

/** Everything that is said about one course, sorted so that each question is a short walk. */
export interface CourseRules {
  tree: Tree;
  course: CourseFacts;
  atGroup: ReadonlyMap<GroupId, readonly Grant[]>;
  onPerson: ReadonlyMap<PersonId, readonly Grant[]>;
}

/**
 * One way by which a course is open. Several opens that apply together at one group are several ways.
 * `groupId` null: by the course's own terms or a grant on the person.
 */
export interface OpenPath {
  groupId: GroupId | null;
  units: readonly UnitId[];
  /** The grant that opened it; null when the course's own terms did. */
  openedBy: GrantId | null;
  /** Which licences pay for it; null: it costs nobody a seat. */
  payers: Payers | null;
}

/** One link of the chain that decided. */
export interface WhyStep {
  kind: 'terms' | 'grant' | 'firm' | 'person' | 'inactive' | 'archived';
  /** The membership on whose path it was met; null off the paths. */
  path: GroupId | null;
  grant: GrantId | null;
  verdict: 'decided' | 'overruled' | 'not in force';
}

export interface Access {
  /** Units that are open, in the course's order; empty means not open. */
  units: readonly UnitId[];
  paths: readonly OpenPath[];
  chain: readonly WhyStep[];
}

/** Grants of other courses are the caller's to leave out; those on course sets count as the course's own. */
export function courseRules(tree: Tree, course: CourseFacts, grants: Iterable<Grant>): CourseRules {
  const atGroup = new Map<GroupId, Grant[]>();
  const onPerson = new Map<PersonId, Grant[]>();
  for (const grant of grants) {
    if ('group' in grant.at) addTo(atGroup, grant.at.group, grant);
    else addTo(onPerson, grant.at.person, grant);
  }
  return { tree, course, atGroup, onPerson };
}

/**
 * Effective access of a learner to a course on a day, with the chain of grants that decided
 * (`product.md`, Effective access, steps 1 to 4).
 *
 * At one group opens come before blocks, and within each those on a course set before those on the
 * course: so at one group a block wins, and among opens the one on the course itself says which units.
 * Several opens of the same rank add up.
 *
 * @example With `open` for a region and `block` for one of its crews, a member of that crew gets
 * `units: []`, and somebody who is also in another crew of the region still gets them all,
 * unless the block is firm.
 */
export function resolve(rules: CourseRules, learner: Learner, day: Day): Access {
  const { course, tree } = rules;
  const chain: WhyStep[] = [];
  if (!learner.active || !contains(learner, day)) {
    return closed([{ kind: 'inactive', path: null, grant: null, verdict: 'decided' }]);
  }
  if (course.archived && !learner.mayFinish?.includes(course.id)) {
    return closed([{ kind: 'archived', path: null, grant: null, verdict: 'decided' }]);
  }
  const groups = groupsInForce(tree, learner, day);
  const paths = groups.map((groupId) => walkPath(rules, groupId, day, chain));
  if (groups.length === 0) paths.push(ownTerms(rules, chain));
  takeOffFirm(rules, groups, paths, day, chain);
  const ofPerson = learner.personId === null ? undefined : rules.onPerson.get(learner.personId);
  const units = ofPerson ? applyPersonal(rules, ofPerson, groups, paths, day, chain) : union(paths);

  const open = course.units.filter((unit) => units.has(unit));
  return {
    units: open,
    paths: paths.flatMap((path) => openPaths(rules, path, open, day)),
    chain,
  };
}

/** The groups through which somebody can have anything on a day. */
export const groupsInForce = (tree: Tree, learner: Learner, day: Day): GroupId[] =>
  learner.memberships
    .filter((held) => contains(held, day) && tree.has(held.groupId) && tree.isInForce(held.groupId, day))
    .map((held) => held.groupId);

interface Walk {
  groupId: GroupId | null;
  units: Set<UnitId>;
  /** The opens of one rank that apply now; none: what is open, is so by the course's own terms. */
  opens: readonly Grant[];
}

/** What is left of a walk among the units that are open in the end, one path for each open that gives some of it. */
function openPaths(rules: CourseRules, { groupId, units, opens }: Walk, open: readonly UnitId[], day: Day): OpenPath[] {
  const left = open.filter((unit) => units.has(unit));
  if (left.length === 0) return [];
  if (opens.length === 0) return [{ groupId, openedBy: null, units: left, payers: null }];
  return opens.flatMap((grant) => {
    const given = grant.units === null ? left : left.filter((unit) => grant.units?.includes(unit));
    return given.length === 0 ? [] : [{ groupId, openedBy: grant.id, units: given, payers: payersOf(rules, grant, day) }];
  });
}

/**
 * Who pays for what an open gives. A leader's open never makes free what is paid above it: the licences of the open it rests on
 * pay, unless the homes of all of them lie in the leader's own branch.
 */
function payersOf(rules: CourseRules, grant: Grant, day: Day): Payers | null {
  const own = grant.payers ?? null;
  if (grant.makerBranch === null) return own;
  const restsOn = openAbove(rules, grant.makerBranch, day);
  const above = restsOn.flatMap(({ payers }) => payers ?? []);
  if (restsOn.length === 0 || above.length < restsOn.length) return own;
  const licences = [...new Set(above.flatMap((payers) => payers.licences))];
  const others = above.some((payers) => payers.others);
  const homes = (rules.course.licenceHomes ?? []).filter(({ licence }) => others || licences.includes(licence));
  const branch = grant.makerBranch;
  const isTheirs = homes.length > 0 && homes.every(({ home }) => rules.tree.has(home) && rules.tree.isInBranch(home, branch));
  if (isTheirs) return own;
  const chosen = (own?.licences ?? []).filter((licence) => others || licences.includes(licence));
  return { licences: [...new Set([...chosen, ...licences])], others };
}

/** What is open at the top of a branch without what was opened in its own name: what the opens of its leaders rest on. */
export function openAbove(rules: CourseRules, branch: GroupId, day: Day): OpenPath[] {
  const walk = walkPath(rules, branch, day, [], branch);
  return openPaths(rules, walk, [...walk.units], day);
}

function ownTerms(rules: CourseRules, chain: WhyStep[], groupId: GroupId | null = null): Walk {
  chain.push({ kind: 'terms', path: groupId, grant: null, verdict: 'decided' });
  return { groupId, units: new Set(rules.course.terms === 'everyone' ? rules.course.units : []), opens: [] };
}

/** Step 1: from the root down, the nearest grant wins. Opens made in the name of the branch `except` are left out. */
function walkPath(rules: CourseRules, groupId: GroupId, day: Day, chain: WhyStep[], except?: GroupId): Walk {
  const route = rules.tree.path(groupId);
  const firstStep = chain.length;
  const walk = ownTerms(rules, chain, groupId);
  if (!isAtHome(rules.course, route)) return walk;
  for (const at of route) {
    const spoken = (rules.atGroup.get(at) ?? []).filter(
      (grant) => speaksAt(grant, at, groupId) && !(grant.effect === 'open' && grant.makerBranch !== null && grant.makerBranch === except),
    );
    const inForce: Grant[] = [];
    for (const grant of spoken) {
      if (isInForce(rules, grant, route, day)) inForce.push(grant);
      else chain.push({ kind: 'grant', path: groupId, grant: grant.id, verdict: 'not in force' });
    }
    if (inForce.length > 0) applyInOrder(rules, walk, inForce, chain, firstStep);
  }
  return walk;
}

/** Opens before blocks; of each, those on a course set before those on the course. */
function applyInOrder(
  rules: CourseRules,
  walk: Walk,
  grants: readonly Grant[],
  chain: WhyStep[],
  firstStep: number,
  kind: WhyStep['kind'] = 'grant',
): void {
  for (const about of ['courseSet', 'course'] as const) {
    const opens = grants.filter((grant) => grant.effect === 'open' && about in grant.about);
    if (opens.length === 0) continue;
    overrule(chain, firstStep, walk.groupId);
    walk.units = named(rules, opens);
    walk.opens = opens;
    for (const open of opens) chain.push({ kind, path: walk.groupId, grant: open.id, verdict: 'decided' });
  }
  for (const block of grants) {
    if (block.effect !== 'block') continue;
    if (block.units === null) overrule(chain, firstStep, walk.groupId);
    for (const unit of block.units ?? rules.course.units) walk.units.delete(unit);
    chain.push({ kind, path: walk.groupId, grant: block.id, verdict: 'decided' });
  }
}

/** Step 3: firm blocks hold whatever other groups say; a leader's only on paths through their branch. */
function takeOffFirm(rules: CourseRules, groups: readonly GroupId[], paths: Walk[], day: Day, chain: WhyStep[]): void {
  const seen = new Set<GrantId>();
  for (const groupId of groups) {
    for (const block of firmOnRoute(rules, groupId, day)) {
      if (seen.has(block.id)) continue;
      seen.add(block.id);
      for (const path of paths) {
        if (!reaches(rules, block.makerBranch, path.groupId)) continue;
        for (const unit of block.units ?? rules.course.units) path.units.delete(unit);
      }
      chain.push({ kind: 'firm', path: groupId, grant: block.id, verdict: 'decided' });
    }
  }
}

function* firmOnRoute(rules: CourseRules, groupId: GroupId, day: Day): Generator<Grant> {
  const route = rules.tree.path(groupId);
  for (const at of route) {
    for (const grant of rules.atGroup.get(at) ?? []) {
      if (grant.effect === 'block' && grant.firm && speaksAt(grant, at, groupId) && isInForce(rules, grant, route, day)) yield grant;
    }
  }
}

/**
 * Step 4: grants on the person. An administrator's act on the whole; a leader's only on the paths
 * through their branch, and their opens never on what a firm block from above that branch names.
 */
function applyPersonal(
  rules: CourseRules,
  grants: readonly Grant[],
  groups: readonly GroupId[],
  paths: Walk[],
  day: Day,
  chain: WhyStep[],
): Set<UnitId> {
  const byLeader = grants.filter((grant) => grant.makerBranch !== null);
  const byAdministrator = grants.filter((grant) => grant.makerBranch === null && contains(grant, day));
  const openedByLeader = new Set<UnitId>();

  for (const path of paths) {
    if (path.groupId === null) continue;
    const route = rules.tree.path(path.groupId);
    const inForce = byLeader.filter((grant) => isInForce(rules, grant, route, day));
    if (inForce.length === 0) continue;
    const opens = inForce.filter((grant) => grant.effect === 'open');
    applyInOrder(rules, path, opens, chain, chain.length, 'person');
    for (const open of opens) for (const unit of firmFromAbove(rules, groups, open.makerBranch, path.groupId, day)) path.units.delete(unit);
    applyInOrder(
      rules,
      path,
      inForce.filter((grant) => grant.effect === 'block'),
      chain,
      chain.length,
      'person',
    );
    if (opens.length > 0) for (const unit of path.units) openedByLeader.add(unit);
  }

  let units = union(paths);
  const opens = byAdministrator.filter((grant) => grant.effect === 'open');
  if (opens.length > 0) {
    const own: Walk = { groupId: null, units: new Set(), opens: [] };
    applyInOrder(rules, own, opens, chain, 0, 'person');
    units = new Set([...own.units, ...openedByLeader]);
    // The person's own grant comes first: its due day counts, the paths only tell through whom.
    paths.unshift(own);
  }
  for (const block of byAdministrator) {
    if (block.effect !== 'block') continue;
    for (const unit of block.units ?? rules.course.units) units.delete(unit);
    chain.push({ kind: 'person', path: null, grant: block.id, verdict: 'decided' });
  }
  return units;
}

/** What firm blocks that the branch cannot undo take off: made by an administrator or from above, or standing above. */
function firmFromAbove(rules: CourseRules, groups: readonly GroupId[], branch: GroupId | null, path: GroupId, day: Day): Set<UnitId> {
  const units = new Set<UnitId>();
  if (branch === null) return units;
  const above = rules.tree.path(branch).slice(0, -1);
  for (const groupId of groups) {
    for (const block of firmOnRoute(rules, groupId, day)) {
      const standsAt = 'group' in block.at ? block.at.group : null;
      const isFromAbove =
        block.makerBranch === null || above.includes(block.makerBranch) || (standsAt !== null && above.includes(standsAt));
      if (!isFromAbove || !reaches(rules, block.makerBranch, path)) continue;
      for (const unit of block.units ?? rules.course.units) units.add(unit);
    }
  }
  return units;
}

/** Does a word spoken in the name of this branch act on that path? An administrator's (null) acts everywhere. */
function reaches(rules: CourseRules, makerBranch: GroupId | null, path: GroupId | null): boolean {
  return makerBranch === null || (path !== null && rules.tree.path(path).includes(makerBranch));
}

function speaksAt(grant: Grant, at: GroupId, member: GroupId): boolean {
  return 'group' in grant.at && (grant.at.withSubgroups || at === member);
}

function isInForce(rules: CourseRules, grant: Grant, route: readonly GroupId[], day: Day): boolean {
  if (!contains(grant, day)) return false;
  const branch = grant.makerBranch;
  if (branch === null) return true;
  if (!route.includes(branch) || !isAtHome(rules.course, route)) return false;
  // In its home a branch's own course needs nothing above it.
  return (
    grant.effect === 'block' ||
    (rules.course.home ?? null) !== null ||
    (grant.byRequest === true && rules.course.terms === 'request') ||
    isOpenAt(rules, branch, day)
  );
}

const isAtHome = ({ home = null }: CourseFacts, route: readonly GroupId[]): boolean => home === null || route.includes(home);

/**
 * Is the course open at the group from which a leader's power comes, without what was opened in that
 * group's own name? (Otherwise two of its opens would hold each other up.)
 */
function isOpenAt(rules: CourseRules, branch: GroupId, day: Day): boolean {
  const ignored: WhyStep[] = [];
  const walk = walkPath(rules, branch, day, ignored, branch);
  takeOffFirm(rules, [branch], [walk], day, ignored);
  return walk.units.size > 0;
}

function named(rules: CourseRules, opens: readonly Grant[]): Set<UnitId> {
  const known = new Set(rules.course.units);
  return new Set(opens.flatMap((open) => (open.units === null ? rules.course.units : open.units.filter((unit) => known.has(unit)))));
}

function union(paths: readonly Walk[]): Set<UnitId> {
  const units = new Set<UnitId>();
  for (const path of paths) for (const unit of path.units) units.add(unit);
  return units;
}

function overrule(chain: WhyStep[], from: number, path: GroupId | null): void {
  for (const step of chain.slice(from)) {
    if (step.path === path && step.verdict === 'decided') step.verdict = 'overruled';
  }
}

const closed = (chain: WhyStep[]): Access => ({ units: [], paths: [], chain });
