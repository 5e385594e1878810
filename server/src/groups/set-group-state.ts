import { noEffects } from '@gate-roster/core';
import { type Planner, summaryOf } from '../changes/plan.ts';
import { accessOfShift } from '../changes/shift.ts';
import { versionRows } from './move-groups.ts';
import { shapableFrom } from './shape.ts';

/** Archives groups, so that they and what is below give nothing and count nobody; or takes them out of the archive. */
export const planSetGroupState: Planner<'set-group-state'> = async (context, change) => {
  const { tree } = context;
  const turning = [...new Set(change.groupIds)].filter((id) => shapableFrom(context, id).state !== change.state);
  const after = tree.with(new Map(turning.map((id) => [id, { ...tree.node(id), state: change.state }])));
  const effects = { ...noEffects(), ...(await accessOfShift(context, { tree: after, branches: turning })) };
  if (turning.length === 0) effects.conflicts.push({ code: 'nothing to do', blocks: true, count: 1 });
  return {
    effects,
    groups: turning,
    summary: summaryOf({ groups: turning, counts: { groups: turning.length }, fields: [change.state] }),
    async write(tx, writer) {
      const standing = await versionRows(tx, turning);
      await writer.replace(
        'group',
        standing.map(({ row_id }) => ({ rowId: row_id, values: { state: change.state } })),
      );
      return { branches: turning };
    },
  };
};
