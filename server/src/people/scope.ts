import type { PeopleFilter } from '@gate-roster/contract';
import type { Day } from '@gate-roster/core';
import { sql, type SQL } from 'drizzle-orm';
import type { SignedIn } from '../accounts/actor.ts';
import { branchTops } from '../accounts/reach.ts';
import { ids, maybeRow, oneRow, type Queryable, rows } from '../database/connect.ts';
import { notFound } from '../http/problem.ts';
import { scopeOf } from '../progress/tallies.ts';

/** Groups of the scope: the group alone, or its branch. */
export const groupsOf = (groupId: number, withSubgroups: boolean): SQL =>
  withSubgroups ? sql`select group_id from group_branch where ancestor_id = ${groupId}` : sql`select ${groupId}::bigint`;

/** `p` is counted in the scope. */
export const isCounted = (groupId: number, withSubgroups: boolean): SQL =>
  sql`(p.counted and p.set_id in (select set_id from (${scopeOf([groupId], withSubgroups)}) scope))`;

/** `p` has a standing membership in the scope. */
export const isMember = (groupId: number, withSubgroups: boolean): SQL =>
  sql`exists (select 1 from membership m where m.person_id = p.id and m.until_at is null and m.group_id in (${groupsOf(groupId, withSubgroups)}))`;

/** With more of them, going through everybody is no slower. */
const mostPerhaps = 5000;

/**
 * How many people of a scope are not counted. Only those can be among them who are counted nowhere, or whose membership or group (or one
 * above it) has days or is not active: they are mostly few, and to go through everybody would take longer than a report does.
 */
export async function countNotCounted(db: Queryable, groupId: number, withSubgroups: boolean): Promise<number> {
  const scope = groupsOf(groupId, withSubgroups);
  const perhaps = await rows<{ id: number }>(
    db,
    sql`
    select p.id from person p where not p.counted
    union all
    select m.person_id from membership m where m.until_at is null and (m.first_day is not null or m.last_day is not null) and m.group_id in (${scope})
    union all
    select m.person_id from membership m where m.until_at is null and m.group_id in (${scope}) and m.group_id = any(array(
      select b.group_id from group_now g join group_branch b on b.ancestor_id = g.id where g.state <> 'active' or g.first_day is not null or g.last_day is not null))
    limit ${mostPerhaps + 1}`,
  );
  if (perhaps.length === 0) return 0;
  const among = perhaps.length > mostPerhaps ? sql`true` : sql`p.id = any(${ids(perhaps.map(({ id }) => id))})`;
  const { people } = await oneRow<{ people: number }>(
    db,
    sql`
    with p as materialized (select p.id from person p where ${among} and not ${isCounted(groupId, withSubgroups)})
    select count(*)::int as people from p where ${isMember(groupId, withSubgroups)}`,
  );
  return people;
}

/** Why `p` (with state `s`) is not counted in the scope. */
export const reasonNotCounted = (groupId: number, withSubgroups: boolean, today: Day): SQL => sql`case
  when s.state in ('paused', 'asking') then s.state
  when s.state = 'ended' or s.last_day < ${today} then 'has ended'
  when s.first_day > ${today} then 'begins later'
  when exists (select 1 from membership m where m.person_id = p.id and m.until_at is null and m.group_id in (${groupsOf(groupId, withSubgroups)}) and m.first_day > ${today}) then 'begins later'
  when not exists (select 1 from membership m where m.person_id = p.id and m.until_at is null and m.group_id in (${groupsOf(groupId, withSubgroups)}) and coalesce(m.last_day >= ${today}, true)) then 'has ended'
  else 'group not active' end`;

/** People `p` of the scope under no filter yet. */
export function whichPeople(groupId: number, withSubgroups: boolean, counted: PeopleFilter['counted']): SQL {
  if (counted === 'yes') return isCounted(groupId, withSubgroups);
  if (counted === 'no') return sql`(${isMember(groupId, withSubgroups)} and not ${isCounted(groupId, withSubgroups)})`;
  return sql`(p.erased_at is null and exists (select 1 from person_state e where e.person_id = p.id and e.until_at is null and e.state in ('active', 'paused'))
    and not exists (select 1 from membership m where m.person_id = p.id and m.until_at is null) and not exists (select 1 from leadership l where l.person_id = p.id and l.until_at is null) and p.role = 'none')`;
}

/** Personal values `n` fit what was typed: part of the name, address, sign-in name or ID number. */
export function matches(text: string): SQL {
  const part = `%${text.toLowerCase().replace(/[\\%_]/gu, '\\$&')}%`;
  return sql`(lower(n.given_name || ' ' || n.family_name) like ${part} or n.email like ${part} or n.sign_in_name like ${part} or lower(n.id_number) like ${part})`;
}

/** What is known of the address of `n`: to a leader, *does not work* says no more than that. */
export const addressState = sql`case when n.confirmed_email is not null then 'confirmed'
  when n.address_failed or exists (select 1 from letter w where w.address = n.email and w.person_id = n.person_id and w.state = 'bounced') then 'does not work'
  when n.email is null then 'none' else 'unconfirmed' end`;

/** Groups that this reader may know of; for cutting down what is shown of people who are elsewhere too. */
export const onlyGroups = (column: SQL, own: Iterable<number> | null): SQL =>
  own === null ? sql`true` : sql`${column} = any(${ids(own)})`;

/** The same for several groups: all of them. */
export const seesAll = (column: SQL, own: Iterable<number> | null): SQL =>
  own === null ? sql`true` : sql`${column} <@ ${ids(own)}::bigint[]`;

/** `p` is somebody the actor may know of: in a group of their branches, or leading one. */
export function seenPerson(actor: SignedIn, person: SQL): SQL {
  const tops = branchTops(actor);
  if (tops === null) return sql`true`;
  const own = sql`(select group_id from group_branch where ancestor_id = any(${ids(tops)}))`;
  return sql`(exists (select 1 from membership m where m.person_id = ${person} and m.until_at is null and m.group_id in ${own})
    or exists (select 1 from leadership l where l.person_id = ${person} and l.until_at is null and l.group_id in ${own}))`;
}

/** @throws ProblemError `not-found` when there is nobody of that number whom the actor may know of. */
export async function visiblePerson(db: Queryable, actor: SignedIn, personId: number): Promise<void> {
  const person = await maybeRow(db, sql`select 1 from person p where p.id = ${personId} and ${seenPerson(actor, sql`p.id`)}`);
  if (!person) throw notFound();
}
