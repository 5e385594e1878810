import { may, noEffects, tidyName } from '@gate-roster/core';
import { and, eq, isNull, sql } from 'drizzle-orm';
import { type Planner, summaryOf } from '../changes/plan.ts';
import { firstOf, ids, type Queryable, rows } from '../database/connect.ts';
import * as tables from '../database/schema.ts';
import { isOwnPicture } from '../groups/uploads.ts';
import { notFound } from '../http/problem.ts';

/** Who a branch's letters come from by name, and the picture over them. */
export interface LetterLook {
  senderName: string | null;
  logoId: number | null;
}

/** The look that counts for each group: of the nearest group, from itself up, that has one. */
export async function looksFor(db: Queryable, groupIds: readonly number[]): Promise<Map<number, LetterLook & { fromId: number }>> {
  const found = await rows<LetterLook & { groupId: number; fromId: number }>(
    db,
    sql`
    select distinct on (b.group_id) b.group_id as "groupId", l.sender_name as "senderName", l.logo_id as "logoId", l.group_id as "fromId"
    from group_branch b join letter_look l on l.group_id = b.ancestor_id and l.until_at is null where b.group_id = any(${ids(groupIds)}) order by b.group_id, b.depth`,
  );
  return new Map(found.map(({ groupId, ...look }) => [groupId, look]));
}

/** Gives the letters of a branch a sender's name and a logo of their own, or takes them back. */
export const planSetLetterLook: Planner<'set-letter-look'> = async ({ db, actor, tree }, { groupId, look }) => {
  if (!tree.has(groupId) || !may(actor, 'writeMessages', { path: tree.path(groupId) })) throw notFound();
  const standing = await firstOf(
    db
      .select({ rowId: tables.letterLook.rowId, senderName: tables.letterLook.senderName, logoId: tables.letterLook.logoId })
      .from(tables.letterLook)
      .where(and(eq(tables.letterLook.groupId, groupId), isNull(tables.letterLook.untilAt))),
  );
  const wished = look && { senderName: look.senderName === null ? null : tidyName(look.senderName), logoId: look.logoId };
  const effects = noEffects();
  const isSame = wished === null ? standing === null : standing?.senderName === wished.senderName && standing.logoId === wished.logoId;
  if (isSame) effects.conflicts.push({ code: 'nothing to do', blocks: true, count: 1 });
  const { logoId = null } = wished ?? {};
  if (logoId !== null && logoId !== standing?.logoId && !(await isOwnPicture(db, actor.personId, logoId)))
    effects.conflicts.push({ code: 'not a picture', blocks: true, count: 1 });
  return {
    effects,
    groups: [groupId],
    summary: summaryOf({ groups: [groupId], counts: { own: wished ? 1 : 0 } }),
    async write(_tx, writer) {
      const values = wished && { sender_name: wished.senderName, logo_id: wished.logoId };
      if (standing && values) await writer.replace('letter look', [{ rowId: standing.rowId, values }]);
      else if (standing) await writer.end('letter look', [standing.rowId]);
      else if (values) await writer.begin('letter look', [{ group_id: groupId, ...values }]);
      return { entry: true };
    },
  };
};
