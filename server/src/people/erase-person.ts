import { noEffects } from '@gate-roster/core';
import { sql } from 'drizzle-orm';
import { type Planner, summaryOf } from '../changes/plan.ts';
import { accessOfShift } from '../changes/shift.ts';
import type { RowKind } from '../changes/kept-rows.ts';
import { oneRow, rows } from '../database/connect.ts';
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
      const [state] = await rows<{ row_id: number }>(
        tx,
        sql`select row_id from person_state where person_id = ${personId} and until_at is null`,
      );
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
      await tx.execute(sql`delete from job where kind = 'make-file'`);
      await tx.execute(sql`delete from invitation where email in (${addresses})`);
      await tx.execute(sql`delete from confirm_link where email in (${addresses})`);
      await tx.execute(
        sql`delete from address_bounce where address in (${addresses} union select guardian_email from personal where person_id = ${personId} and guardian_email is not null)`,
      );
      await tx.execute(sql`
        update personal set given_name = '', family_name = '', email = null, sign_in_name = null, id_number = null, id_issuer = null, guardian_email = null, confirmed_email = null, name_hidden = true where person_id = ${personId}`);
      await tx.execute(sql`update course_exception set reason = null, proof = null where person_id = ${personId}`);
      await tx.execute(sql`update enrolment set exempt_reason = null, elsewhere_reason = null where person_id = ${personId}`);
      await tx.execute(sql`update join_request set answers = '{}', word = null where person_id = ${personId}`);
      await tx.execute(sql`update course_request set asking = null, word = null where person_id = ${personId}`);
      await tx.execute(sql`update message_answer set words = '' where person_id = ${personId}`);
      await tx.execute(sql`update message_reader set own_words = null where person_id = ${personId}`);
      await eraseWork(tx, personId);
      await tx.execute(
        sql`update shared_view set withdrawn_at = coalesce(withdrawn_at, now()), title = '', shown = '{}', says = '[]', frozen = null, frozen_day = null where made_by = ${personId}`,
      );
      await tx.execute(sql`update paid_entry set answers = '[]', id_number = null where person_id = ${personId}`);
      await tx.execute(sql`update seat_order set asking = null where ordered_by = ${personId}`);
      await tx.execute(sql`update order_step set word = null where by_id = ${personId}`);
      await tx.execute(sql`update join_code_use set answers = '[]' where person_id = ${personId}`);
      await tx.execute(sql`update access_grant set note = null where person_id = ${personId}`);
      await eraseColumns(tx, personId);
      await tx.execute(sql`delete from session where sess ->> 'personId' = ${String(personId)}`);
      await tx.execute(sql`update person set erased_at = now() where id = ${personId}`);
      return { people: [personId], sessions: [personId] };
    },
  };
};

const ending = { membership: 'membership', 'person tag': 'person_tag', leadership: 'leadership' };
