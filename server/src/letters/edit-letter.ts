import { type Conflict, letterProblems, may, noEffects } from '@gate-roster/core';
import { and, eq, isNull } from 'drizzle-orm';
import { type Planner, summaryOf } from '../changes/plan.ts';
import { firstOf } from '../database/connect.ts';
import * as tables from '../database/schema.ts';
import { notFound } from '../http/problem.ts';

const codes: Record<ReturnType<typeof letterProblems>[number]['code'], Conflict['code']> = {
  'no link': 'letter lacks link',
  'unknown field': 'letter unknown field',
  empty: 'letter empty',
};

/** Gives a branch its own text for a kind of letter, or takes it back. */
export const planEditLetter: Planner<'edit-letter'> = async ({ db, actor, tree }, { groupId, letter, text }) => {
  if (!tree.has(groupId) || !may(actor, 'writeMessages', { path: tree.path(groupId) })) throw notFound();
  const effects = noEffects();
  const standing = await firstOf(
    db
      .select({ row_id: tables.letterTemplate.rowId, subject: tables.letterTemplate.subject, body: tables.letterTemplate.body })
      .from(tables.letterTemplate)
      .where(
        and(eq(tables.letterTemplate.groupId, groupId), eq(tables.letterTemplate.kind, letter), isNull(tables.letterTemplate.untilAt)),
      ),
  );
  if (text) effects.conflicts = letterProblems(letter, text).map(({ code }) => ({ code: codes[code], blocks: true, count: 1 }));
  const isSame = text === null ? standing === null : standing?.subject === text.subject && standing.body === text.body;
  if (isSame) effects.conflicts.push({ code: 'nothing to do', blocks: true, count: 1 });
  return {
    effects,
    groups: [groupId],
    summary: summaryOf({ groups: [groupId], fields: [letter], counts: { own: text ? 1 : 0 } }),
    async write(_tx, writer) {
      if (standing && text) await writer.replace('letter text', [{ rowId: standing.row_id, values: { ...text } }]);
      else if (standing) await writer.end('letter text', [standing.row_id]);
      else if (text) await writer.begin('letter text', [{ group_id: groupId, kind: letter, ...text }]);
      return { entry: true };
    },
  };
};
