import type { Day } from '@gate-roster/core';
import { sql, type SQL } from 'drizzle-orm';
import { ids, isAmong, planFor, rows, texts, type Transaction } from '../database/connect.ts';
import * as tables from '../database/schema.ts';

/** Whose sets to work out: these people's, or everybody's. */
export type People = readonly number[] | 'all';

interface Place {
  person_id: number;
  key: string;
  counted: boolean;
  own: boolean;
  was_set: number;
  was_key: string;
  was_counted: boolean;
  was_own: boolean;
}

export interface RefreshedSets {
  /** People who are in another set than before, or count or have windows of their own otherwise. */
  moved: number[];
  /** Sets that are new. */
  newSets: number[];
  /** People whose windows are their own, now or until now. */
  ownPeople: number[];
  /**
   * Brings how many each set counts up to date, by differences. To be called last: from then on until the transaction ends,
   * others who come into the same set wait.
   */
  count: () => Promise<void>;
}

/**
 * Puts people into the set of the groups they are in on this day. A membership counts while it, its group and every group above
 * are in force. Locks the people, so that of two changes at once the second sees the groups of both.
 */
export async function refreshSets(tx: Transaction, people: People, today: Day): Promise<RefreshedSets> {
  if (people !== 'all') await lockPeople(tx, people);
  const places = await placesOf(tx, people, today);
  await markSets(tx, new Set(places.map(({ was_set }) => was_set)));
  const moved = places.filter((each) => each.key !== each.was_key || each.counted !== each.was_counted || each.own !== each.was_own);
  const { setOf, newSets } = await setsOfKeys(tx, new Set(moved.map(({ key }) => key)));
  const changed = moved.map((each) => ({ ...each, now_set: setOf.get(each.key) ?? each.was_set }));
  for (let from = 0; from < changed.length; from += batch)
    await tx.execute(sql`
      update person p set set_id = n."set", counted = n.counted, own_windows = n.own
      from jsonb_to_recordset(${JSON.stringify(
        changed.slice(from, from + batch).map(({ person_id, now_set, counted, own }) => ({ id: person_id, set: now_set, counted, own })),
      )}::jsonb) as n(id bigint, "set" bigint, counted boolean, own boolean) where p.id = n.id`);
  await markSets(tx, new Set(changed.map(({ now_set }) => now_set)));
  return {
    moved: moved.map(({ person_id }) => person_id),
    newSets,
    ownPeople: places.flatMap(({ person_id, own, was_own }) => (own || was_own ? [person_id] : [])),
    count: () => (people === 'all' ? recount(tx) : countByDifference(tx, changed)),
  };
}

/** Until the transaction ends nobody else changes where these people are. In the order of their ids, so that nobody waits in a ring. */
export async function lockPeople(tx: Transaction, people: readonly number[]): Promise<void> {
  if (people.length > 0) await tx.execute(sql`select id from person where id = any(${ids(people)}) order by id for no key update`);
}

const batch = 20_000;

async function placesOf(tx: Transaction, people: People, today: Day): Promise<Place[]> {
  const among = people === 'all' ? sql`true` : sql`p.id = any(${ids(people)})`;
  return rows<Place>(
    tx,
    sql`
    with resting as materialized (
      select b.group_id, bool_or(g.first_day > ${today}) as begins from group_branch b join group_now g on g.id = b.ancestor_id
      where g.state <> 'active' or g.first_day > ${today} or g.last_day < ${today} group by 1
    ), held as (
      select p.id as person_id, p.set_id as was_set, p.counted as was_counted, p.own_windows as was_own,
        string_agg(m.group_id || coalesce('@' || m.last_day, ''), ',' order by m.group_id) filter (where m.in_force) as key,
        bool_or(m.is_to_come) as has_days
      from person p left join lateral (
        select h.group_id, h.last_day, coalesce(h.first_day <= ${today}, true) and r.group_id is null as in_force,
          coalesce(h.first_day > ${today} or r.begins, false) as is_to_come
        from membership h left join resting r on r.group_id = h.group_id
        where h.person_id = p.id and h.until_at is null and coalesce(h.last_day >= ${today}, true)
      ) m on true
      where ${among} group by p.id
    )
    select held.person_id, coalesce(held.key, '') || case when not s.active and not s.is_to_come then ';off' else coalesce(';' || s.last_day, '') end as key, s.active and held.key is not null and held.key <> '' as counted,
      coalesce(held.has_days, false) or s.is_to_come or exists (select 1 from access_grant g where g.person_id = held.person_id and g.until_at is null)
        or exists (select 1 from course_exception x where x.person_id = held.person_id and x.kind = 'more time' and x.until_at is null)
        or exists (select 1 from enrolment e join course_now t on t.id = e.course_id and t.archived
          where e.person_id = held.person_id and e.is_current and e.status = 'under way') as own,
      held.was_set, was.key as was_key, held.was_counted, held.was_own
    from held join membership_set was on was.id = held.was_set
    join lateral (
      select state = 'active' and coalesce(first_day <= ${today}, true) and coalesce(last_day >= ${today}, true) as active,
        state = 'active' and coalesce(first_day > ${today}, false) as is_to_come, last_day
      from person_state where person_id = held.person_id and until_at is null
      union all select false, false, null limit 1
    ) s on true`,
    people === 'all' ? {} : planFor(people.length),
  );
}

/** What was cached of these sets holds no more. */
async function markSets(tx: Transaction, sets: ReadonlySet<number>): Promise<void> {
  if (sets.size > 0) await tx.execute(sql`insert into standing_mark select unnest(${ids(sets)})`);
}

