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
  if (!needsSeat(paths)) return null;
  const courseId = rules.course.id;
  const standing = learner.memberships.filter((held) => contains(held, day)).map(({ groupId }) => groupId);
  const usable = licences
    .filter((licence) => licence.covers.has(courseId) && contains(licence, day))
    .sort((a, b) => (a.lastDay ?? '9').localeCompare(b.lastDay ?? '9') || a.id - b.id);
  const ways = (isNamed: boolean): SeatWay[] =>
    usable.flatMap((licence) =>
      standing
        .filter((groupId) => isWithin(rules.tree, groupId, licence.homeId))
        .filter((groupId) => paths.some((path) => pays(path.payers, licence, isNamed) && (path.groupId ?? groupId) === groupId))
        .map((groupId) => ({ licenceId: licence.id, groupId })),
    );
  return { courseId, ways: [...ways(true), ...ways(false)] };
}

/** Is everything that is open paid for? One way that costs nothing is enough to need no seat. */
export const needsSeat = (paths: readonly Pick<OpenPath, 'payers'>[]): boolean =>
  paths.length > 0 && paths.every(({ payers }) => payers !== null);

/** Is any open of this course paid for at all? */
export const hasPayers = (grants: Iterable<Grant>): boolean => {
  for (const { payers } of grants) if (payers) return true;
  return false;
};

const isWithin = (tree: Tree, groupId: GroupId, top: GroupId): boolean => tree.has(groupId) && tree.isInBranch(groupId, top);

const pays = (payers: Payers | null, licence: Licence, isNamed: boolean): boolean =>
  payers !== null && (isNamed ? payers.licences.includes(licence.id) : payers.others && !payers.licences.includes(licence.id));
