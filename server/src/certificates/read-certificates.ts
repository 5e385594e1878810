import type { Answer, CertificateForm, certificateLists, Routes } from '@gate-roster/contract';
import { certificateNumberOf, certificateState, dayOfMoment, may } from '@gate-roster/core';
import { sql, type SQL } from 'drizzle-orm';
import type { SignedIn } from '../accounts/actor.ts';
import { ids, iso, maybeRow, oneRow, type Queryable, rows } from '../database/connect.ts';
import { wholeTree } from '../groups/queries.ts';
import { found, notFound } from '../http/problem.ts';
import { isCounted } from '../people/scope.ts';
import { givenWithin } from './change-certificates.ts';
import { countEarned, countedIn, earnedRows, type FormRow, formRows } from './earned.ts';

interface Scope {
  groupId: number;
  withSubgroups: boolean;
}
const pageSize = 200;

/** Was another given in its place? `o`: a certificate. */
const isReplaced = sql`exists (select 1 from certificate r where r.replaces = o.number and r.until_at is null)`;

/** People `p` of a scope for whom the actor may give this certificate. @throws ProblemError `not-found`. */
async function whoOf(db: Queryable, actor: SignedIn, { groupId, withSubgroups }: Scope, form: FormRow): Promise<SQL> {
  const within = givenWithin({ actor, tree: await wholeTree(db) }, form.groupId);
  if (within.length === 0) throw notFound();
  return sql`${isCounted(groupId, withSubgroups)} and ${countedIn(within)}`;
}

/** Certificates of groups on the path of the scope and in its branch. */
export async function certificatesIn(db: Queryable, actor: SignedIn, scope: Scope): Promise<Answer<Routes['certificates']>> {
  const tree = await wholeTree(db);
  const near = [...tree.nodes()].flatMap(({ id }) =>
    tree.isInBranch(scope.groupId, id) || tree.isInBranch(id, scope.groupId) ? [id] : [],
  );
  const forms = (await formRows(db, sql`f.group_id = any(${ids(near)})`)).filter(
    ({ groupId }) => givenWithin({ actor, tree }, groupId).length > 0,
  );
  const seen = (groupId: number): boolean => may(actor, 'see', { path: tree.path(groupId) });
  const list: CertificateForm[] = [];
  for (const form of forms) {
    const who = await whoOf(db, actor, scope, form);
    const { given, earned } = await oneRow<{ given: number; earned: number }>(
      db,
      sql`
      select (select count(distinct o.person_id)::int from certificate o join person p on p.id = o.person_id where o.form_id = ${form.id} and o.until_at is null and ${who}) as given,
        (${countEarned(form, who, actor.today)}) as earned`,
    );
    const { courseId, courseSetId, title, words, logoId, showsScore, byItself } = form;
    list.push({
      id: form.id,
      // A leader sees the certificates of a group above, but not its name.
      group: { id: form.groupId, name: seen(form.groupId) ? form.group : '' },
      about: form.about,
      values: { courseId, courseSetId, title, words, logoId, showsScore, byItself },
      given,
      earned,
      mayEdit: may(actor, 'markWork', { path: tree.path(form.groupId) }),
    });
  }
  return { forms: list, mayGive: may(actor, 'markWork', { path: tree.path(scope.groupId) }) };
}

/** People of a scope by what became of a certificate, family name first. */
export async function holdersOf(
  db: Queryable,
  actor: SignedIn,
  scope: Scope,
  formId: number,
  { list, after }: { list: (typeof certificateLists)[number]; after: number },
): Promise<Answer<Routes['certificateHolders']>> {
  const form = found((await formRows(db, sql`f.id = ${formId}`))[0]);
  const who = await whoOf(db, actor, scope, form);
  const given = sql`
    select distinct on (o.number) o.person_id, o.day, o.score, o.number, o.until_at is null as is_current, ${isReplaced} as is_replaced, o.valid_until, o.given_at, o.given_by
    from certificate o join person p on p.id = o.person_id where o.form_id = ${formId} and ${who} order by o.number, o.row_id desc`;
  const wanted =
    list === 'earned'
      ? sql`select e.person_id, e.day, e.score, null as number, true as is_current, false as is_replaced, e.valid_until, null::timestamptz as given_at, null::bigint as given_by from (${earnedRows(form, who, actor.today)}) e
          where not exists (select 1 from certificate o where o.form_id = ${formId} and o.person_id = e.person_id and o.day >= e.day)`
      : sql`select * from (${given}) g where g.is_current = ${list === 'given'}`;
  const people = await rows<{
    personId: number;
    givenName: string;
    familyName: string;
    day: string;
    score: number | null;
    number: string | null;
    isCurrent: boolean;
    isReplaced: boolean;
    validUntil: string | null;
    givenAt: string | null;
    givenBy: string | null;
  }>(
    db,
    sql`
    select w.person_id as "personId", n.given_name as "givenName", n.family_name as "familyName", w.day::text as day, w.score, w.number, w.is_current as "isCurrent", w.is_replaced as "isReplaced",
      w.valid_until::text as "validUntil", w.given_at as "givenAt", (select trim(b.given_name || ' ' || b.family_name) from personal_now b where b.person_id = w.given_by) as "givenBy"
    from (${wanted}) w join personal_now n on n.person_id = w.person_id order by n.family_name, n.given_name, w.person_id, w.day desc offset ${after} limit ${pageSize + 1}`,
  );
  return {
    people: people.slice(0, pageSize).map(({ isCurrent, isReplaced: wasReplaced, ...person }) => ({
      ...person,
      givenAt: person.givenAt && iso(person.givenAt),
      state:
        person.number === null
          ? null
          : certificateState({ isCurrent, isReplaced: wasReplaced, validUntil: person.validUntil }, actor.today),
    })),
    next: people.length > pageSize ? after + pageSize : null,
  };
}

