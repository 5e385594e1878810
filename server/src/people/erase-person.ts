import { noEffects } from '@gate-roster/core';
import { and, eq, isNull, sql } from 'drizzle-orm';
import { type Planner, summaryOf } from '../changes/plan.ts';
import { accessOfShift } from '../changes/shift.ts';
import type { RowKind } from '../changes/kept-rows.ts';
import { oneRow, rows } from '../database/connect.ts';
import * as tables from '../database/schema.ts';
import { dropFilesWith } from '../entry/roster-files.ts';
import { eraseWork } from '../work/erase-work.ts';
import { actableAccount } from './account.ts';
import { eraseColumns } from './join-columns.ts';

/**
 * Empties what is known of a person, for good: names, addresses, numbers, letters, sign-ins. Their groups end.
 * Counts, seats and the log keep a number without a name. This cannot be undone.
 */
export const planErasePerson: Planner<'erase-person'> = async (context, { personId }) => {
  const { db, actor, tree } = context;
  const account = await actableAccount(db, actor, tree, personId);
  const groups = account.paths.flatMap((path) => path.at(-1) ?? []);
  const effects = noEffects();
  Object.assign(
    effects,
    await accessOfShift(context, {
      people: { personIds: [personId], afterwards: (person) => ({ ...person, memberships: [], active: false }) },
    }),
  );
  effects.leaves = groups.map((groupId) => ({ groupId, who: { sets: [], persons: [personId], newcomers: [] }, people: 1 }));
  effects.changedPeople = [personId];
  if (personId === actor.personId) effects.conflicts.push({ code: 'own account', blocks: true, count: 1 });
  return {
    effects,
    groups,
    summary: summaryOf({ groups: groups.slice(0, 1), people: [personId], counts: { people: 1 } }),
    async write(tx, writer) {
      for (const [kind, table] of Object.entries(ending) as [RowKind, string][]) {
        const standing = await rows<{ row_id: number }>(
          tx,
          sql`select row_id from ${sql.identifier(table)} where person_id = ${personId} and until_at is null`,
        );
        await writer.end(
          kind,
          standing.map(({ row_id }) => row_id),
        );
      }
      const [state] = await tx
        .select({ row_id: tables.personState.rowId })
        .from(tables.personState)
        .where(and(eq(tables.personState.personId, personId), isNull(tables.personState.untilAt)));
      if (state) await writer.replace('person state', [{ rowId: state.row_id, values: { state: 'ended' } }]);
      const known = await oneRow<{ name: string; email: string | null; sign_in_name: string | null; id_number: string | null }>(
        tx,
        sql`select given_name || ' ' || family_name as name, email, sign_in_name, id_number from personal_now where person_id = ${personId}`,
      );
      await dropFilesWith(tx, [known.email ?? '', known.sign_in_name ?? '', known.id_number ?? '']);
      const addresses = sql`select email from personal where person_id = ${personId} and email is not null`;
      await tx.execute(sql`delete from letter where address in (${addresses})`);
      await tx.execute(sql`delete from received_mail where recipient in (${addresses})`);
      // Files may name the person, and so may what was asked of them; they can be made again.
      await tx.delete(tables.job).where(eq(tables.job.kind, 'make-file'));
      await tx.execute(sql`delete from invitation where email in (${addresses})`);
      await tx.execute(sql`delete from confirm_link where email in (${addresses})`);
      await tx.execute(
        sql`delete from address_bounce where address in (${addresses} union select guardian_email from personal where person_id = ${personId} and guardian_email is not null)`,
      );
      await tx
        .update(tables.personal)
        .set({
          givenName: '',
          familyName: '',
          email: null,
          signInName: null,
          idNumber: null,
          idIssuer: null,
          guardianEmail: null,
          confirmedEmail: null,
          nameHidden: true,
        })
        .where(eq(tables.personal.personId, personId));
      await tx.update(tables.courseException).set({ reason: null, proof: null }).where(eq(tables.courseException.personId, personId));
      await tx.update(tables.enrolment).set({ exemptReason: null, elsewhereReason: null }).where(eq(tables.enrolment.personId, personId));
      await tx.execute(sql`update join_request set answers = '{}', word = null where person_id = ${personId}`);
      await tx.update(tables.courseRequest).set({ asking: null, word: null }).where(eq(tables.courseRequest.personId, personId));
      await tx.update(tables.messageAnswer).set({ words: '' }).where(eq(tables.messageAnswer.personId, personId));
      await tx.update(tables.messageReader).set({ ownWords: null }).where(eq(tables.messageReader.personId, personId));
      await eraseWork(tx, personId);
      await tx.execute(
        sql`update shared_view set withdrawn_at = coalesce(withdrawn_at, now()), title = '', shown = '{}', says = '[]', frozen = null, frozen_day = null where made_by = ${personId}`,
      );
      await tx.execute(sql`update paid_entry set answers = '[]', id_number = null where person_id = ${personId}`);
      await tx.update(tables.seatOrder).set({ asking: null }).where(eq(tables.seatOrder.orderedBy, personId));
      await tx.update(tables.orderStep).set({ word: null }).where(eq(tables.orderStep.byId, personId));
      await tx.execute(sql`update join_code_use set answers = '[]' where person_id = ${personId}`);
      await tx.update(tables.grant).set({ note: null }).where(eq(tables.grant.personId, personId));
      await eraseColumns(tx, personId);
      await tx.execute(sql`delete from session where sess ->> 'personId' = ${String(personId)}`);
      await tx
        .update(tables.person)
        .set({ erasedAt: sql`now()` })
        .where(eq(tables.person.id, personId));
      return { people: [personId], sessions: [personId] };
    },
  };
};

const ending = { membership: 'membership', 'person tag': 'person_tag', leadership: 'leadership' };