/**
 * The sets of these keys; those that are missing are made, in the order of their keys. Where another transaction is making the
 * same one, the unique key waits until that one is committed, with everything that follows from the set.
 */
async function setsOfKeys(tx: Transaction, keys: ReadonlySet<string>): Promise<{ setOf: Map<string, number>; newSets: number[] }> {
  const setOf = new Map<string, number>();
  const find = async (wanted: Iterable<string>): Promise<void> => {
    const found = await tx
      .select({ id: tables.membershipSet.id, key: tables.membershipSet.key })
      .from(tables.membershipSet)
      .where(sql`${tables.membershipSet.key} = any(${texts(wanted)})`);
    for (const { id, key } of found) setOf.set(key, id);
  };
  if (keys.size === 0) return { setOf, newSets: [] };
  await find(keys);
  const missing = [...keys].filter((key) => !setOf.has(key)).sort();
  if (missing.length === 0) return { setOf, newSets: [] };
  const made = await rows<{ id: number; key: string }>(
    tx,
    sql`insert into membership_set (key) select key from unnest(${texts(missing)}) with ordinality as k(key, nth) order by nth on conflict (key) do nothing returning id, key`,
  );
  for (const { id, key } of made) setOf.set(key, id);
  if (made.length < missing.length) await find(missing);
  const newSets = made.map(({ id }) => id);
  await tx.execute(sql`
    insert into membership_set_group select s.id, split_part(part, '@', 1)::bigint from membership_set s cross join unnest(string_to_array(split_part(s.key, ';', 1), ',')) part where s.id = any(${ids(newSets)}) and s.key <> ''`);
  await tx.execute(sql`
    insert into set_in_branch select distinct b.ancestor_id, g.set_id from membership_set_group g join group_branch b on b.group_id = g.group_id where g.set_id = any(${ids(newSets)})`);
  return { setOf, newSets };
}

/**
 * Takes those of these sets that nobody is in off, with what is kept for them: for somebody who comes into one later it is made again,
 * which costs less than keeping it up to date for nobody. Only while the roster lock is held alone.
 * @returns The others.
 */
export async function dropEmptySets(tx: Transaction, sets: readonly number[]): Promise<number[]> {
  const empty = (
    await rows<{ id: number }>(
      tx,
      sql`select s.id from membership_set s where s.id = any(${ids(sets)}) and s.key <> '' and not exists (select 1 from person p where p.set_id = s.id)`,
    )
  ).map(({ id }) => id);
  if (empty.length === 0) return [...sets];
  await tx.execute(sql`insert into standing_settled (set_id) select unnest(${ids(empty)})`);
  for (const table of ['entitlement', 'membership_set_group', 'set_in_branch', 'standing', 'standing_mark'])
    await tx.execute(sql`delete from ${sql.identifier(table)} where set_id = any(${ids(empty)})`);
  await tx.delete(tables.membershipSet).where(isAmong(tables.membershipSet.id, empty));
  const gone = new Set(empty);
  return sets.filter((id) => !gone.has(id));
}

/** Sets are locked in the order of their ids, so that two changes that touch the same ones never wait for each other in a ring. */
async function countByDifference(tx: Transaction, changed: readonly (Place & { now_set: number })[]): Promise<void> {
  const differences = new Map<number, { counted: number; alike: number }>();
  const add = (set: number, counted: boolean, own: boolean, sign: 1 | -1): void => {
    const known = differences.get(set) ?? { counted: 0, alike: 0 };
    known.counted += counted ? sign : 0;
    known.alike += counted && !own ? sign : 0;
    differences.set(set, known);
  };
  for (const each of changed) {
    add(each.was_set, each.was_counted, each.was_own, -1);
    add(each.now_set, each.counted, each.own, 1);
  }
  const list = [...differences].flatMap(([set, { counted, alike }]) => (counted === 0 && alike === 0 ? [] : [{ set, counted, alike }]));
  if (list.length === 0) return;
  const sets = ids(list.map(({ set }) => set));
  await tx.execute(sql`select id from membership_set where id = any(${sets}) order by id for no key update`);
  // The ids beside the list: of a list alone PostgreSQL takes it that it is long, and reads all sets.
  await tx.execute(sql`
    update membership_set s set counted = s.counted + d.counted, counted_alike = s.counted_alike + d.alike
    from jsonb_to_recordset(${JSON.stringify(list)}::jsonb) as d("set" bigint, counted int, alike int) where s.id = any(${sets}) and s.id = d."set"`);
}

async function recount(tx: Transaction): Promise<void> {
  const of = (condition: SQL): SQL => sql`count(p.id) filter (where ${condition})`;
  await tx.execute(sql`
    update membership_set s set counted = n.counted, counted_alike = n.alike
    from (
      select s.id, ${of(sql`p.counted`)} as counted, ${of(sql`p.counted and not p.own_windows`)} as alike
      from membership_set s left join person p on p.set_id = s.id group by s.id
    ) n where n.id = s.id and (s.counted, s.counted_alike) is distinct from (n.counted::int, n.alike::int)`);
}

/** Which branches each set touches, from scratch; after groups have moved. */
export async function rebuildSetBranches(tx: Transaction): Promise<void> {
  await tx.execute(sql`delete from set_in_branch`);
  await tx.execute(
    sql`insert into set_in_branch select distinct b.ancestor_id, g.set_id from membership_set_group g join group_branch b on b.group_id = g.group_id`,
  );
}
