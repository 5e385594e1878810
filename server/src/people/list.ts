import type { PeopleFilter, PersonRow } from '@gate-roster/contract';
import { courseParts, personParts } from '@gate-roster/core';
import { sql, type SQL } from 'drizzle-orm';
import { ids, iso, oneRow, type Queryable, rows } from '../database/connect.ts';
import { learnersPerGroup } from '../progress/tallies.ts';
import type { FilterReader, KnownFitting } from '../filters/conditions.ts';
import { enrolmentsOf } from '../progress/enrolments.ts';
import { type Listed, type ListFilter, peopleWhere } from './filtered.ts';
import { groupsOf, onlyGroups, reasonNotCounted } from './scope.ts';
import { seenTags } from './tags.ts';

export interface Page {
  after?: string | undefined;
  limit: number;
}

type Key = [string | null, string, number];

/** A page of people of a scope, with what stands in the columns. */
export async function peoplePage(
  db: Queryable,
  reader: FilterReader,
  groupId: number,
  filter: ListFilter,
  page: Page,
): Promise<{ people: PersonRow[]; next: string | null }> {
  const { actor, sight } = reader;
  const { people, next } = await peopleRows(db, reader, groupId, filter, page);
  const enrolments = await enrolmentsOf(
    db,
    people.map(({ id }) => id),
    { today: actor.today, sight, dueSoonDays: actor.dueSoonDays },
  );
  const byPerson = new Map<number, typeof enrolments>(people.map(({ id }) => [id, []]));
  for (const each of enrolments) if (!each.exempt) byPerson.get(each.personId)?.push(each);
  return {
    people: people.map((row) => {
      const theirs = byPerson.get(row.id) ?? [];
      return {
        ...row,
        all: theirs.length,
        done: theirs.filter(({ status }) => status === 'done').length,
        underWay: theirs.filter(({ status }) => status === 'under way').length,
        overdue: theirs.filter((each) => each.lateness === 'overdue').length,
      };
    }),
    next,
  };
}

export type FoundPerson = Omit<PersonRow, 'all' | 'done' | 'underWay' | 'overdue'>;

/** The same without their work. */
export async function peopleRows(
  db: Queryable,
  reader: FilterReader,
  groupId: number,
  filter: ListFilter,
  page: Page,
): Promise<{ people: FoundPerson[]; next: string | null }> {
  const order = orders[filter.sort];
  const known = knownFitting(reader, filter) && (await someInOrder(db, reader, groupId, filter, page));
  const chosen = known ? sql`select unnest(${ids(known.map(({ id }) => id))}) as id` : inOrder(reader, groupId, filter, page);
  const found = await foundPeople(db, reader, groupId, filter, chosen, order);
  const shown = found.slice(0, page.limit);
  return { people: shown.map(({ person }) => person), next: found.length > page.limit ? writeCursor(shown.at(-1)?.key) : null };
}

/** What a list tells of people who were chosen before, in the order in which they are named. */
export const peopleById = async (
  db: Queryable,
  reader: FilterReader,
  groupId: number,
  filter: ListFilter,
  people: readonly number[],
): Promise<FoundPerson[]> => {
  const chosen = sql`select id, place from unnest(${ids(people)}) with ordinality u(id, place)`;
  return (await foundPeople(db, reader, groupId, filter, chosen, { key: sql`null`, by: sql`page.place` })).map(({ person }) => person);
};

/** @param chosen A statement for the ids of people. */
async function foundPeople(
  db: Queryable,
  { actor, own }: FilterReader,
  groupId: number,
  filter: ListFilter,
  chosen: SQL,
  order: Pick<Order, 'key' | 'by'>,
): Promise<{ person: FoundPerson; key: Key | null }[]> {
  const withSubgroups = filter.subgroups === 'yes';
  const found = await rows<Omit<FoundPerson, 'activeAt'> & { active_at: string | null; key: Key | null }>(
    db,
    sql`
    with page as materialized (${chosen})
    select p.id, n.given_name as "givenName", n.family_name as "familyName", n.email, n.id_number as "idNumber", p.active_at,
      ${order.key} as key,
      coalesce((select jsonb_agg(jsonb_build_object('id', g.id, 'name', g.name) order by g.name collate people_order) from membership m join group_now g on g.id = m.group_id
        where m.person_id = p.id and m.until_at is null and m.group_id in (${groupsOf(groupId, withSubgroups)})), '[]') as groups,
      coalesce((select jsonb_agg(jsonb_build_object('id', t.id, 'name', t.name, 'colour', t.colour) order by t.name) from person_tag pt join tag_now t on t.id = pt.tag_id where pt.person_id = p.id and pt.until_at is null and ${seenTags(actor)}), '[]') as tags,
      coalesce(came.by, '') as "cameBy", came.since, ${filter.counted !== 'no' ? sql`null` : reasonNotCounted(groupId, withSubgroups, actor.today)} as "notCounted"
    from page join person p on p.id = page.id join personal_now n on n.person_id = p.id join person_state s on s.person_id = p.id and s.until_at is null
    left join lateral (select m.came_by as by, coalesce(m.first_day, (m.from_at at time zone ${actor.timeZone})::date) as since from membership m
      where m.person_id = p.id and m.until_at is null and m.group_id in (${groupsOf(groupId, withSubgroups)}) and ${onlyGroups(sql`m.group_id`, own)} order by m.from_at desc limit 1) came on true
    order by ${order.by}`,
  );
  return found.map(({ active_at, key, ...row }) => ({ person: { ...row, activeAt: active_at === null ? null : iso(active_at) }, key }));
}

