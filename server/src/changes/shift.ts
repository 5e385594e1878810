import {
  type AccessEffects,
  closingGrants,
  type CourseGrants,
  courseRules,
  type Effects,
  type GrantId,
  type Grant,
  type LearnerClass,
  hasPayers,
  lookAtShift,
  movingClasses,
  type MovingLearner,
  type Tree,
} from '@gate-roster/core';
import { sql } from 'drizzle-orm';
import { asSeen, grantsByCourse, learnerClasses, learners, peopleWithGrants, type PersonLearner } from '../access/load-rules.ts';
import { ids, type Queryable, rows } from '../database/connect.ts';
import { type CourseDefinition, statusTurns } from '../progress/status-after.ts';
import type { Otherwise } from '../seats/load-seats.ts';
import { seatsOfLook, type Undone } from '../seats/seats-of-look.ts';
import type { PlanContext } from './plan.ts';

/** How the world would be otherwise; what is left out stays as it is. */
export interface Shift {
  tree?: Tree;
  /** Tops of the branches in which the tree or the grants are otherwise. */
  branches?: readonly number[];
  grants?: { end: readonly GrantId[]; begin: readonly { courseIds: readonly number[]; grant: Grant }[] };
  /** Courses that say other things of themselves, or of which sets say other things: to everybody. */
  courses?: readonly CourseGrants[];
  /** Courses that are done by other things. */
  definitions?: readonly CourseDefinition[];
  /** Licences and limits. */
  seats?: Otherwise | undefined;
  /** Two accounts that become one. */
  merged?: { keptId: number; goneId: number };
  /** What an undo takes back: seats that its change gave, and work that goes back to whom it was. */
  undone?: Undone | undefined;
  people?: { personIds: readonly number[]; afterwards: (person: PersonLearner) => PersonLearner };
}

export type ShiftEffects = Omit<AccessEffects, 'openTurns'> & Pick<Effects, 'seats' | 'becomeDone' | 'noLongerDone'>;

/** The same with whose status would follow. */
export async function withStatus<E extends AccessEffects>(db: Queryable, effects: E, definitions: readonly CourseDefinition[] = []) {
  const { openTurns, ...rest } = effects;
  return { ...rest, ...(await statusTurns(db, openTurns, definitions)) };
}

/** Who gains, loses and still has what, class by class: people are looked at one by one only where they move by themselves. */
export async function accessOfShift(context: PlanContext, shift: Shift): Promise<ShiftEffects> {
  const { db, seen, today } = context;
  const after = shift.tree ?? context.tree;
  const people = shift.people ? await learners(db, shift.people.personIds) : [];
  const changed = people.map((person) => ({ person, after: shift.people?.afterwards(person) ?? person }));
  const concerned = concernedGroups(context.tree, after, shift.branches ?? [], changed);
  const moved = new Set(people.map(({ personId }) => personId));
  const hasBranches = (shift.branches?.length ?? 0) > 0;
  const otherwise = new Map(shift.courses?.map((about) => [about.course.id, about]));
  const redefined = new Set(shift.definitions?.map(({ id }) => id));
  const begun = new Set(shift.grants?.begin.flatMap(({ courseIds }) => courseIds));
  const ended = new Set(shift.grants?.end);
  // A course of which nothing is said where anybody comes or goes is to everybody what it was.
  const about = (await grantsByCourse(db, null)).filter(
    ({ course, grants }) =>
      course.terms === 'everyone' ||
      // Through it a seat may be charged elsewhere.
      hasPayers(grants) ||
      begun.has(course.id) ||
      otherwise.has(course.id) ||
      redefined.has(course.id) ||
      grants.some(({ id, at }) => ended.has(id) || ('group' in at ? concerned.has(at.group) : moved.has(at.person) || hasBranches)),
  );
  const said = about.map(({ course, grants }) => ({
    course: otherwise.get(course.id)?.course ?? course,
    grants: [
      ...(otherwise.get(course.id)?.grants ?? grants).filter(
        ({ id, at }) => !shift.grants?.end.includes(id) && !('group' in at && !after.has(at.group)),
      ),
      ...(shift.grants?.begin ?? []).flatMap(({ courseIds, grant }) => (courseIds.includes(course.id) ? [grant] : [])),
    ],
  }));
  const courses = about.map(({ course, grants }, index) => {
    const then = said[index] ?? { course, grants };
    const isThere = ({ at }: Grant): boolean => !('group' in at) || after.has(at.group);
    return {
      before: courseRules(context.tree, course, grants),
      after: courseRules(after, then.course, then.grants),
      closing: otherwise.has(course.id) ? closingGrants(grants, then.grants).filter(isThere) : [],
      redefined: redefined.has(course.id),
    };
  });
  const withOwn = peopleWithGrants(about);
  /** Groups that do not stand give nothing, before or after. */
  const standing = <L extends { memberships: readonly { groupId: number }[] }>(learner: L, tree: Tree): L => ({
    ...learner,
    memberships: learner.memberships.filter(({ groupId }) => tree.has(groupId)),
  });
  const moving: MovingLearner[] = movingClasses(
    changed.map(({ person, after: later }) => ({
      personId: person.personId,
      before: standing(asSeen(person, seen), context.tree),
      after: standing(
        asSeen(later, (groupId) => seen === null || seen(groupId) || !context.tree.has(groupId)),
        after,
      ),
    })),
    withOwn,
  );
  const isForAll = otherwise.size + redefined.size > 0;
  if (isForAll || hasBranches) {
    const classes = await learnerClasses(db, isForAll ? null : (shift.branches ?? []), seen);
    const left = await peopleLeft(
      context,
      classes.flatMap(({ who }) => ('set' in who ? [who.set] : [])),
      moved,
    );
    for (const { who, learner, people: count } of classes) {
      if ('person' in who && moved.has(who.person)) continue;
      const remaining = 'set' in who ? left.get(who.set) : undefined;
      moving.push({
        who: 'person' in who ? { persons: [who.person] } : remaining ? { persons: remaining } : who,
        people: remaining ? remaining.length : count,
        before: standing(learner, context.tree),
        after: standing(learner, after),
      });
    }
    for (const person of await learners(db, await dormantPeople(context, after, shift.branches ?? [], classes))) {
      if (moved.has(person.personId)) continue;
      moving.push({
        who: { persons: [person.personId] },
        people: 1,
        before: standing(asSeen(person, seen), context.tree),
        after: standing(asSeen(person, seen), after),
      });
    }
  }
  return {
    ...(await withStatus(db, lookAtShift(courses, moving, today), shift.definitions)),
    seats: await seatsOfLook(context, {
      tree: after,
      courses: said,
      moving,
      otherwise: shift.seats,
      merged: shift.merged,
      undone: shift.undone,
    }),
  };
}

