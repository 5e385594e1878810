import { contains, type GroupEffect, lookAtMoves, type MovingLearner, noEffects, type Who } from '@gate-roster/core';
import { sql } from 'drizzle-orm';
import { asSeen, grantsByCourse, learners, type PersonLearner, rulesOf } from '../access/load-rules.ts';
import { ids, rows } from '../database/connect.ts';
import { pathTo } from '../groups/queries.ts';
import { notFound } from '../http/problem.ts';
import type { Plan, PlanContext, Planner } from './plan.ts';

/** Puts people whom the actor may see into a group. Adding never takes anything away. */
export const planAddMembers: Planner<'add-members'> = async (context, change) => {
  await pathTo(context.db, context.actor, change.groupId, 'managePeople');
  const people = await visiblePeople(context, change.personIds);
  const joining = people.filter((person) => !isIn(person, change.groupId));
  const span = { groupId: change.groupId, firstDay: change.firstDay, lastDay: change.lastDay };
  const plan = await movePlan(context, joining, (person) => ({ ...person, memberships: [...person.memberships, span] }));
  plan.effects.joins = effectOn(change.groupId, joining);
  const already = people.length - joining.length;
  if (already > 0) plan.effects.conflicts.push({ code: 'already in', blocks: joining.length === 0, count: already });
  return {
    ...plan,
    groups: [change.groupId],
    summary: {
      groups: [change.groupId],
      courses: [],
      people: joining.slice(0, 3).map(({ personId }) => personId),
      counts: { people: joining.length },
    },
    async write(_tx, writer) {
      await writer.beginMemberships(
        joining.map(({ personId }) => ({ personId, ...span })),
        'hand',
      );
      return { people: joining.map(({ personId }) => personId), courses: [], tree: false };
    },
  };
};

/** Takes people out of a group. They stay on the platform. */
export const planRemoveMembers: Planner<'remove-members'> = async (context, change) => {
  await pathTo(context.db, context.actor, change.groupId, 'managePeople');
  const people = await visiblePeople(context, change.personIds);
  const leaving = people.filter((person) => isIn(person, change.groupId));
  const plan = await movePlan(context, leaving, (person) => ({
    ...person,
    memberships: person.memberships.filter(({ groupId }) => groupId !== change.groupId),
  }));
  plan.effects.leaves = effectOn(change.groupId, leaving);
  const missing = people.length - leaving.length;
  if (missing > 0) plan.effects.conflicts.push({ code: 'not in', blocks: leaving.length === 0, count: missing });
  return {
    ...plan,
    groups: [change.groupId],
    summary: {
      groups: [change.groupId],
      courses: [],
      people: leaving.slice(0, 3).map(({ personId }) => personId),
      counts: { people: leaving.length },
    },
    async write(tx, writer) {
      const standing = await rows<{ row_id: number }>(
        tx,
        sql`
        select row_id from membership where group_id = ${change.groupId} and person_id = any(${ids(leaving.map(({ personId }) => personId))}) and until_at is null`,
      );
      await writer.end(
        'membership',
        standing.map(({ row_id }) => row_id),
      );
      return { people: leaving.map(({ personId }) => personId), courses: [], tree: false };
    },
  };
};

/** The access side of people moving; what it writes is the caller's. */
export async function movePlan(
  context: PlanContext,
  people: readonly PersonLearner[],
  afterwards: (person: PersonLearner) => PersonLearner,
): Promise<Pick<Plan, 'effects'>> {
  const rules = rulesOf(context.tree, await grantsByCourse(context.db, null));
  const moving: MovingLearner[] = people.map((person) => ({
    who: { person: person.personId },
    people: 1,
    before: asSeen(person, context.seen),
    after: asSeen(afterwards(person), context.seen),
  }));
  return { effects: { ...noEffects(), ...lookAtMoves(rules, moving, context.today) } };
}

export const isIn = (person: PersonLearner, groupId: number): boolean => person.memberships.some((held) => held.groupId === groupId);

export function effectOn(groupId: number, people: readonly PersonLearner[]): GroupEffect[] {
  const who: Who = { sets: [], persons: people.map(({ personId }) => personId), newcomers: [] };
  return people.length === 0 ? [] : [{ groupId, who, people: people.length }];
}

/** @throws ProblemError `not-found` when one of them is unknown, or lies outside the actor's branches. */
async function visiblePeople(context: PlanContext, personIds: readonly number[]): Promise<PersonLearner[]> {
  const wanted = new Set(personIds);
  const people = await learners(context.db, [...wanted]);
  const seen = context.seen;
  const visible = people.filter((person) => seen === null || person.memberships.some(({ groupId }) => seen(groupId)));
  if (visible.length < wanted.size) throw notFound();
  return visible.map((person) => ({
    ...person,
    memberships: person.memberships.filter((held) => held.lastDay === null || contains({ ...held, firstDay: null }, context.today)),
  }));
}
