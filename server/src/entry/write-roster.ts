import { nameKey, type Preset, presets, type RosterPerson } from '@gate-roster/core';
import { sql } from 'drizzle-orm';
import { dropAddress } from '../accounts/one-time.ts';
import { hashPassword } from '../accounts/password.ts';
import { makeToken } from '../accounts/tokens.ts';
import type { PlanContext, Touched } from '../changes/plan.ts';
import type { ChangeWriter } from '../changes/writer.ts';
import { isAmong, rows, type Transaction } from '../database/connect.ts';
import * as tables from '../database/schema.ts';
import { momentInWords, writeLetters } from '../letters/write-letters.ts';
import { makePeople } from '../people/make-people.ts';
import { beginTags, ensureTags } from '../people/tagging.ts';
import { checkShare, type Roster } from './roster-plan.ts';
import { dropFile } from './roster-files.ts';

const batch = 5000;
const welcomeDays = 7;

/** Writes what a roster comes to, in batches, one statement for each table and batch. */
export async function writeRoster(tx: Transaction, writer: ChangeWriter, context: PlanContext, roster: Roster): Promise<Touched> {
  const groupIds = await makeGroups(tx, writer, roster);
  const people = roster.people.map((person) => withStandingGroups(person, groupIds));
  await writer.end(
    'membership',
    roster.leaving.map(({ row_id }) => row_id),
  );
  const idOf = await makeNewcomers(tx, writer, context, roster, people);
  await changeDetails(tx, writer, people, roster);
  const memberships = people.flatMap((person) => person.memberships.map((held) => ({ personId: idOf.get(person) ?? 0, ...held })));
  for (const part of batches(memberships)) await writer.beginMemberships(part, roster.cameBy);
  await writer.begin(
    'leadership',
    people.flatMap((person) => person.leads.map((held) => leadership(idOf.get(person) ?? 0, held))),
  );
  const tags = await ensureTags(
    tx,
    writer,
    people.flatMap((person) => person.tags),
    roster.issuer,
  );
  const tagged = people.flatMap((person) =>
    person.tags.flatMap((name) => ({ personId: idOf.get(person) ?? 0, tagId: tags.get(nameKey(name)) ?? 0 })),
  );
  for (const part of batches(tagged)) await beginTags(tx, writer, part);
  if (roster.write) await welcome(tx, context, roster, people, idOf);
  if (roster.fileId !== null) await dropFile(tx, roster.fileId);
  const moved = [...idOf].flatMap(([person, id]) => (person.memberships.length > 0 || person.personId === null ? [id] : []));
  return {
    people: [...new Set([...moved, ...roster.leaving.map(({ person_id }) => person_id)])],
    placed: [...groupIds.values()],
    sessions: people.flatMap((person) => (person.leads.length > 0 ? [idOf.get(person) ?? 0] : [])),
    fileRows: new Map([...idOf].map(([person, id]) => [id, person.rows[0] ?? 0])),
  };
}

function* batches<T>(list: readonly T[]): Generator<T[]> {
  for (let from = 0; from < list.length; from += batch) yield list.slice(from, from + batch);
}

/** @returns For each group that was wished for the one that stands for it. */
async function makeGroups(tx: Transaction, writer: ChangeWriter, { newGroups }: Roster): Promise<Map<number, number>> {
  if (newGroups.length === 0) return new Map();
  const made = await rows<{ id: number }>(
    tx,
    sql`insert into groups (created_at) select now() from generate_series(1, ${newGroups.length}::int) returning id`,
  );
  const idOf = new Map(newGroups.map(({ id }, index) => [id, made[index]?.id ?? 0]));
  await writer.begin(
    'group',
    newGroups.map(({ id, parentId, name }) => ({
      group_id: idOf.get(id),
      parent_id: idOf.get(parentId) ?? parentId,
      name,
      name_key: nameKey(name),
      state: 'active',
      young_learners: false,
    })),
  );
  return idOf;
}

const withStandingGroups = (person: RosterPerson, groupIds: ReadonlyMap<number, number>): RosterPerson =>
  groupIds.size === 0
    ? person
    : {
        ...person,
        memberships: person.memberships.map((held) => ({ ...held, groupId: groupIds.get(held.groupId) ?? held.groupId })),
        leads: person.leads.map((held) => ({ ...held, groupId: groupIds.get(held.groupId) ?? held.groupId })),
      };

const leadership = (personId: number, held: RosterPerson['leads'][number]): Record<string, unknown> => ({
  person_id: personId,
  group_id: held.groupId,
  powers: presets[held.preset satisfies Preset],
  first_day: held.firstDay,
  last_day: held.lastDay,
});

