import { may, noEffects } from '@gate-roster/core';
import { sql } from 'drizzle-orm';
import { type Planner, summaryOf } from '../changes/plan.ts';
import { maybeRow } from '../database/connect.ts';
import { notFound } from '../http/problem.ts';

/** Says what the members of a branch are told of what happens there. */
export const planShowMembers: Planner<'show-members'> = async ({ db, actor, tree }, { groupId, kinds }) => {
  if (!tree.has(groupId) || !may(actor, 'writeMessages', { path: tree.path(groupId) })) throw notFound();
  const kept = await maybeRow<{ row_id: number; kinds: string[] }>(
    db,
    sql`select row_id, to_jsonb(kinds) as kinds from member_stream where group_id = ${groupId} and until_at is null`,
  );
  const effects = noEffects();
  const wanted = kinds === null ? null : [...new Set(kinds)].sort();
  if (JSON.stringify(kept?.kinds ?? null) === JSON.stringify(wanted))
    effects.conflicts.push({ code: 'nothing to do', blocks: true, count: 1 });
  const values = wanted && { group_id: groupId, kinds: wanted, made_by: actor.personId };
  return {
    effects,
    groups: [groupId],
    summary: summaryOf({ groups: [groupId], counts: { kinds: wanted?.length ?? 0 } }),
    async write(_, writer) {
      if (kept && values) await writer.replace('member stream', [{ rowId: kept.row_id, values }]);
      else if (kept) await writer.end('member stream', [kept.row_id]);
      else if (values) await writer.begin('member stream', [values]);
      return { messages: true };
    },
  };
};
