import { randomInt } from 'node:crypto';
import { type PersonName, signInName } from '@gate-roster/core';
import { eq, sql } from 'drizzle-orm';
import type { ChangeWriter } from '../changes/writer.ts';
import { ids, onlyOne, planFor, rows, texts, type Transaction } from '../database/connect.ts';
import * as tables from '../database/schema.ts';

export interface NewPerson extends PersonName {
  /** Where they are made; the nearest group from there up that has a prefix gives it to their sign-in name. */
  groupId: number | null;
  email: string | null;
  /** Somebody vouches for the address, or its owner has shown it to be theirs. */
  isConfirmed?: boolean;
  idNumber: string | null;
  /** As it was given; made of the name when not. */
  signInName?: string | null;
  guardianEmail?: string | null;
  nameHidden?: boolean;
}

/** Makes active accounts with sign-in names of their own, in a few statements however many. @returns Their ids, in the same order. */
export async function makePeople(
  tx: Transaction,
  writer: ChangeWriter,
  people: readonly NewPerson[],
  { issuer, byLeader, state = 'active' }: { issuer: number; byLeader: boolean; state?: 'active' | 'asking' },
): Promise<{ id: number; signInName: string }[]> {
  if (people.length === 0) return [];
  const empty = await onlyOne(
    tx.select({ id: tables.membershipSet.id }).from(tables.membershipSet).where(eq(tables.membershipSet.key, '')),
  );
  const made = await rows<{ id: number }>(
    tx,
    sql`insert into person (set_id) select ${empty.id}::bigint from generate_series(1, ${people.length}::int) returning id`,
  );
  const names = await freeSignInNames(tx, people, byLeader);
  await tx.execute(sql`insert into person_state (person_id, state) select id, ${state} from unnest(${ids(made.map(({ id }) => id))}) id`);
  await tx.execute(sql`
    insert into personal (person_id, given_name, family_name, email, confirmed_email, sign_in_name, guardian_email, name_hidden, id_number, id_issuer)
    select id, given_name, family_name, email, case when is_confirmed then email end, sign_in_name, guardian_email, coalesce(name_hidden, false), id_number, case when id_number is null then null else ${issuer}::bigint end
    from jsonb_to_recordset(${JSON.stringify(
      people.map((person, index) => ({
        id: made[index]?.id,
        given_name: person.givenName,
        family_name: person.familyName,
        email: person.email,
        is_confirmed: person.isConfirmed ?? false,
        sign_in_name: names[index],
        id_number: person.idNumber,
        guardian_email: person.guardianEmail ?? null,
        name_hidden: person.nameHidden ?? false,
      })),
    )}::jsonb) as r(id bigint, given_name text, family_name text, email text, is_confirmed boolean, sign_in_name text, id_number text, guardian_email text, name_hidden boolean)`);
  for (const { id } of made) writer.note('person', { after_row: id, person_id: id });
  return made.map(({ id }, index) => ({ id, signInName: names[index] ?? '' }));
}

async function freeSignInNames(tx: Transaction, people: readonly NewPerson[], withDigits: boolean): Promise<string[]> {
  const groups = new Set(people.flatMap(({ groupId }) => groupId ?? []));
  const prefixes = new Map(
    (
      await rows<{ group_id: number; prefix: string }>(
        tx,
        sql`
        select distinct on (b.group_id) b.group_id, g.sign_in_prefix as prefix from group_branch b join group_now g on g.id = b.ancestor_id
        where b.group_id = any(${ids(groups)}) and g.sign_in_prefix is not null order by b.group_id, b.depth`,
        planFor(groups.size),
      )
    ).map(({ group_id, prefix }) => [group_id, prefix]),
  );
  const nameOf = (person: NewPerson, taken: (candidate: string) => boolean): string =>
    signInName(person, taken, () => randomInt(100), { prefix: prefixes.get(person.groupId ?? 0) ?? '', withDigits });
  const given = people.flatMap(({ signInName: own }) => (own ? [own.toLowerCase()] : []));
  const wished = people.flatMap((person) => (person.signInName ? [] : [nameOf(person, () => false).replace(/\d+$/u, '')]));
  const found = await rows<{ name: string }>(
    tx,
    sql`
    select lower(sign_in_name::text) as name from personal_now where regexp_replace(lower(sign_in_name::text), '\\d+$', '') = any(${texts(new Set(wished))})`,
  );
  const taken = new Set([...found.map(({ name }) => name), ...given]);
  return people.map((person) => {
    if (person.signInName) return person.signInName;
    const name = nameOf(person, (candidate) => taken.has(candidate));
    taken.add(name);
    return name;
  });
}
