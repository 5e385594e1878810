import type { GroupId } from '../groups/tree.ts';
import { addDays, type Day, type Span } from '../time/day.ts';
import { type CourseRules, type OpenPath, resolve } from './resolve.ts';
import type { Learner, Payers, UnitId } from './grant.ts';

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
  addTurns(days, learner);
  for (const membership of learner.memberships) {
    addTurns(days, membership);
    if (rules.tree.has(membership.groupId)) for (const day of turnsOnPath(rules, membership.groupId)) days.add(day);
  }
  if (learner.personId !== null) rules.onPerson.get(learner.personId)?.forEach((grant) => addTurns(days, grant));
  return days.size === 1 ? [...days] : [...days].sort();
}

function addTurns(days: Set<Day>, { firstDay, lastDay }: Span): void {
  if (firstDay !== null) days.add(firstDay);
  if (lastDay !== null) days.add(addDays(lastDay, 1));
}

/** Kept for each group, since thousands of learners ask the same of one path. */
const turnsOfRules = new WeakMap<CourseRules, Map<GroupId, readonly Day[]>>();

/** The days that groups from the root down to this one, and what is said there, turn on. */
function turnsOnPath(rules: CourseRules, groupId: GroupId): readonly Day[] {
  const known = turnsOfRules.get(rules) ?? new Map<GroupId, readonly Day[]>();
  turnsOfRules.set(rules, known);
  const found = known.get(groupId);
  if (found) return found;
  const days = new Set<Day>();
  for (const step of rules.tree.path(groupId)) {
    addTurns(days, rules.tree.node(step));
    rules.atGroup.get(step)?.forEach((grant) => addTurns(days, grant));
  }
  const turns = [...days];
  known.set(groupId, turns);
  return turns;
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
        path.units.join() === other.units.join() &&
        samePayers(path.payers, other.payers)
      );
    })
  );
}

const samePayers = (a: Payers | null, b: Payers | null): boolean =>
  a === b || (a !== null && b !== null && a.others === b.others && a.licences.join() === b.licences.join());
