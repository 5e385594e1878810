import { randomInt } from 'node:crypto';
import {
  checkRoster,
  emailKey,
  fileLimits,
  type KnownPerson,
  lookAtMoves,
  membershipSetKey,
  type MovingLearner,
  nameKey,
  noEffects,
  type RosterPerson,
  type RosterRow,
  signInName,
} from '@gate-roster/core';
import { sql } from 'drizzle-orm';
import { asSeen, grantsByCourse, learners, rulesOf } from '../access/load-rules.ts';
import type { Plan, PlanContext, Planner } from '../changes/plan.ts';
import type { ChangeWriter } from '../changes/writer.ts';
import { ids, oneRow, type Queryable, rows, texts, type Transaction } from '../database/connect.ts';
import { pathTo } from '../groups/queries.ts';
import { ProblemError } from '../http/problem.ts';

/** Brings in the good rows of a roster, all or nothing. */
export const planBringInRoster: Planner<'bring-in-roster'> = async (context, change) => {
  const path = await pathTo(context.db, context.actor, change.into, 'administer');
  const issuer = path[0]?.id ?? change.into;
  if (change.rows.length > fileLimits.rows || new Set(change.rows.map(({ row }) => row)).size < change.rows.length) {
    throw new ProblemError('bad-request', { where: [{ place: 'body.change.rows', what: 'Row numbers stand once each' }] });
  }
  const known = await knownPeople(context.db, issuer, change.rows);
  const checked = checkRoster(change.rows, {
    tree: context.tree,
    into: change.into,
    hasGroupColumn: change.hasGroupColumn,
    dateOrder: change.dateOrder,
    known,
  });
  const effects = { ...noEffects(), ...(await accessEffects(context, checked.people)) };
  effects.rows = checked.rows;
  effects.newPeople = checked.people.filter(({ personId }) => personId === null).length;
  effects.changedPeople = checked.people.flatMap(({ personId, changes, tags }) =>
    personId !== null && changes.length + tags.length > 0 ? [personId] : [],
  );
  effects.joins = joinsOf(checked.people);
  if (checked.people.length === 0) effects.conflicts.push({ code: 'nothing to do', blocks: true, count: 1 });
  const groups = [...new Set([change.into, ...checked.people.flatMap(({ memberships }) => memberships.map(({ groupId }) => groupId))])];

  return {
    effects,
    groups,
    summary: {
      groups: [change.into],
      courses: [],
      people: [],
      fileName: change.fileName,
      counts: {
        newPeople: effects.newPeople,
        changed: checked.people.filter(({ personId, memberships }) => personId !== null && memberships.length === 0).length,
        leftOut: checked.rows.filter(({ outcome }) => outcome === 'needs a look').length,
        joining: checked.people.filter(({ personId, memberships }) => personId !== null && memberships.length > 0).length,
      },
    },
    async write(tx, writer) {
      const people = await write(tx, writer, checked.people, { issuer, cameBy: change.fileName === null ? 'hand' : 'file' });
      return { people, courses: [], tree: false };
    },
  };
};

/** Everybody whom a row might mean, by ID number of this issuer or by email. */
async function knownPeople(db: Queryable, issuer: number, list: readonly RosterRow[]): Promise<KnownPerson[]> {
  const emails = list.flatMap(({ cells }) => (cells.email ? [emailKey(cells.email)] : []));
  const numbers = list.flatMap(({ cells }) => (cells.idNumber ? [cells.idNumber.trim()] : []));
  return rows<KnownPerson>(
    db,
    sql`
    select p.id, n.given_name as "givenName", n.family_name as "familyName", n.email, case when n.id_issuer = ${issuer} then n.id_number end as "idNumber",
      p.role = 'administrator' as "isAdministrator",
      coalesce((select jsonb_agg(m.group_id) from membership m where m.person_id = p.id and m.until_at is null), '[]') as groups,
      coalesce((select jsonb_agg(t.name) from person_tag pt join tag t on t.id = pt.tag_id where pt.person_id = p.id and pt.until_at is null), '[]') as tags
    from personal_now n join person p on p.id = n.person_id
    where n.email = any(${texts(emails)}::citext[]) or (n.id_issuer = ${issuer} and n.id_number = any(${texts(numbers)}))`,
  );
}