/** Rows of the current certificates of a kind in a scope, or of one number. @throws ProblemError `not-found` when there are none. */
export async function rowsToPrint(
  db: Queryable,
  actor: SignedIn,
  scope: Scope,
  formId: number,
  number: string | undefined,
): Promise<{ rowIds: number[]; title: string }> {
  const form = found((await formRows(db, sql`f.id = ${formId}`))[0]);
  const who = await whoOf(db, actor, scope, form);
  const list = await rows<{ id: number }>(
    db,
    sql`
    select o.row_id as id from certificate o join person p on p.id = o.person_id
    where o.form_id = ${formId} and o.until_at is null and ${who} and ${number === undefined ? sql`true` : sql`o.number = ${certificateNumberOf(number) ?? ''}`} order by o.row_id limit 1000`,
  );
  if (list.length === 0) throw notFound();
  return { rowIds: list.map(({ id }) => id), title: form.title };
}

/** The own certificates, those that were withdrawn among them. */
export async function myCertificates(db: Queryable, actor: SignedIn): Promise<Answer<Routes['myCertificates']>> {
  const list = await rows<{
    number: string;
    title: string;
    about: string;
    day: string;
    validUntil: string | null;
    isCurrent: boolean;
    isReplaced: boolean;
    nameShown: boolean;
  }>(
    db,
    sql`
    select * from (
      select distinct on (o.number) o.number, f.title, o.about, o.day::text as day, o.valid_until::text as "validUntil", o.until_at is null as "isCurrent", ${isReplaced} as "isReplaced", o.name_shown as "nameShown"
      from certificate o join lateral (select title from certificate_form_version v where v.form_id = o.form_id order by v.row_id desc limit 1) f on true
      where o.person_id = ${actor.personId} order by o.number, o.row_id desc
    ) c order by c."isCurrent" desc, c.day desc`,
  );
  return {
    certificates: list.map(({ isCurrent, isReplaced: wasReplaced, ...certificate }) => ({
      ...certificate,
      state: certificateState({ isCurrent, isReplaced: wasReplaced, validUntil: certificate.validUntil }, actor.today),
    })),
  };
}

/** The row of an own certificate in force. @throws ProblemError `not-found`. */
export async function ownCertificate(db: Queryable, personId: number, number: string): Promise<{ id: number; title: string }> {
  return found(
    await maybeRow<{ id: number; title: string }>(
      db,
      sql`
      select o.row_id as id, (select title from certificate_form_version v where v.form_id = o.form_id order by v.row_id desc limit 1) as title
      from certificate o where o.person_id = ${personId} and o.number = ${certificateNumberOf(number) ?? ''} and o.until_at is null`,
    ),
  );
}

/** What anybody may know of a certificate by its number. @throws ProblemError `not-found` when there is none. */
export async function checkedCertificate(db: Queryable, typed: string, now: Date): Promise<Answer<Routes['checkCertificate']>> {
  const row = found(
    await maybeRow<{
      number: string;
      about: string;
      organisation: string;
      timeZone: string;
      day: string;
      validUntil: string | null;
      isCurrent: boolean;
      isReplaced: boolean;
      name: string | null;
    }>(
      db,
      sql`
      select o.number, o.about, g.name as organisation, g.time_zone as "timeZone", o.day::text as day, o.valid_until::text as "validUntil", o.until_at is null as "isCurrent", ${isReplaced} as "isReplaced",
        (select nullif(trim(n.given_name || ' ' || n.family_name), '') from personal_now n where n.person_id = o.person_id and o.name_shown) as name
      from certificate o cross join organisation g where o.number = ${certificateNumberOf(typed) ?? ''} order by o.row_id desc limit 1`,
    ),
  );
  const { isCurrent, isReplaced: wasReplaced, timeZone, ...shown } = row;
  return {
    ...shown,
    state: certificateState({ isCurrent, isReplaced: wasReplaced, validUntil: row.validUntil }, dayOfMoment(now, timeZone)),
  };
}
