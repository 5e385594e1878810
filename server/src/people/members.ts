import { contains, type GroupEffect, noEffects, type Who } from '@gate-roster/core';
import { and, eq, isNull } from 'drizzle-orm';
import { learners, type PersonLearner } from '../access/load-rules.ts';
import { type Plan, type PlanContext, type Planner, summaryOf } from '../changes/plan.ts';
import { accessOfShift, type ShiftEffects } from '../changes/shift.ts';
import { isAmong, type Queryable } from '../database/connect.ts';
import * as tables from '../database/schema.ts';
import { pathTo } from '../groups/queries.ts';
import { notFound } from '../http/problem.ts';

/** Puts people whom the actor may see into a group. Adding never takes anything away. */
export const planAddMembers: Planner<'add-members'> = async (context, change) => {
  await pathTo(context.db, context.actor, change.groupId, 'managePeople');
  const people = await visiblePeople(context, change.personIds);
  const joining = people.filter((person) => !isIn(person, change.groupId));
  const span = { groupId: change.groupId, firstDay: change.firstDay, lastDay: change.lastDay };
  const plan = planOf(await moveEffects(context, joining, { enter: [span], leave: [] }), [change.groupId], joining);
  plan.effects.joins = effectOn(change.groupId, joining);
  const already = people.length - joining.length;
  if (already > 0) plan.effects.conflicts.push({ code: 'already in', blocks: joining.length === 0, count: already });
  return {
    ...plan,
    onlyAdds: true,
    async write(_tx, writer) {
      await writer.beginMemberships(
        joining.map(({ personId }) => ({ personId, ...span })),
        context.isRule ? 'rule' : 'hand',
      );
      return { people: idsOf(joining) };
    },
  };
};

/** Takes people out of a group. They stay on the platform. */
export const planRemoveMembers: Planner<'remove-members'> = async (context, change) => {
  await pathTo(context.db, context.actor, change.groupId, 'managePeople');
  const people = await visiblePeople(context, change.personIds);
  const leaving = people.filter((person) => isIn(person, change.groupId));
  const plan = planOf(await moveEffects(context, leaving, { enter: [], leave: [change.groupId] }), [change.groupId], leaving);
  plan.effects.leaves = effectOn(change.groupId, leaving);
  const missing = people.length - leaving.length;
  if (missing > 0) plan.effects.conflicts.push({ code: 'not in', blocks: leaving.length === 0, count: missing });
  return {
    ...plan,
    ...withinGroupsOf(people),
    async write(tx, writer) {
      await writer.end('membership', await membershipRows(tx, change.groupId, idsOf(leaving)));
      return { people: idsOf(leaving) };
    },
  };
};

/** Leave here, enter there: one act. Who is there already only leaves. */
export const planMoveMembers: Planner<'move-members'> = async (context, change) => {
  for (const groupId of [change.fromId, change.intoId]) await pathTo(context.db, context.actor, groupId, 'managePeople');
  const people = await visiblePeople(context, change.personIds);
  const moving = people.filter((person) => isIn(person, change.fromId));
  const entering = moving.filter((person) => !isIn(person, change.intoId));
  const span = { groupId: change.intoId, firstDay: null, lastDay: null };
  const effects = await moveEffects(context, moving, { enter: [span], leave: [change.fromId] });
  const plan = planOf(effects, [change.fromId, change.intoId], moving);
  plan.effects.leaves = effectOn(change.fromId, moving);
  plan.effects.joins = effectOn(change.intoId, entering);
  const missing = people.length - moving.length;
  if (missing > 0) plan.effects.conflicts.push({ code: 'not in', blocks: moving.length === 0, count: missing });
  if (change.fromId === change.intoId) plan.effects.conflicts.push({ code: 'same place', blocks: true, count: 1 });
  else if (entering.length < moving.length)
    plan.effects.conflicts.push({ code: 'already in', blocks: false, count: moving.length - entering.length });
  return {
    ...plan,
    ...withinGroupsOf(people),
    async write(tx, writer) {
      await writer.end('membership', await membershipRows(tx, change.fromId, idsOf(moving)));
      await writer.beginMemberships(
        entering.map(({ personId }) => ({ personId, ...span })),
        context.isRule ? 'rule' : 'hand',
      );
      return { people: idsOf(moving) };
    },
  };
};

/** What people gain and lose who enter some groups and leave others. */
export async function moveEffects(
  context: PlanContext,
  people: readonly PersonLearner[],
  move: { enter: PersonLearner['memberships']; leave: readonly number[] },
): Promise<ShiftEffects> {
  return accessOfShift(context, {
    people: {
      personIds: idsOf(people),
      afterwards: (person) => ({
        ...person,
        memberships: [
          ...person.memberships.filter(({ groupId }) => !move.leave.includes(groupId)),
          ...move.enter.filter(({ groupId }) => !isIn(person, groupId)),
        ],
      }),
    },
  });
}

function planOf(access: ShiftEffects, groups: number[], people: readonly PersonLearner[]): Omit<Plan, 'write'> {
  return {
    effects: { ...noEffects(), ...access },
    groups,
    summary: summaryOf({ groups, people: idsOf(people).slice(0, 3), counts: { people: people.length } }),
  };
}

/** A plan speaks of all groups of these people; it says nothing when one of them is in none, whom no branch speaks of. */
export const withinGroupsOf = (people: readonly PersonLearner[]): Pick<Plan, 'within'> =>
  people.every(({ memberships }) => memberships.length > 0)
    ? { within: [...new Set(people.flatMap(({ memberships }) => memberships.map(({ groupId }) => groupId)))] }
    : {};

export const idsOf = (people: readonly { personId: number }[]): number[] => people.map(({ personId }) => personId);
export const isIn = (person: PersonLearner, groupId: number): boolean => person.memberships.some((held) => held.groupId === groupId);

export function effectOn(groupId: number, people: readonly { personId: number }[]): GroupEffect[] {
  const who: Who = { sets: [], persons: idsOf(people), newcomers: [] };
  return people.length === 0 ? [] : [{ groupId, who, people: people.length }];
}

export async function membershipRows(db: Queryable, groupId: number, personIds: readonly number[]): Promise<number[]> {
  return (
    await db
      .select({ row_id: tables.membership.rowId })
      .from(tables.membership)
      .where(and(eq(tables.membership.groupId, groupId), isAmong(tables.membership.personId, personIds), isNull(tables.membership.untilAt)))
  ).map(({ row_id }) => row_id);
}

/** @throws ProblemError `not-found` when one of them is unknown, or lies outside the actor's branches. */
export async function visiblePeople(context: PlanContext, personIds: readonly number[]): Promise<PersonLearner[]> {
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