async function accessEffects(
  context: PlanContext,
  people: readonly RosterPerson[],
): Promise<Pick<Plan['effects'], 'gains' | 'loses' | 'still' | 'newcomers'>> {
  const moving: MovingLearner[] = [];
  const newcomers: { memberships: RosterPerson['memberships']; people: number }[] = [];
  const classes = new Map<string, number>();
  for (const { memberships } of people.filter(({ personId }) => personId === null)) {
    const key = `${membershipSetKey(memberships.map(({ groupId }) => groupId))}@${memberships.map(({ firstDay, lastDay }) => `${firstDay ?? ''}-${lastDay ?? ''}`).join()}`;
    const index = classes.get(key) ?? newcomers.push({ memberships, people: 0 }) - 1;
    classes.set(key, index);
    const found = newcomers[index];
    if (found) found.people++;
  }
  newcomers.forEach(({ memberships, people: count }, index) => {
    moving.push({
      who: { newcomers: index },
      people: count,
      before: null,
      after: { personId: null, active: true, firstDay: null, lastDay: null, memberships },
    });
  });
  const joining = new Map(
    people.flatMap((person) => (person.personId !== null && person.memberships.length > 0 ? [[person.personId, person] as const] : [])),
  );
  for (const learner of await learners(context.db, [...joining.keys()])) {
    const after = { ...learner, memberships: [...learner.memberships, ...(joining.get(learner.personId)?.memberships ?? [])] };
    moving.push({
      who: { person: learner.personId },
      people: 1,
      before: asSeen(learner, context.seen),
      after: asSeen(after, context.seen),
    });
  }
  const rules = rulesOf(context.tree, await grantsByCourse(context.db, null));
  return { ...lookAtMoves(rules, moving, context.today), newcomers: newcomers.map((each) => each.people) };
}

function joinsOf(people: readonly RosterPerson[]): Plan['effects']['joins'] {
  const joins = new Map<number, { persons: number[]; people: number }>();
  for (const { personId, memberships } of people) {
    for (const { groupId } of memberships) {
      const join = joins.get(groupId) ?? { persons: [], people: 0 };
      join.people++;
      if (personId !== null) join.persons.push(personId);
      joins.set(groupId, join);
    }
  }
  return [...joins].map(([groupId, { persons, people: count }]) => ({ groupId, who: { sets: [], persons, newcomers: [] }, people: count }));
}

/** @returns Everybody whose groups changed. */
async function write(
  tx: Transaction,
  writer: ChangeWriter,
  people: readonly RosterPerson[],
  how: { issuer: number; cameBy: 'file' | 'hand' },
): Promise<number[]> {
  const newcomers = people.filter(({ personId }) => personId === null);
  const empty = await oneRow<{ id: number }>(tx, sql`select id from membership_set where key = ''`);
  const made = await rows<{ id: number }>(
    tx,
    sql`insert into person (set_id) select ${empty.id}::bigint from generate_series(1, ${newcomers.length}::int) returning id`,
  );
  const idOf = new Map<RosterPerson, number>(
    people.flatMap((person) => (person.personId === null ? [] : [[person, person.personId] as const])),
  );
  newcomers.forEach((person, index) => idOf.set(person, made[index]?.id ?? 0));
  const names = await freeSignInNames(tx, newcomers);

  await tx.execute(sql`insert into person_state (person_id, state) select id, 'active' from unnest(${ids(made.map(({ id }) => id))}) id`);
  await tx.execute(sql`
    insert into personal (person_id, given_name, family_name, email, sign_in_name, id_number, id_issuer)
    select id, given_name, family_name, email, sign_in_name, id_number, case when id_number is null then null else ${how.issuer}::bigint end
    from jsonb_to_recordset(${JSON.stringify(
      newcomers.map((person, index) => ({
        id: idOf.get(person),
        given_name: person.givenName,
        family_name: person.familyName,
        email: person.email,
        sign_in_name: names[index],
        id_number: person.idNumber,
      })),
    )}::jsonb) as r(id bigint, given_name text, family_name text, email text, sign_in_name text, id_number text)`);
  for (const { id } of made) writer.note('person', { after_row: id, person_id: id });

  await changeDetails(tx, writer, people, how.issuer);
  await writer.beginMemberships(
    people.flatMap((person) => person.memberships.map((held) => ({ personId: idOf.get(person) ?? 0, ...held }))),
    how.cameBy,
  );
  await tagPeople(
    tx,
    writer,
    people.flatMap((person) => person.tags.map((name) => ({ personId: idOf.get(person) ?? 0, name }))),
    how.issuer,
  );
  return [...idOf].flatMap(([person, id]) => (person.memberships.length > 0 || person.personId === null ? [id] : []));
}

