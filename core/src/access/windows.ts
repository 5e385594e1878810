import type { GroupId } from '../groups/tree.ts';
import { addDays, type Day, type Span } from '../time/day.ts';
import { type CourseRules, type OpenPath, resolve } from './resolve.ts';
import type { Learner, UnitId } from './grant.ts';

/** A stretch of days over which a course is open in one and the same way. */
export interface Window extends Span {
  units: readonly UnitId[];
  paths: readonly OpenPath[];
}

/** Before the first day that anything names. */
const dawn: Day = '0001-01-01';

/**
 * The windows in which a course is open to a learner, in order of time; days on which it is closed lie between.
 * @example An open from 2 to 10 March with a block on 5 and 6 March gives 2 to 4 and 7 to 10 March.
 */
export function windows(rules: CourseRules, learner: Learner): Window[] {
  const found: Window[] = [];
  const turns = turningDays(rules, learner);
  turns.forEach((firstDay, index) => {
    const access = resolve(rules, learner, firstDay);
    if (access.units.length === 0) return;
    const next = turns[index + 1];
    const lastDay = next === undefined ? null : addDays(next, -1);
    const before = found.at(-1);
    if (before?.lastDay && addDays(before.lastDay, 1) === firstDay && sameWay(before, access)) before.lastDay = lastDay;
    else found.push({ firstDay: firstDay === dawn ? null : firstDay, lastDay, units: access.units, paths: access.paths });
  });
  return found;
}

/** The first day after `day` on which the same rules open the course; null when they never do. */
export function opensLater(rules: CourseRules, learner: Learner, day: Day): Day | null {
  return turningDays(rules, learner).find((turn) => turn > day && resolve(rules, learner, turn).units.length > 0) ?? null;
}

/** Days on which something may change: whatever is named as a first day, or follows a last day. */
function turningDays(rules: CourseRules, learner: Learner): Day[] {
  const days = new Set<Day>([dawn]);
  const add = (span: Span) => {
    if (span.firstDay !== null) days.add(span.firstDay);
    if (span.lastDay !== null) days.add(addDays(span.lastDay, 1));
  };
  add(learner);
  const groups = new Set<GroupId>();
  for (const membership of learner.memberships) {
    add(membership);
    if (rules.tree.has(membership.groupId)) for (const step of rules.tree.path(membership.groupId)) groups.add(step);
  }
  for (const group of groups) {
    add(rules.tree.node(group));
    rules.atGroup.get(group)?.forEach(add);
  }
  if (learner.personId !== null) rules.onPerson.get(learner.personId)?.forEach(add);
  return [...days].sort();
}

function sameWay(a: Pick<Window, 'units' | 'paths'>, b: Pick<Window, 'units' | 'paths'>): boolean {
  return (
    a.units.join() === b.units.join() &&
    a.paths.length === b.paths.length &&
    a.paths.every((path, index) => {
      const other = b.paths[index];
      return (
        other !== undefined &&
        path.groupId === other.groupId &&
        path.openedBy === other.openedBy &&
        path.units.join() === other.units.join()
      );
    })
  );
}
