import { addTo, type Conflict, contains, type GroupId, isBlocked, may, nameKey, noEffects, type Power, tidyName } from '@gate-roster/core';
import { and, isNull } from 'drizzle-orm';
import { grantColumns } from '../access/grant-rows.ts';
import { learners } from '../access/load-rules.ts';
import { type Appointed, appoint } from '../accounts/set-leaders.ts';
import { type PlanContext, type Planner, summaryOf } from '../changes/plan.ts';
import { accessOfShift } from '../changes/shift.ts';
import { isAmong } from '../database/connect.ts';
import * as tables from '../database/schema.ts';
import { mayShapeIn, nameConflicts } from '../groups/shape.ts';
import { notFound } from '../http/problem.ts';
import { effectOn } from '../people/members.ts';
import {
  copiedGrants,
  copiedGroups,
  copiedLeaders,
  copiedLimits,
  copySettings,
  makeCodes,
  makeGroups,
  type MakeNext,
} from './copy-branch.ts';

/** Makes the next period of a branch: its shape, courses, leaders, codes and limits again, and its people moved up by a table. */
export const planMakeNextPeriod: Planner<'make-next-period'> = async (context, change) => {
  const { actor, tree, today } = context;
  const { groupId, parentId } = change;
  mayShapeIn(context, parentId);
  mayShapeIn(context, groupId);
  const [from, to] = [tree.path(groupId), tree.path(parentId)];
  if (!powersOf(change).every((power) => may(actor, power, { path: to })) || !may(actor, 'managePeople', { path: from })) throw notFound();
  const branch = tree.branch(groupId);
  if (branch.includes(parentId)) throw notFound();
  const copies = copiedGroups(context, change, branch);
  const copyOf = new Map(copies.map(({ like, node }) => [like, node.id]));
  const after = tree.with(new Map(copies.map(({ node }) => [node.id, node])));
  const [grants, foreign] = change.copies.courses ? await copiedGrants(context, change, branch, copyOf) : [[], 0];
  const mayWrite = may(actor, 'writeMessages', { path: tree.path(parentId) });
  const limits = change.copies.limits ? await copiedLimits(context, branch, copyOf, after) : [];
  const members = await membersOf(context, branch);
  const moves = movesOf(change, members, copyOf, today);

  const effects = noEffects();
  effects.conflicts = [
    ...nameConflicts(change.name),
    ...(tree.children(parentId).some(({ name }) => nameKey(name) === nameKey(change.name))
      ? [{ code: 'name taken' as const, blocks: true, count: 1 }]
      : []),
    ...tableConflicts(change, branch, copyOf),
    ...(foreign > 0 ? [{ code: 'course by leader' as const, blocks: false, count: foreign }] : []),
  ];
  effects.newGroups = copies.map(({ node }) => ({ id: node.id, name: node.name }));
  if (!isBlocked(effects)) {
    const entering = new Map<number, GroupId[]>();
    for (const { personId, groupId: target } of moves.enter) addTo(entering, personId, target);
    const concerned = [...new Set(members.map(({ personId }) => personId))];
    Object.assign(
      effects,
      await accessOfShift(context, {
        tree: after,
        grants: { end: [], begin: grants },
        people: {
          personIds: concerned,
          afterwards: (person) => ({
            ...person,
            memberships: [
              ...person.memberships.filter((held) => !branch.includes(held.groupId)),
              ...(entering.get(person.personId) ?? []).map((target) => ({ groupId: target, firstDay: null, lastDay: null })),
            ],
          }),
        },
        seats: limits.length > 0 ? { limits: (all) => [...all, ...limits] } : undefined,
      }),
    );
  }
  effects.groups.made = copies.length;
  const byGroup = (list: readonly { personId: number; groupId: GroupId }[]) => {
    const found = new Map<GroupId, { personId: number }[]>();
    for (const { personId, groupId: at } of list) addTo(found, at, { personId });
    return [...found].flatMap(([at, people]) => effectOn(at, people));
  };
  effects.leaves = byGroup(members);
  effects.joins = byGroup(moves.enter);
  return {
    effects,
    groups: [...branch, parentId],
    summary: summaryOf({
      groups: [groupId],
      names: { before: tree.node(groupId).name, after: tidyName(change.name) },
      counts: { groups: copies.length, people: new Set(moves.enter.map(({ personId }) => personId)).size, left: moves.nowhere },
    }),
    async write(tx, writer) {
      const made = await makeGroups(tx, writer, copies, parentId);
      const idOf = (copy: GroupId): GroupId => made.get(copy) ?? copy;
      await writer.begin(
        'grant',
        grants.map(({ grant }) =>
          grantColumns({ ...grant, at: 'group' in grant.at ? { ...grant.at, group: idOf(grant.at.group) } : grant.at }, actor.personId),
        ),
      );
      await writer.begin(
        'seat limit',
        limits.map((limit) => ({ licence_id: limit.licenceId, group_id: idOf(limit.groupId), most: limit.most })),
      );
      if (mayWrite) await copySettings(tx, writer, actor.personId, branch, (like) => idOf(copyOf.get(like) ?? like));
      if (change.copies.codes) await makeCodes(tx, writer, context, change, branch, (like) => idOf(copyOf.get(like) ?? like));
      const led = change.copies.leaders ? await copiedLeaders(context, change, branch) : new Map<GroupId, Appointed[]>();
      const touched = await appoint(
        tx,
        writer,
        context,
        [...led].map(([like, leaders]) => ({ groupId: idOf(copyOf.get(like) ?? like), leaders })),
      );
      await writer.end(
        'membership',
        members.map(({ rowId }) => rowId),
      );
      await writer.beginMemberships(
        moves.enter.map(({ personId, groupId: target }) => ({ personId, groupId: idOf(target), firstDay: null, lastDay: null })),
        'hand',
      );
      return {
        ...touched,
        placed: [...made.values()],
        people: [...new Set(members.map(({ personId }) => personId))],
        seats: limits.length > 0,
        entry: change.copies.codes,
      };
    },
  };
};

