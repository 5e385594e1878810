import type { Grant, Learner, Payers } from '../access/grant.ts';
import { type CourseRules, type OpenPath, resolve } from '../access/resolve.ts';
import type { GroupId, Tree } from '../groups/tree.ts';
import { contains, type Day } from '../time/day.ts';
import type { Licence, SeatNeed, SeatWay } from './licence.ts';

/**
 * What somebody needs to be paid for to work on a course; null: it is not open to them, or open by a way that costs nothing.
 *
 * Licences that the open names come before others, and those that end first before those that end later; of one licence, the
 * longest-standing membership whose path is open. Where access comes without a group, that is the longest-standing one in the
 * branch of the licence's home.
 */
export function seatNeed(rules: CourseRules, learner: Learner, day: Day, licences: readonly Licence[]): SeatNeed | null {
  const { paths } = resolve(rules, learner, day);
  const paid = paths.map((path) => ({ path, payers: payersOf(rules, path) }));
  if (paid.length === 0 || paid.some(({ payers }) => payers === null)) return null;
  const courseId = rules.course.id;
  const standing = learner.memberships.filter((held) => contains(held, day)).map(({ groupId }) => groupId);
  const usable = licences
    .filter((licence) => licence.covers.has(courseId) && contains(licence, day))
    .sort((a, b) => (a.lastDay ?? '9').localeCompare(b.lastDay ?? '9') || a.id - b.id);
  const ways = (isNamed: boolean): SeatWay[] =>
    usable.flatMap((licence) =>
      standing
        .filter((groupId) => isWithin(rules.tree, groupId, licence.homeId))
        .filter((groupId) => paid.some(({ path, payers }) => pays(payers, licence, isNamed) && (path.groupId ?? groupId) === groupId))
        .map((groupId) => ({ licenceId: licence.id, groupId })),
    );
  return { courseId, ways: [...ways(true), ...ways(false)] };
}

/** Is any open of this course paid for at all? */
export const hasPayers = (grants: Iterable<Grant>): boolean => {
  for (const { payers } of grants) if (payers) return true;
  return false;
};

const isWithin = (tree: Tree, groupId: GroupId, top: GroupId): boolean => tree.has(groupId) && tree.isInBranch(groupId, top);

const pays = (payers: Payers | null, licence: Licence, isNamed: boolean): boolean =>
  payers !== null && (isNamed ? payers.licences.includes(licence.id) : payers.others && !payers.licences.includes(licence.id));

/** Who pays on an open path: what its open says; the course's own terms cost nothing. */
function payersOf({ atGroup, onPerson, tree }: CourseRules, { groupId, openedBy }: OpenPath): Payers | null {
  if (openedBy === null) return null;
  const isIt = ({ id }: Grant): boolean => id === openedBy;
  for (const step of groupId === null ? [] : tree.path(groupId)) {
    const found = atGroup.get(step)?.find(isIt);
    if (found) return found.payers ?? null;
  }
  for (const said of onPerson.values()) {
    const found = said.find(isIt);
    if (found) return found.payers ?? null;
  }
  return null;
}
