import { type GroupId, type KnownPerson, may, mayActOnAccount, type Preset, presets, type Tree } from '@gate-roster/core';
import { sql, type SQL } from 'drizzle-orm';
import type { SignedIn } from '../accounts/actor.ts';
import { seenGroups } from '../accounts/reach.ts';
import { seenTags } from '../people/tags.ts';
import { ids, type Queryable, rows, texts } from '../database/connect.ts';

/** By what rows of a file may mean somebody. */
export interface RosterKeys {
  emails: readonly string[];
  idNumbers: readonly string[];
  signInNames: readonly string[];
}

/**
 * Everybody whom a row might mean, as far as the actor may know, and which of the sign-in names are anybody's at all.
 * An ID number is this issuer's.
 */
export async function knownForRoster(
  db: Queryable,
  actor: SignedIn,
  tree: Tree,
  issuer: GroupId,
  { emails, idNumbers, signInNames }: RosterKeys,
  into: GroupId,
): Promise<{ known: KnownPerson[]; takenSignInNames: string[]; takenIdNumbers: string[] }> {
  const own = await seenGroups(db, actor);
  const found = await rows<Omit<KnownPerson, 'isTheirs' | 'isAdministrator'> & { role: 'administrator' | 'none' }>(
    db,
    // Three look-ups by their own index; one condition over all three would read everybody.
    sql`
    with meant as (
      ${byAddress(emails, own, into)}
      union select n.person_id ${lookUp(idNumbers, sql`n.id_issuer = ${issuer} and n.id_number = x.wanted`)}
      union select n.person_id ${lookUp(signInNames, sql`n.sign_in_name = x.wanted::citext`)}
    )
    select p.id, n.given_name as "givenName", n.family_name as "familyName", n.email, case when n.id_issuer = ${issuer} then n.id_number end as "idNumber",
      n.sign_in_name as "signInName", n.guardian_email as "guardianEmail", n.name_hidden as "nameHidden", p.role,
      coalesce((select jsonb_agg(m.group_id) from membership m where m.person_id = p.id and m.until_at is null), '[]') as groups,
      coalesce((select jsonb_agg(l.group_id) from leadership l where l.person_id = p.id and l.until_at is null), '[]') as leads,
      coalesce((select jsonb_agg(t.name) from person_tag pt join tag_now t on t.id = pt.tag_id where pt.person_id = p.id and pt.until_at is null and ${seenTags(actor)}), '[]') as tags
    from meant join personal_now n on n.person_id = meant.person_id join person p on p.id = n.person_id`,
  );
  const isSeen = ({ groups, leads }: { groups: readonly number[]; leads: readonly number[] }): boolean =>
    own === null || [...groups, ...leads].some((id) => own.has(id));
  const seen = (list: readonly number[]): number[] => list.filter((id) => own === null || own.has(id));
  return {
    known: found.filter(isSeen).map(({ role, groups, leads, ...person }) => ({
      ...person,
      isAdministrator: role === 'administrator',
      isTheirs: mayActOnAccount(actor, {
        personId: person.id,
        role,
        leads: leads.length > 0,
        paths: groups.map((id) => (tree.has(id) ? tree.path(id) : [])),
      }),
      groups: seen(groups),
      leads: seen(leads),
    })),
    takenSignInNames: await takenOf(db, signInNames),
    // Somebody who is elsewhere now may still have a number of this issuer.
    takenIdNumbers: found.flatMap((person) => (person.idNumber !== null && !isSeen(person) ? [person.idNumber] : [])),
  };
}

/**
 * Whom these addresses may mean. To a leader: people of the leader's own branch, by any address. To an administrator: whoever has
 * confirmed one, and whoever carries one unconfirmed in the branch that the file goes into.
 */
const byAddress = (emails: readonly string[], own: ReadonlySet<GroupId> | null, into: GroupId): SQL => {
  const groups = own === null ? sql`(select group_id from group_branch where ancestor_id = ${into})` : sql`(select unnest(${ids(own)}))`;
  const inside = sql`(exists (select 1 from membership m where m.person_id = n.person_id and m.until_at is null and m.group_id in ${groups})
    or exists (select 1 from leadership l where l.person_id = n.person_id and l.until_at is null and l.group_id in ${groups}))`;
  const all = (condition: SQL): SQL =>
    sql`select n.person_id from unnest(${texts(emails)}) x(wanted) cross join lateral (select n.person_id from personal n where ${condition} and n.until_at is null offset 0) n`;
  return own === null
    ? sql`${all(sql`n.confirmed_email = x.wanted::citext`)} union select n.person_id from (${all(sql`n.email = x.wanted::citext and n.confirmed_email is null`)}) n where ${inside}`
    : sql`select n.person_id from (${all(sql`n.email = x.wanted::citext`)}) n where ${inside}`;
};

/**
 * Whoever (`n`) has one of these texts, each looked up once by a unique index. As a join it would be the planner's to choose, and
 * where thousands came in a moment ago, of whom it has not heard, it compares every row of the file with each of them.
 */
const lookUp = (wanted: readonly string[], same: SQL): SQL => sql`
  from unnest(${texts(wanted)}) x(wanted)
  cross join lateral (select n.person_id, n.sign_in_name from personal n where ${same} and n.until_at is null limit 1) n`;

async function takenOf(db: Queryable, signInNames: readonly string[]): Promise<string[]> {
  if (signInNames.length === 0) return [];
  const taken = await rows<{ name: string }>(
    db,
    sql`select lower(n.sign_in_name::text) as name ${lookUp(signInNames, sql`n.sign_in_name = x.wanted::citext`)}`,
  );
  return taken.map(({ name }) => name);
}

/** Which presets the actor may give to leaders of a group: nobody gives a power they lack. */
export function presetsToGive(actor: SignedIn, tree: Tree, groupId: GroupId): Preset[] {
  const path = tree.path(groupId);
  return (Object.keys(presets) as Preset[]).filter((preset) =>
    (['appointLeaders', ...presets[preset]] as const).every((power) => may(actor, power, { path })),
  );
}
