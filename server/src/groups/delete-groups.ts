import { type GroupId, type GroupNode, noEffects, type Tree } from '@gate-roster/core';
import { and, isNull, sql } from 'drizzle-orm';
import { type Planner, summaryOf } from '../changes/plan.ts';
import { accessOfShift } from '../changes/shift.ts';
import type { RowKind } from '../changes/kept-rows.ts';
import { ids, isAmong, type Queryable, rows } from '../database/connect.ts';
import * as tables from '../database/schema.ts';
import { versionRows } from './move-groups.ts';
import { shapableFrom, takenNames, topsOf } from './shape.ts';

/** Takes groups off the tree. People stay on the platform; subgroups move up to what is left above them, or go too. */
export const planDeleteGroups: Planner<'delete-groups'> = async (context, change) => {
  const { tree, db } = context;
  for (const id of change.groupIds) shapableFrom(context, id);
  const tops = topsOf(tree, change.groupIds);
  const gone = new Set(change.subgroups === 'go too' ? tops.flatMap((id) => tree.branch(id)) : change.groupIds);
  const rising = [...gone].flatMap((id) => tree.children(id).filter((child) => !gone.has(child.id)));
  const after = tree.with(
    new Map<GroupId, GroupNode | null>([
      ...[...gone].map((id) => [id, null] as const),
      ...rising.map((node) => [node.id, { ...node, parentId: nearestLeft(tree, node, gone) }] as const),
    ]),
  );

  const effects = { ...noEffects(), ...(await accessOfShift(context, { tree: after, branches: tops })) };
  effects.groups.gone = gone.size;
  effects.groups.moved = rising.length;
  effects.conflicts = takenNames(
    after,
    rising.map(({ id }) => id),
  );
  const leaving = await membersOf(db, [...gone]);
  effects.leaves = [...gone].flatMap((groupId) => {
    const persons = leaving.filter(({ group_id }) => group_id === groupId).map(({ person_id }) => person_id);
    return persons.length > 0 ? [{ groupId, who: { sets: [], persons, newcomers: [] }, people: persons.length }] : [];
  });
  // Only an administrator ends a licence; deleting its home does.
  const licences = await db
    .select({ name: tables.licenceNow.name })
    .from(tables.licenceNow)
    .where(isAmong(tables.licenceNow.groupId, gone))
    .orderBy(sql`${tables.licenceNow.name} collate people_order`);
  if (licences.length > 0)
    effects.conflicts.push({
      code: 'licence goes',
      blocks: context.actor.role !== 'administrator',
      count: licences.length,
      names: licences.map(({ name }) => name),
    });
  const parents = tops.flatMap((id) => tree.node(id).parentId ?? []);
  return {
    effects,
    groups: [...new Set([...gone, ...rising.map(({ id }) => id), ...parents])],
    summary: summaryOf({ groups: tops, counts: { groups: gone.size, people: new Set(leaving.map(({ person_id }) => person_id)).size } }),
    async write(tx, writer) {
      const leaders = await tx
        .selectDistinct({ person_id: tables.leadership.personId })
        .from(tables.leadership)
        .where(and(isNull(tables.leadership.untilAt), isAmong(tables.leadership.groupId, gone)));
      for (const kind of hangsOnGroups) {
        const standing = await rows<{ row_id: number }>(
          tx,
          sql`select row_id from ${sql.identifier(tableOf[kind])} where until_at is null and group_id = any(${ids(gone)})`,
        );
        await writer.end(
          kind,
          standing.map(({ row_id }) => row_id),
        );
      }
      // A branch's own courses stay, with what is left above it.
      const homeless = await tx
        .select({ rowId: tables.courseNow.rowId, home: tables.courseNow.homeId })
        .from(tables.courseNow)
        .where(isAmong(tables.courseNow.homeId, gone));
      await writer.replace(
        'course',
        homeless.map(({ rowId, home }) => ({
          rowId,
          values: { home_id: home === null ? null : nearestLeft(tree, tree.node(home), gone) },
        })),
      );
      const risen = await versionRows(
        tx,
        rising.map(({ id }) => id),
      );
      await writer.end(
        'group',
        (await versionRows(tx, [...gone])).map(({ row_id }) => row_id),
      );
      await writer.replace(
        'group',
        risen.map(({ row_id, group_id }) => ({ rowId: row_id, values: { parent_id: after.node(group_id).parentId } })),
      );
      return {
        people: [...new Set(leaving.map(({ person_id }) => person_id))],
        placed: [...gone, ...rising.map(({ id }) => id)],
        branches: rising.map(({ id }) => id),
        sessions: leaders.map(({ person_id }) => person_id),
      };
    },
  };
};

/** What ends with a group. Its tags and handouts stay with it, out of sight, and come back with it. */
const hangsOnGroups = [
  'membership',
  'leadership',
  'grant',
  'invitation',
  'licence',
  'seat limit',
  'split',
] as const satisfies readonly RowKind[];
const tableOf = {
  membership: 'membership',
  leadership: 'leadership',
  grant: 'access_grant',
  invitation: 'invitation',
  licence: 'licence_version',
  'seat limit': 'seat_limit',
  split: 'split_version',
};

function nearestLeft(tree: Tree, node: GroupNode, gone: ReadonlySet<GroupId>): GroupId | null {
  return tree.path(node.id).findLast((step) => step !== node.id && !gone.has(step)) ?? null;
}

async function membersOf(db: Queryable, groupIds: readonly number[]): Promise<{ person_id: number; group_id: number }[]> {
  return db
    .select({ person_id: tables.membership.personId, group_id: tables.membership.groupId })
    .from(tables.membership)
    .where(and(isNull(tables.membership.untilAt), isAmong(tables.membership.groupId, groupIds)))
    .orderBy(tables.membership.personId);
}
