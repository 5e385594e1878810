import { randomInt } from 'node:crypto';
import { type PersonName, signInName } from '@gate-roster/core';
import { sql } from 'drizzle-orm';
import type { ChangeWriter } from '../changes/writer.ts';
import { ids, oneRow, rows, texts, type Transaction } from '../database/connect.ts';

export interface NewPerson extends PersonName {
  email: string | null;
  idNumber: string | null;
}

/** Makes active accounts with sign-in names of their own, in a few statements however many. @returns Their ids, in the same order. */
export async function makePeople(
  tx: Transaction,
  writer: ChangeWriter,
  people: readonly NewPerson[],
  issuer: number,
): Promise<{ id: number; signInName: string }[]> {
  if (people.length === 0) return [];
  const empty = await oneRow<{ id: number }>(tx, sql`select id from membership_set where key = ''`);
  const made = await rows<{ id: number }>(
    tx,
    sql`insert into person (set_id) select ${empty.id}::bigint from generate_series(1, ${people.length}::int) returning id`,
  );
  const names = await freeSignInNames(tx, people);
  await tx.execute(sql`insert into person_state (person_id, state) select id, 'active' from unnest(${ids(made.map(({ id }) => id))}) id`);
  await tx.execute(sql`
    insert into personal (person_id, given_name, family_name, email, sign_in_name, id_number, id_issuer)
    select id, given_name, family_name, email, sign_in_name, id_number, case when id_number is null then null else ${issuer}::bigint end
    from jsonb_to_recordset(${JSON.stringify(
      people.map((person, index) => ({
        id: made[index]?.id,
        given_name: person.givenName,
        family_name: person.familyName,
        email: person.email,
        sign_in_name: names[index],
        id_number: person.idNumber,
      })),
    )}::jsonb) as r(id bigint, given_name text, family_name text, email text, sign_in_name text, id_number text)`);
  for (const { id } of made) writer.note('person', { after_row: id, person_id: id });
  return made.map(({ id }, index) => ({ id, signInName: names[index] ?? '' }));
}

async function freeSignInNames(tx: Transaction, people: readonly PersonName[]): Promise<string[]> {
  const wished = people.map((person) =>
    signInName(
      person,
      () => false,
      () => randomInt(100),
    ).replace(/\d+$/u, ''),
  );
  const found = await rows<{ name: string }>(
    tx,
    sql`
    select lower(sign_in_name::text) as name from personal_now where regexp_replace(lower(sign_in_name::text), '\\d+$', '') = any(${texts(new Set(wished))})`,
  );
  const taken = new Set(found.map(({ name }) => name));
  return people.map((person) => {
    const name = signInName(
      person,
      (candidate) => taken.has(candidate),
      () => randomInt(100),
    );
    taken.add(name);
    return name;
  });
}
