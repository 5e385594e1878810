import { type AccountFacts, mayActOnAccount, type Tree } from '@gate-roster/core';
import { sql } from 'drizzle-orm';
import type { SignedIn } from '../accounts/actor.ts';
import { maybeRow, type Queryable } from '../database/connect.ts';
import { notFound } from '../http/problem.ts';

/** Whose account it is: null when there is nobody of that number. */
export async function maybeAccount(db: Queryable, tree: Tree, personId: number): Promise<AccountFacts | null> {
  const row = await maybeRow<{ role: AccountFacts['role']; leads: boolean; groups: number[] }>(
    db,
    sql`
    select p.role, exists (select 1 from leadership l where l.person_id = p.id and l.until_at is null) as leads,
      array(select group_id from membership where person_id = p.id and until_at is null) as groups
    from person p where p.id = ${personId}`,
  );
  return row && { personId, role: row.role, leads: row.leads, paths: row.groups.map((id) => (tree.has(id) ? tree.path(id) : [])) };
}

/** @throws ProblemError `not-found` when the account is not the actor's to act on, or there is none. */
export async function actableAccount(db: Queryable, actor: SignedIn, tree: Tree, personId: number): Promise<AccountFacts> {
  const account = await maybeAccount(db, tree, personId);
  if (!account || !mayActOnAccount(actor, account)) throw notFound();
  return account;
}