/** @returns Everybody's id, new or known. */
async function makeNewcomers(
  tx: Transaction,
  writer: ChangeWriter,
  context: PlanContext,
  { issuer, byLeader, into, fileId }: Roster,
  people: readonly RosterPerson[],
): Promise<Map<RosterPerson, number>> {
  const idOf = new Map<RosterPerson, number>();
  for (const person of people) if (person.personId !== null) idOf.set(person, person.personId);
  const newcomers = people.filter(({ personId }) => personId === null);
  let done = 0;
  for (const part of batches(newcomers)) {
    const made = await makePeople(
      tx,
      writer,
      part.map((person) => ({ ...person, isConfirmed: !byLeader, groupId: person.memberships[0]?.groupId ?? into })),
      { issuer, byLeader },
    );
    part.forEach((person, index) => idOf.set(person, made[index]?.id ?? 0));
    done += part.length;
    await context.told?.(checkShare + (done / newcomers.length) * (0.9 - checkShare));
  }
  await keepPasswords(tx, newcomers, idOf, fileId !== null);
  return idOf;
}

/** A password in a file counts for new accounts only; it is kept as its hash. */
async function keepPasswords(
  tx: Transaction,
  newcomers: readonly RosterPerson[],
  idOf: ReadonlyMap<RosterPerson, number>,
  areHashed: boolean,
): Promise<void> {
  const hashed = await Promise.all(
    newcomers.flatMap((person) =>
      person.password === null
        ? []
        : [(areHashed ? Promise.resolve(person.password) : hashPassword(person.password)).then((hash) => ({ id: idOf.get(person), hash }))],
    ),
  );
  if (hashed.length === 0) return;
  await tx.execute(
    sql`insert into credential (person_id, password_hash) select id, hash from jsonb_to_recordset(${JSON.stringify(hashed)}::jsonb) as r(id bigint, hash text)`,
  );
}

const columnOf = {
  givenName: 'given_name',
  familyName: 'family_name',
  email: 'email',
  idNumber: 'id_number',
  signInName: 'sign_in_name',
  guardianEmail: 'guardian_email',
  nameHidden: 'name_hidden',
} as const;

/** Ends the personal row and begins one with the new details. */
async function changeDetails(
  tx: Transaction,
  writer: ChangeWriter,
  people: readonly RosterPerson[],
  { issuer, byLeader }: Roster,
): Promise<void> {
  const changed = new Map(
    people.flatMap(({ personId, changes }) => (personId !== null && changes.length > 0 ? [[personId, changes] as const] : [])),
  );
  const standing = await tx
    .select({ row_id: tables.personalNow.rowId, person_id: tables.personalNow.personId })
    .from(tables.personalNow)
    .where(isAmong(tables.personalNow.personId, changed.keys()));
  const list = standing.map(({ row_id, person_id }) => {
    const values: Record<string, unknown> = {};
    for (const { field, after } of changed.get(person_id) ?? []) values[columnOf[field]] = field === 'nameHidden' ? after === 'yes' : after;
    if ('id_number' in values) values['id_issuer'] = issuer;
    if ('email' in values) Object.assign(values, { confirmed_email: byLeader ? null : values['email'], address_failed: false });
    return { rowId: row_id, values };
  });
  for (const part of batches(list)) await writer.replace('personal', part);
  await dropAddress(
    tx,
    [...changed].flatMap(([id, changes]) => (changes.some(({ field }) => field === 'email') ? [id] : [])),
  );
}

/** Letters with a one-time sign-in to the new people who have an address, at the moment that was chosen. */
async function welcome(
  tx: Transaction,
  { actor, publicUrl }: PlanContext,
  { write, into }: Roster,
  people: readonly RosterPerson[],
  idOf: ReadonlyMap<RosterPerson, number>,
): Promise<void> {
  const sendAt = write?.at ?? null;
  const endsAt = new Date((sendAt ? Date.parse(sendAt) : Date.now()) + welcomeDays * 86_400_000);
  const written = people.filter(({ personId, email, password }) => personId === null && email !== null && password === null);
  for (const part of batches(written)) {
    const links = part.map((person) => ({ person, personId: idOf.get(person) ?? 0, ...makeToken() }));
    await tx.execute(sql`
      insert into one_time_link (hash, person_id, ends_at, by_letter, address)
      select hash, person_id, ${endsAt.toISOString()}, true, address from jsonb_to_recordset(${JSON.stringify(links.map(({ hash, personId, person }) => ({ hash, person_id: personId, address: person.email })))}::jsonb) as r(hash text, person_id bigint, address citext)`);
    await writeLetters(
      tx,
      publicUrl,
      'welcome',
      links.map(({ person, personId, token }) => ({
        personId,
        address: person.email ?? '',
        groupId: person.memberships[0]?.groupId ?? into,
        sendAt,
        values: { name: person.givenName, until: momentInWords(endsAt, actor.timeZone), link: `${publicUrl}/enter#${token}` },
      })),
    );
  }
}