function powersOf({ copies }: MakeNext): Power[] {
  return [
    'shapeGroups',
    'managePeople',
    ...(copies.courses ? (['openCourses'] as const) : []),
    ...(copies.leaders ? (['appointLeaders'] as const) : []),
    ...(copies.limits ? (['handOutSeats'] as const) : []),
  ];
}

interface Member {
  rowId: number;
  personId: number;
  groupId: GroupId;
  lastDay: string | null;
}

const membersOf = async ({ db }: PlanContext, branch: readonly GroupId[]): Promise<Member[]> => {
  const members = await db
    .select({
      rowId: tables.membership.rowId,
      personId: tables.membership.personId,
      groupId: tables.membership.groupId,
      lastDay: tables.membership.lastDay,
    })
    .from(tables.membership)
    .where(and(isNull(tables.membership.untilAt), isAmong(tables.membership.groupId, branch)))
    .orderBy(tables.membership.personId, tables.membership.rowId);
  const known = new Set((await learners(db, [...new Set(members.map(({ personId }) => personId))])).map(({ personId }) => personId));
  return members.filter(({ personId }) => known.has(personId));
};

/** Who comes into which copy, once each; a membership whose last day is past goes nowhere. */
function movesOf(
  { moves }: MakeNext,
  members: readonly Member[],
  copyOf: ReadonlyMap<GroupId, GroupId>,
  today: string,
): { enter: { personId: number; groupId: GroupId }[]; nowhere: number } {
  const target = new Map(moves.map(({ fromId, toCopyOf }) => [fromId, toCopyOf === null ? null : (copyOf.get(toCopyOf) ?? null)]));
  const enter = new Map<string, { personId: number; groupId: GroupId }>();
  for (const { personId, groupId, lastDay } of members) {
    const into = target.get(groupId) ?? null;
    if (into !== null && contains({ firstDay: null, lastDay }, today)) enter.set(`${personId}/${into}`, { personId, groupId: into });
  }
  const moving = new Set([...enter.values()].map(({ personId }) => personId));
  return { enter: [...enter.values()], nowhere: new Set(members.flatMap(({ personId }) => (moving.has(personId) ? [] : [personId]))).size };
}

/** Every group of the branch stands in the table exactly once, and its people go to a copy or leave. */
function tableConflicts({ moves }: MakeNext, branch: readonly GroupId[], copyOf: ReadonlyMap<GroupId, GroupId>): Conflict[] {
  const rowsOf = (id: GroupId): number => moves.filter(({ fromId }) => fromId === id).length;
  const missing = branch.filter((id) => rowsOf(id) === 0);
  const wrong = [
    ...branch.filter((id) => rowsOf(id) > 1),
    ...moves.flatMap(({ fromId, toCopyOf }) => (!copyOf.has(fromId) || (toCopyOf !== null && !copyOf.has(toCopyOf)) ? [fromId] : [])),
  ];
  return [
    ...(missing.length > 0 ? [{ code: 'row missing' as const, blocks: true, count: missing.length, groups: missing }] : []),
    ...(wrong.length > 0 ? [{ code: 'row wrong' as const, blocks: true, count: wrong.length, groups: wrong }] : []),
  ];
}