/** Ends the personal row and begins one with the new details. */
async function changeDetails(tx: Transaction, writer: ChangeWriter, people: readonly RosterPerson[], issuer: number): Promise<void> {
  const changed = people.flatMap((person) =>
    person.personId !== null && person.changes.length > 0 ? [{ personId: person.personId, changes: person.changes }] : [],
  );
  if (changed.length === 0) return;
  const standing = await rows<{ row_id: number; person_id: number }>(
    tx,
    sql`select row_id, person_id from personal_now where person_id = any(${ids(changed.map(({ personId }) => personId))})`,
  );
  const rowOf = new Map(standing.map(({ row_id, person_id }) => [person_id, row_id]));
  await writer.end(
    'personal',
    standing.map(({ row_id }) => row_id),
    false,
  );
  const fresh = changed.map(({ personId, changes }) => ({
    before: rowOf.get(personId),
    ...Object.fromEntries(changes.map(({ field, after }) => [field, after])),
  }));
  const begun = await rows<{ row_id: number; person_id: number }>(
    tx,
    sql`
    insert into personal (person_id, given_name, family_name, email, sign_in_name, id_number, id_issuer, name_hidden)
    select o.person_id, coalesce(r."givenName", o.given_name), coalesce(r."familyName", o.family_name), coalesce(r.email, o.email), o.sign_in_name,
      coalesce(r."idNumber", o.id_number), case when r."idNumber" is null then o.id_issuer else ${issuer}::bigint end, o.name_hidden
    from jsonb_to_recordset(${JSON.stringify(fresh)}::jsonb) as r(before bigint, "givenName" text, "familyName" text, email text, "idNumber" text)
    join personal o on o.row_id = r.before returning row_id, person_id`,
  );
  for (const { row_id, person_id } of begun)
    writer.note('personal', { before_row: rowOf.get(person_id) ?? null, after_row: row_id, person_id });
}

async function tagPeople(
  tx: Transaction,
  writer: ChangeWriter,
  list: readonly { personId: number; name: string }[],
  branch: number,
): Promise<void> {
  if (list.length === 0) return;
  const named = [...new Map(list.map(({ name }) => [nameKey(name), name]))].map(([key, name]) => ({ key, name }));
  await tx.execute(sql`
    insert into tag (name, name_key, branch_id) select name, key, ${branch}::bigint from jsonb_to_recordset(${JSON.stringify(named)}::jsonb) as r(key text, name text) on conflict do nothing`);
  const begun = await rows<{ row_id: number; person_id: number }>(
    tx,
    sql`
    insert into person_tag (person_id, tag_id)
    select r.person, t.id from jsonb_to_recordset(${JSON.stringify(list.map(({ personId, name }) => ({ person: personId, key: nameKey(name) })))}::jsonb) as r(person bigint, key text)
    join tag t on t.branch_id = ${branch} and t.name_key = r.key on conflict do nothing returning row_id, person_id`,
  );
  for (const { row_id, person_id } of begun) writer.note('person tag', { after_row: row_id, person_id });
}

async function freeSignInNames(tx: Transaction, people: readonly RosterPerson[]): Promise<string[]> {
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
