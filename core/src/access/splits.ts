import type { GroupId, Tree } from '../groups/tree.ts';
import type { Day } from '../time/day.ts';
import type { CourseFacts, CourseId, Grant, Learner, UnitId } from './grant.ts';
import { courseRules, type CourseRules, groupsInForce, openAbove, resolve } from './resolve.ts';

export const allowanceModes = ['only', 'as well', 'none'] as const;
export type AllowanceMode = (typeof allowanceModes)[number];

/** What the people of a part may work on while it runs. `units` null: all units of the course. */
export interface Allowance {
  mode: AllowanceMode;
  courses: readonly { courseId: CourseId; units: readonly UnitId[] | null }[];
}

/** A part that is on, of a split that runs, to which somebody belongs. */
export interface RunningPart {
  groupId: GroupId;
  /** The branch in whose name the split's leader speaks; null: an administrator. */
  makerBranch: GroupId | null;
  /** null: nothing is different for its people. */
  allowance: Allowance | null;
}

export interface AccessInParts {
  /** Open without any split. */
  always: readonly UnitId[];
  /** What the splits leave of that. */
  kept: readonly UnitId[];
  /** What splits open. `licences`: they could pay for it; null: it asks for no seat. */
  offered: readonly { units: readonly UnitId[]; licences: readonly number[] | null }[];
}

/**
 * What is open to somebody in a course while splits run (`product.md`, Splits). Parts act on what `resolve` says of each path through
 * their group, the part of the nearest group on each. A part opens what a statement of its leader about this person would, so never
 * what the leader could not open and never against a firm block from above.
 */
export function resolveInParts(rules: CourseRules, learner: Learner, day: Day, parts: readonly RunningPart[]): AccessInParts {
  const { course, tree } = rules;
  const { units: always, paths } = resolve(rules, learner, day);
  const kept = new Set<UnitId>(paths.flatMap(({ groupId, units }) => (groupId === null ? units : [])));
  const offered: { units: readonly UnitId[]; licences: readonly number[] | null }[] = [];
  for (const groupId of groupsInForce(tree, learner, day)) {
    const before = paths.filter((path) => path.groupId === groupId).flatMap(({ units }) => units);
    const part = nearestPart(tree, groupId, parts);
    const named = part?.allowance ? namedUnits(course, part.allowance) : null;
    if (!part?.allowance || named === null) {
      for (const unit of before) kept.add(unit);
      continue;
    }
    const { mode } = part.allowance;
    for (const unit of before) if (mode === 'as well' || named.includes(unit) === (mode === 'only')) kept.add(unit);
    const opened = mode === 'none' ? [] : couldOpen(rules, learner, day, part, { groupId, named });
    if (opened.length > 0) offered.push({ units: opened, licences: payersOnPath(rules, part, groupId, day) });
  }
  return { always, kept: course.units.filter((unit) => kept.has(unit)), offered };
}

/** Units of this course that an allowance names; null: it leaves the course alone. */
function namedUnits(course: CourseFacts, { mode, courses }: Allowance): readonly UnitId[] | null {
  const about = courses.find(({ courseId }) => courseId === course.id);
  if (!about) return mode === 'only' ? [] : null;
  const { units } = about;
  return units === null ? course.units : course.units.filter((unit) => units.includes(unit));
}

const nearestPart = (tree: Tree, groupId: GroupId, parts: readonly RunningPart[]): RunningPart | undefined => {
  const at = tree.path(groupId).findLast((step) => parts.some((part) => part.groupId === step));
  return parts.find((part) => part.groupId === at);
};

const trial = -1;

/** Of the named units, those that the split's leader could open for this person on this path. */
function couldOpen(
  rules: CourseRules,
  learner: Learner,
  day: Day,
  { makerBranch }: RunningPart,
  { groupId, named }: { groupId: GroupId; named: readonly UnitId[] },
): UnitId[] {
  const person = learner.personId ?? trial;
  if (named.length === 0) return [];
  const grant: Grant = {
    id: trial,
    at: { person },
    about: { course: rules.course.id },
    effect: 'open',
    firm: false,
    units: named,
    due: null,
    firstDay: null,
    lastDay: null,
    makerBranch,
    madeDay: day,
  };
  const said = [...[...rules.atGroup.values()].flat(), ...(rules.onPerson.get(person) ?? [])];
  const { paths } = resolve(courseRules(rules.tree, rules.course, [...said, grant]), { ...learner, personId: person }, day);
  const through = makerBranch === null ? null : groupId;
  const opened = new Set(paths.flatMap((path) => (path.openedBy === trial && path.groupId === through ? path.units : [])));
  return named.filter((unit) => opened.has(unit));
}

/** The licences that could pay for what a part opens on a path: what is paid for above a leader is paid for here. null: it is free. */
function payersOnPath(rules: CourseRules, { makerBranch }: RunningPart, groupId: GroupId, day: Day): number[] | null {
  const { course, tree } = rules;
  const onPath = (course.licenceHomes ?? []).flatMap(({ licence, home }) => (tree.path(groupId).includes(home) ? licence : []));
  if (makerBranch === null) return onPath.length > 0 ? onPath : null;
  const above = openAbove(rules, makerBranch, day).map(({ payers }) => payers);
  const paid = above.flatMap((payers) => payers ?? []);
  if (paid.length < above.length || paid.length === 0) return null;
  return [...new Set(paid.flatMap(({ licences, others }) => (others ? [...licences, ...onPath] : licences)))];
}