/** A statement for the ids of a page and one more. @param among Nobody else. */
function inOrder(
  reader: FilterReader,
  groupId: number,
  filter: ListFilter,
  { after, limit }: Page,
  among: readonly number[] | null = null,
): SQL {
  const order = orders[filter.sort];
  return sql`
    select p.id, ${order.key} as key from person p join personal_now n on n.person_id = p.id
    where ${among ? sql`p.id = any(${ids(among)}) and` : sql``} ${peopleWhere(reader, groupId, filter)} and ${reader.named} ${after === undefined ? sql`` : sql`and ${order.after(readCursor(after))}`}
    order by ${order.by} limit ${limit + 1}`;
}

/** Who of many fits the course parts, where that is known: it is asked here then, and not in the database. */
const knownFitting = ({ fitting }: FilterReader, filter: ListFilter): KnownFitting | null =>
  filter.fits === 'yes' && fitting?.speaksOf(courseParts(filter.filter)) && !fitting.areFew ? fitting : null;

/**
 * People whom a list shows, in its order, one more than asked for: everybody is read in order, a few at a time, until there are so many.
 * @param among They are looked for among these alone, and all of them are told.
 */
export async function someInOrder(
  db: Queryable,
  reader: FilterReader,
  groupId: number,
  filter: ListFilter,
  { after, limit }: Page,
  { among, isWanted = () => true }: { among?: readonly number[]; isWanted?: (id: number) => boolean } = {},
): Promise<{ id: number; key: Key }[]> {
  const fitting = knownFitting(reader, filter);
  const others = fitting ? { ...filter, filter: personParts(filter.filter) } : filter;
  const found: { id: number; key: Key }[] = [];
  for (let [from, step] = [after, among ? among.length : limit * 2]; ; step *= 4) {
    const read = await rows<{ id: number; key: Key }>(db, inOrder(reader, groupId, others, { after: from, limit: step }, among));
    for (const each of read) if ((!fitting || fitting.ids.has(each.id)) && isWanted(each.id)) found.push(each);
    if (among) return found;
    if (found.length > limit || read.length <= step) return found.slice(0, limit + 1);
    from = writeCursor(read.at(-1)?.key) ?? undefined;
  }
}

export async function countPeople(db: Queryable, reader: FilterReader, groupId: number, filter: Listed): Promise<number> {
  if (filter.counted === 'yes' && filter.fits === 'yes') {
    // Those whom a scope counts are added up by set, and those who fit course parts alone may be known.
    if (filter.filter.length === 0) return (await learnersPerGroup(db, [groupId], filter.subgroups === 'yes')).get(groupId) ?? 0;
    if (reader.fitting?.speaksOf(filter.filter)) return reader.fitting.ids.size;
  }
  const { people } = await oneRow<{ people: number }>(
    db,
    sql`
    select count(*)::int as people from person p where ${peopleWhere(reader, groupId, filter)}`,
  );
  return people;
}

/** How many fit a filter, and how many another that leaves out some of its parts; counted once where there are none to leave out. */
export async function countBoth(
  db: Queryable,
  reader: FilterReader,
  groupId: number,
  filter: Listed,
  wider: Listed,
): Promise<{ matching: number; total: number }> {
  const isSame = filter.fits === wider.fits && filter.filter.length === wider.filter.length;
  const total = countPeople(db, reader, groupId, wider);
  const [matching, all] = await Promise.all([isSame ? total : countPeople(db, reader, groupId, filter), total]);
  return { matching, total: all };
}

const nameKey = sql`jsonb_build_array(n.family_name, n.given_name, p.id)`;
const nameColumns = sql`n.family_name collate people_order, n.given_name collate people_order, n.person_id`;
interface Order {
  key: SQL;
  by: SQL;
  after: (key: Key) => SQL;
}
const orders: Record<PeopleFilter['sort'], Order> = {
  name: { key: nameKey, by: nameColumns, after: ([family, given, id]) => sql`(${nameColumns}) > (${family}, ${given}, ${id})` },
  '-name': {
    key: nameKey,
    by: sql`n.family_name collate people_order desc, n.given_name collate people_order desc, n.person_id desc`,
    after: ([family, given, id]) => sql`(${nameColumns}) < (${family}, ${given}, ${id})`,
  },
  active: {
    key: sql`jsonb_build_array(p.active_at::text, '', p.id)`,
    by: sql`coalesce(p.active_at, '-infinity'), p.id`,
    after: ([active, , id]) => sql`(coalesce(p.active_at, '-infinity'), p.id) > (coalesce(${active}::timestamptz, '-infinity'), ${id})`,
  },
  '-active': {
    key: sql`jsonb_build_array(p.active_at::text, '', p.id)`,
    by: sql`coalesce(p.active_at, '-infinity') desc, p.id desc`,
    after: ([active, , id]) => sql`(coalesce(p.active_at, '-infinity'), p.id) < (coalesce(${active}::timestamptz, '-infinity'), ${id})`,
  },
};

export const writeCursor = (key: unknown): string | null =>
  key === undefined ? null : Buffer.from(JSON.stringify(key)).toString('base64url');

/** A cursor that was not made here begins the list anew. */
export function readCursor(text: string): Key {
  try {
    const key: unknown = JSON.parse(Buffer.from(text, 'base64url').toString());
    if (
      Array.isArray(key) &&
      key.length === 3 &&
      Number.isSafeInteger(key[2]) &&
      (key[0] === null || typeof key[0] === 'string') &&
      typeof key[1] === 'string'
    )
      return key as Key;
  } catch {
    // Falls through: not JSON.
  }
  return ['', '', 0];
}
