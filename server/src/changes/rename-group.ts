import { longestGroupName, nameKey, noEffects, tidyName } from '@gate-roster/core';
import { sql } from 'drizzle-orm';
import { maybeRow, oneRow } from '../database/connect.ts';
import { pathTo } from '../groups/queries.ts';
import type { Planner } from './plan.ts';

export const planRenameGroup: Planner<'rename-group'> = async (context, change) => {
  const { db } = context;
  await pathTo(db, context.actor, change.groupId, 'shapeGroups');
  const name = tidyName(change.name);
  const effects = noEffects();
  const current = await oneRow<{ row_id: number; parent_id: number | null; name: string }>(
    db,
    sql`select row_id, parent_id, name from group_now where id = ${change.groupId}`,
  );
  if (name === '') effects.conflicts.push({ code: 'name empty', blocks: true, count: 1 });
  else if (name.length > longestGroupName) effects.conflicts.push({ code: 'name too long', blocks: true, count: 1 });
  else if (name === current.name) effects.conflicts.push({ code: 'nothing to do', blocks: true, count: 1 });
  const taken = await maybeRow<{ id: number }>(
    db,
    sql`
    select group_id as id from group_version where until_at is null and parent_id = ${current.parent_id} and name_key = ${nameKey(name)} and group_id <> ${change.groupId}`,
  );
  if (taken) effects.conflicts.push({ code: 'name taken', blocks: true, count: 1 });
  return {
    effects,
    groups: [change.groupId],
    summary: { groups: [change.groupId], courses: [], people: [], counts: {}, names: { before: current.name, after: name } },
    async write(tx, writer) {
      await writer.end('group', [current.row_id], false);
      const row = await oneRow<{ row_id: number }>(
        tx,
        sql`
        insert into group_version (group_id, parent_id, name, name_key, state, first_day, last_day)
        select group_id, parent_id, ${name}, ${nameKey(name)}, state, first_day, last_day from group_version where row_id = ${current.row_id} returning row_id`,
      );
      writer.note('group', { before_row: current.row_id, after_row: row.row_id, group_id: change.groupId });
      return { people: [], courses: [], tree: true };
    },
  };
};
