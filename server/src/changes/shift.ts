import {
  type AccessEffects,
  courseRules,
  type GrantId,
  type Grant,
  lookAtShift,
  movingClasses,
  type MovingLearner,
  type Tree,
} from '@gate-roster/core';
import { sql } from 'drizzle-orm';
import { asSeen, grantsByCourse, learnerClasses, learners, type PersonLearner } from '../access/load-rules.ts';
import { ids, rows } from '../database/connect.ts';
import type { PlanContext } from './plan.ts';

/** How the world would be otherwise; what is left out stays as it is. */
export interface Shift {
  tree?: Tree;
  /** Tops of the branches in which the tree or the grants are otherwise. */
  branches?: readonly number[];
  grants?: { end: readonly GrantId[]; begin: readonly { courseIds: readonly number[]; grant: Grant }[] };
  people?: { personIds: readonly number[]; afterwards: (person: PersonLearner) => PersonLearner };
}

/** Who gains, loses and still has what, class by class: people are looked at one by one only where they move by themselves. */
export async function accessOfShift(context: PlanContext, shift: Shift): Promise<AccessEffects> {
  const { db, seen, today } = context;
  const after = shift.tree ?? context.tree;
  const about = await grantsByCourse(db, null);
  const courses = about.map(({ course, grants }) => ({
    before: courseRules(context.tree, course, grants),
    after: courseRules(after, course, [
      ...grants.filter(({ id, at }) => !shift.grants?.end.includes(id) && !('group' in at && !after.has(at.group))),
      ...(shift.grants?.begin ?? []).flatMap(({ courseIds, grant }) => (courseIds.includes(course.id) ? [grant] : [])),
    ]),
  }));
  const withOwn = new Set(about.flatMap(({ grants }) => grants.flatMap(({ at }) => ('person' in at ? [at.person] : []))));
  /** Groups that do not stand give nothing, before or after. */
  const standing = <L extends { memberships: readonly { groupId: number }[] }>(learner: L, tree: Tree): L => ({
    ...learner,
    memberships: learner.memberships.filter(({ groupId }) => tree.has(groupId)),
  });
  const people = shift.people ? await learners(db, shift.people.personIds) : [];
  const moving: MovingLearner[] = movingClasses(
    people.map((person) => ({
      personId: person.personId,
      before: standing(asSeen(person, seen), context.tree),
      after: standing(
        asSeen(shift.people?.afterwards(person) ?? person, (groupId) => seen === null || seen(groupId) || !context.tree.has(groupId)),
        after,
      ),
    })),
    withOwn,
  );
  if (shift.branches && shift.branches.length > 0) {
    const apart = new Set(people.map(({ personId }) => personId));
    const classes = await learnerClasses(db, shift.branches, seen);
    const left = await peopleLeft(
      context,
      classes.flatMap(({ who }) => ('set' in who ? [who.set] : [])),
      apart,
    );
    for (const { who, learner, people: count } of classes) {
      if ('person' in who && apart.has(who.person)) continue;
      const remaining = 'set' in who ? left.get(who.set) : undefined;
      moving.push({
        who: 'person' in who ? { persons: [who.person] } : remaining ? { persons: remaining } : who,
        people: remaining ? remaining.length : count,
        before: standing(learner, context.tree),
        after: standing(learner, after),
      });
    }
  }
  return lookAtShift(courses, moving, today);
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
