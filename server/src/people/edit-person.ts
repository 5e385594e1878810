import type { PersonValues, Some } from '@gate-roster/contract';
import { emailProblem, noEffects, signInNameProblem, speakingBranch } from '@gate-roster/core';
import { and, eq, ne, sql } from 'drizzle-orm';
import { type PlanContext, type Planner, summaryOf } from '../changes/plan.ts';
import { firstOf, maybeRow, oneRow } from '../database/connect.ts';
import * as tables from '../database/schema.ts';
import { dropAddress } from '../accounts/one-time.ts';
import { actableAccount } from './account.ts';

const columnOf = {
  givenName: 'given_name',
  familyName: 'family_name',
  email: 'email',
  signInName: 'sign_in_name',
  idNumber: 'id_number',
  nameHidden: 'name_hidden',
} as const satisfies Record<keyof PersonValues, string>;

/** Changes what is known of a person. A leader may only where the account lies wholly in their branches. */
export const planEditPerson: Planner<'edit-person'> = async (context, { personId, values }) => {
  const { db, actor, tree } = context;
  const account = await actableAccount(db, actor, tree, personId);
  const current = await oneRow<Record<string, unknown> & { row_id: number; id_issuer: number | null }>(
    db,
    sql`select * from personal_now where person_id = ${personId}`,
  );
  const columns = tidied(values);
  if (columns['id_number'] !== undefined) {
    const path = account.paths[0] ?? [];
    const root = [...tree.nodes()].find(({ parentId }) => parentId === null)?.id;
    columns['id_issuer'] =
      columns['id_number'] === null ? null : (current.id_issuer ?? speakingBranch(actor, 'managePeople', { path }) ?? root);
  }
  // An administrator vouches for the address; one that a leader gives is confirmed by its owner.
  if (columns['email'] !== undefined && columns['email'] !== current['email']) {
    columns['confirmed_email'] = actor.role === 'administrator' ? columns['email'] : null;
    columns['address_failed'] = columns['email'] === null;
  }
  const changed = Object.fromEntries(Object.entries(columns).filter(([column, value]) => value !== current[column]));
  const effects = noEffects();
  effects.conflicts = await conflicts(context, personId, values, changed, columns['id_issuer']);
  if (Object.keys(changed).length === 0) effects.conflicts.push({ code: 'nothing to do', blocks: true, count: 1 });
  effects.changedPeople = [personId];
  const groups = account.paths.flatMap((path) => path.at(-1) ?? []);
  return {
    effects,
    groups,
    summary: summaryOf({
      groups: groups.slice(0, 1),
      people: [personId],
      fields: (Object.keys(values) as (keyof PersonValues)[]).filter((field) => columnOf[field] in changed),
    }),
    async write(tx, writer) {
      await writer.replace('personal', [{ rowId: current.row_id, values: changed }]);
      if ('email' in changed) await dropAddress(tx, [personId]);
      return {};
    },
  };
};

function tidied(values: Some<PersonValues>): Record<string, unknown> {
  return Object.fromEntries(
    (Object.entries(values) as [keyof PersonValues, string | boolean | null | undefined][]).flatMap(([field, value]) => {
      if (value === undefined) return [];
      const text = typeof value === 'string' ? value.trim() : value;
      return [[columnOf[field], text === '' && field !== 'givenName' && field !== 'familyName' ? null : text]];
    }),
  );
}

async function conflicts(
  { db }: PlanContext,
  personId: number,
  values: Some<PersonValues>,
  changed: Record<string, unknown>,
  issuer: unknown,
) {
  const found: ReturnType<typeof noEffects>['conflicts'] = [];
  if (values.givenName?.trim() === '' && values.familyName?.trim() === '') found.push({ code: 'name missing', blocks: true, count: 1 });
  if (values.email && emailProblem(values.email)) found.push({ code: 'needs an address', blocks: true, count: 1 });
  const taken = (column: 'confirmed_email' | 'sign_in_name') =>
    changed[column] == null
      ? null
      : maybeRow<{ id: number }>(
          db,
          sql`select person_id as id from personal_now where ${sql.identifier(column)} = ${changed[column] as string} and person_id <> ${personId}`,
        );
  const wrongName = typeof changed['sign_in_name'] === 'string' ? signInNameProblem(changed['sign_in_name']) : null;
  if (wrongName) found.push({ code: `sign-in name ${wrongName}`, blocks: true, count: 1 });
  // Only an administrator vouches, and so learns whose it is.
  const holder = await taken('confirmed_email');
  if (holder) found.push({ code: 'address taken', blocks: true, count: 1, people: [holder.id] });
  if (await taken('sign_in_name')) found.push({ code: 'sign-in name taken', blocks: true, count: 1 });
  if (changed['id_number'] != null) {
    const other = await firstOf(
      db
        .select({ rowId: tables.personalNow.rowId })
        .from(tables.personalNow)
        .where(
          and(
            eq(tables.personalNow.idIssuer, issuer as number),
            eq(tables.personalNow.idNumber, changed['id_number'] as string),
            ne(tables.personalNow.personId, personId),
          ),
        ),
    );
    if (other) found.push({ code: 'id number taken', blocks: true, count: 1 });
  }
  return found;
}