/** Groups on whose paths, or in whose branches, anything may be otherwise afterwards. */
function concernedGroups(
  before: Tree,
  after: Tree,
  branches: readonly number[],
  people: readonly { person: PersonLearner; after: PersonLearner }[],
): Set<number> {
  const tops = new Set(branches);
  for (const { person, after: later } of people) {
    const was = new Set(person.memberships.map(({ groupId }) => groupId));
    const is = new Set(later.memberships.map(({ groupId }) => groupId));
    const isOtherwise = person.active !== later.active || person.firstDay !== later.firstDay || person.lastDay !== later.lastDay;
    for (const id of [...was, ...is]) if (isOtherwise || was.has(id) !== is.has(id)) tops.add(id);
  }
  const concerned = new Set<number>();
  for (const tree of [before, after])
    for (const id of tops) {
      if (!tree.has(id)) continue;
      for (const step of tree.path(id)) concerned.add(step);
      if (branches.includes(id)) for (const below of tree.branch(id)) concerned.add(below);
    }
  return concerned;
}

/** People of branches in which archived groups become active again: until then those groups are in nobody's class. */
async function dormantPeople(
  { db, tree }: PlanContext,
  after: Tree,
  branches: readonly number[],
  classes: readonly LearnerClass[],
): Promise<number[]> {
  const wakes = branches.some((top) =>
    after.has(top) && tree.has(top) ? after.branch(top).some((id) => tree.has(id) && tree.node(id).state !== after.node(id).state) : false,
  );
  if (!wakes) return [];
  const found = await rows<{ id: number }>(
    db,
    sql`
    select distinct p.id from membership m join group_branch b on b.group_id = m.group_id and b.ancestor_id = any(${ids(branches)})
    join person p on p.id = m.person_id and not p.own_windows and p.set_id <> all(${ids(classes.flatMap(({ who }) => ('set' in who ? [who.set] : [])))})
    join person_state s on s.person_id = p.id and s.until_at is null and s.state = 'active' where m.until_at is null`,
  );
  return found.map(({ id }) => id);
}

/** Of sets from which people are looked at apart, who is left. */
async function peopleLeft(context: PlanContext, sets: readonly number[], apart: ReadonlySet<number>): Promise<Map<number, number[]>> {
  if (apart.size === 0) return new Map();
  const found = await rows<{ id: number; set_id: number }>(
    context.db,
    sql`
    select p.id, p.set_id from person p where p.counted and not p.own_windows and p.set_id = any(${ids(sets)})
      and p.set_id in (select set_id from person where id = any(${ids(apart)}))`,
  );
  const left = new Map<number, number[]>();
  for (const { id, set_id } of found) {
    const list = left.get(set_id) ?? [];
    if (!apart.has(id)) list.push(id);
    left.set(set_id, list);
  }
  return left;
}
