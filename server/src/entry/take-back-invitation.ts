import { may, noEffects } from '@gate-roster/core';
import { sql } from 'drizzle-orm';
import { type Planner, summaryOf } from '../changes/plan.ts';
import { maybeRow } from '../database/connect.ts';
import { notFound } from '../http/problem.ts';

/** An invitation that nobody has followed yet is worth nothing afterwards. */
export const planTakeBackInvitation: Planner<'take-back-invitation'> = async ({ db, actor, tree }, { invitationId }) => {
  const invitation = await maybeRow<{ group_id: number; powers: string[] | null }>(
    db,
    sql`select group_id, powers from invitation where row_id = ${invitationId} and until_at is null`,
  );
  const power = invitation?.powers ? 'appointLeaders' : 'managePeople';
  if (!invitation || !tree.has(invitation.group_id) || !may(actor, power, { path: tree.path(invitation.group_id) })) throw notFound();
  return {
    effects: noEffects(),
    groups: [invitation.group_id],
    summary: summaryOf({ groups: [invitation.group_id] }),
    async write(_tx, writer) {
      await writer.end('invitation', [invitationId]);
      return {};
    },
  };
};
