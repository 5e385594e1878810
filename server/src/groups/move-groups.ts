import { noEffects, type Tree } from '@gate-roster/core';
import { entitlementsAhead, type EntitlementsAhead } from '../access/entitlements.ts';
import { inheritedCourses } from '../access/inherited-courses.ts';
import { type PlanContext, type Planner, summaryOf } from '../changes/plan.ts';
import { accessOfShift } from '../changes/shift.ts';
import { isAmong, type Queryable } from '../database/connect.ts';
import * as tables from '../database/schema.ts';
import { setsInBranches } from './branches.ts';
import { mayShapeIn, shapableFrom, takenNames, topsOf } from './shape.ts';

/** Hangs groups, with all below them, on another one. */
export const planMoveGroups: Planner<'move-groups'> = async (context, change) => {
  const { tree } = context;
  mayShapeIn(context, change.intoId);
  for (const id of change.groupIds) shapableFrom(context, id);
  const tops = topsOf(tree, change.groupIds);
  const inItself = tops.filter((id) => tree.isInBranch(change.intoId, id));
  const moving = tops.filter((id) => !inItself.includes(id) && tree.node(id).parentId !== change.intoId);
  const after = tree.with(new Map(moving.map((id) => [id, { ...tree.node(id), parentId: change.intoId }])));

  const effects = { ...noEffects(), ...(await accessOfShift(context, { tree: after, branches: moving })) };
  effects.groups.moved = moving.reduce((sum, id) => sum + tree.branch(id).length, 0);
  effects.conflicts = takenNames(after, moving);
  if (inItself.length > 0) effects.conflicts.push({ code: 'in itself', blocks: true, count: inItself.length });
  else if (moving.length === 0) effects.conflicts.push({ code: 'same place', blocks: true, count: tops.length });
  const entitlements = context.isAhead ? await windowsAhead(context, after, moving) : undefined;
  const parents = moving.flatMap((id) => tree.node(id).parentId ?? []);
  return {
    effects,
    within: moving,
    groups: [...new Set([...moving, ...parents, change.intoId])],
    summary: summaryOf({
      groups: moving,
      counts: { groups: effects.groups.moved },
      names: { before: '', after: tree.node(change.intoId).name },
    }),
    async write(tx, writer) {
      const standing = await versionRows(tx, moving);
      await writer.replace(
        'group',
        standing.map(({ row_id }) => ({ rowId: row_id, values: { parent_id: change.intoId } })),
      );
      return { placed: moving, branches: moving, isMove: true, entitlements };
    },
  };
};

/** What of access the branches have by the groups above them, there and here: as `recordChange` works it out. */
async function windowsAhead({ db, tree }: PlanContext, after: Tree, moving: readonly number[]): Promise<EntitlementsAhead | undefined> {
  const above = [tree, after].flatMap((each) => moving.flatMap((id) => each.path(id).filter((step) => step !== id)));
  const courses = await inheritedCourses(db, after, [...new Set(above)]);
  return courses === null ? undefined : entitlementsAhead(db, after, await setsInBranches(db, moving), courses);
}

/** The rows in which groups stand today. */
export async function versionRows(db: Queryable, groupIds: readonly number[]): Promise<{ row_id: number; group_id: number }[]> {
  return db
    .select({ row_id: tables.groupNow.rowId, group_id: tables.groupNow.id })
    .from(tables.groupNow)
    .where(isAmong(tables.groupNow.id, groupIds))
    .orderBy(tables.groupNow.id);
}
