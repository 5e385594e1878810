import { type AccountFacts, mayActOnAccount, type Tree } from '@gate-roster/core';
import { sql } from 'drizzle-orm';
import type { SignedIn } from '../accounts/actor.ts';
import { ids, planFor, type Queryable, rows } from '../database/connect.ts';
import { found, notFound } from '../http/problem.ts';

/** Whose accounts they are, each person's once; numbers of nobody are left out. */
export async function accountsOf(db: Queryable, tree: Tree, personIds: readonly number[]): Promise<AccountFacts[]> {
  const accounts = await rows<{ id: number; role: AccountFacts['role']; leads: boolean; groups: number[] }>(
    db,
    sql`
    select p.id, p.role, exists (select 1 from leadership l where l.person_id = p.id and l.until_at is null) as leads,
      array(select group_id from membership where person_id = p.id and until_at is null) as groups
    from person p where p.id = any(${ids(personIds)})`,
    planFor(personIds.length),
  );
  return accounts.map(({ id, role, leads, groups }) => ({
    personId: id,
    role,
    leads,
    paths: groups.map((group) => (tree.has(group) ? tree.path(group) : [])),
  }));
}

/** Whose account it is: null when there is nobody of that number. */
export const maybeAccount = async (db: Queryable, tree: Tree, personId: number): Promise<AccountFacts | null> =>
  (await accountsOf(db, tree, [personId]))[0] ?? null;

/** @throws ProblemError `not-found` when one of them is not the actor's to act on, or is nobody. */
export async function actableAccounts(db: Queryable, actor: SignedIn, tree: Tree, personIds: readonly number[]): Promise<AccountFacts[]> {
  const accounts = await accountsOf(db, tree, personIds);
  if (accounts.length < new Set(personIds).size || accounts.some((account) => !mayActOnAccount(actor, account))) throw notFound();
  return accounts;
}

/** @throws ProblemError `not-found` when the account is not the actor's to act on, or there is none. */
export async function actableAccount(db: Queryable, actor: SignedIn, tree: Tree, personId: number): Promise<AccountFacts> {
  return found((await actableAccounts(db, actor, tree, [personId]))[0]);
}
