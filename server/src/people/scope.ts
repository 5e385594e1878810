import type { PeopleFilter } from '@gate-roster/contract';
import type { Day } from '@gate-roster/core';
import { sql, type SQL } from 'drizzle-orm';
import { ids } from '../database/connect.ts';
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

/** Why `p` (with state `s`) is not counted in the scope. */
export const reasonNotCounted = (groupId: number, withSubgroups: boolean, today: Day): SQL => sql`case
  when s.state in ('paused', 'asking') then s.state
  when s.state = 'ended' or s.last_day < ${today} then 'has ended'
  when s.first_day > ${today} then 'begins later'
  when exists (select 1 from membership m where m.person_id = p.id and m.until_at is null and m.group_id in (${groupsOf(groupId, withSubgroups)}) and m.first_day > ${today}) then 'begins later'
  when not exists (select 1 from membership m where m.person_id = p.id and m.until_at is null and m.group_id in (${groupsOf(groupId, withSubgroups)}) and coalesce(m.last_day >= ${today}, true)) then 'has ended'
  else 'group not active' end`;

/** People of the scope under a filter, over `p` (person), `n` (personal) and `s` (state). */
export function peopleWhere(groupId: number, filter: PeopleFilter): SQL {
  const withSubgroups = filter.subgroups === 'yes';
  const parts = [
    filter.counted === 'yes'
      ? isCounted(groupId, withSubgroups)
      : sql`(${isMember(groupId, withSubgroups)} and not ${isCounted(groupId, withSubgroups)})`,
  ];
  if (filter.search !== '') parts.push(matches(filter.search));
  if (filter.tag !== undefined)
    parts.push(sql`exists (select 1 from person_tag pt where pt.person_id = p.id and pt.tag_id = ${filter.tag} and pt.until_at is null)`);
  return sql.join(parts, sql` and `);
}

/** Personal values `n` fit what was typed: part of the name, address, sign-in name or ID number. */
export function matches(text: string): SQL {
  const part = `%${text.toLowerCase().replace(/[\\%_]/gu, '\\$&')}%`;
  return sql`(lower(n.given_name || ' ' || n.family_name) like ${part} or n.email like ${part} or n.sign_in_name like ${part} or lower(n.id_number) like ${part})`;
}

/** Groups that this reader may know of; for cutting down what is shown of people who are elsewhere too. */
export const onlyGroups = (column: SQL, own: Iterable<number> | null): SQL =>
  own === null ? sql`true` : sql`${column} = any(${ids(own)})`;
