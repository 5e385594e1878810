import type { Day } from '@gate-roster/core';
import { sql, type SQL } from 'drizzle-orm';
import { ids, rows, type Transaction } from '../database/connect.ts';

/** Whom to look at anew: these people, or everybody. */
export type People = readonly number[] | 'all';

const among = (people: People): SQL => (people === 'all' ? sql`true` : sql`p.id = any(${ids(people)})`);

/**
 * Puts people into the set of the groups they are in on this day, and counts the sets that changed.
 * A membership counts while it, its group and every group above are in force.
 * @returns Sets that are new, and people whose windows are their own, now or before.
 */
export async function refreshSets(tx: Transaction, people: People, today: Day): Promise<{ newSets: number[]; ownPeople: number[] }> {
  await tx.execute(
    sql`create temp table if not exists person_now (person_id bigint primary key, key text, counted boolean, own boolean) on commit drop`,
  );
  await tx.execute(sql`truncate person_now`);
  await tx.execute(sql`
    with resting as (
      select distinct b.group_id from group_branch b join group_now g on g.id = b.ancestor_id
      where g.state <> 'active' or g.first_day > ${today} or g.last_day < ${today}
    ), held as (
      select p.id as person_id,
        array_to_string(array_agg(m.group_id order by m.group_id) filter (where m.in_force), ',') as key,
        bool_or(not m.in_force or m.last_day is not null) as has_days
      from person p left join lateral (
        select group_id, last_day, coalesce(first_day <= ${today}, true) and group_id not in (select group_id from resting) as in_force
        from membership where person_id = p.id and until_at is null and coalesce(last_day >= ${today}, true)
      ) m on true
      where ${among(people)} group by p.id
    )
    insert into person_now
    select held.person_id, coalesce(held.key, ''),
      s.active and held.key is not null and held.key <> '',
      coalesce(held.has_days, false) or not s.active or s.last_day is not null or exists (select 1 from access_grant g where g.person_id = held.person_id and g.until_at is null)
        or exists (select 1 from enrolment e join course_terms t on t.course_id = e.course_id and t.until_at is null and t.archived
          where e.person_id = held.person_id and e.is_current and e.status = 'under way')
    from held join lateral (
      select state = 'active' and coalesce(first_day <= ${today}, true) and coalesce(last_day >= ${today}, true) as active, last_day
      from person_state where person_id = held.person_id and until_at is null
      union all select false, null limit 1
    ) s on true`);

  const toldAnew = sql`insert into standing_mark select distinct set_id from person where id in (select person_id from person_now)`;
  await tx.execute(toldAnew);
  const newSets = await rows<{ id: number }>(
    tx,
    sql`
    insert into membership_set (key) select distinct key from person_now on conflict (key) do nothing returning id`,
  );
  if (newSets.length > 0) {
    const created = ids(newSets.map(({ id }) => id));
    await tx.execute(sql`
      insert into membership_set_group select s.id, part::bigint from membership_set s cross join unnest(string_to_array(s.key, ',')) part where s.id = any(${created}) and s.key <> ''`);
    await tx.execute(sql`
      insert into set_in_branch select distinct b.ancestor_id, g.set_id from membership_set_group g join group_branch b on b.group_id = g.group_id where g.set_id = any(${created})`);
  }
  const changed = await rows<{ person_id: number; was_own: boolean; own: boolean; before: number; after: number }>(
    tx,
    sql`
    with was as (select p.id, p.set_id, p.own_windows from person p join person_now n on n.person_id = p.id)
    update person p set set_id = s.id, counted = n.counted, own_windows = n.own
    from person_now n join membership_set s on s.key = n.key join was on was.id = n.person_id
    where p.id = n.person_id and (p.set_id, p.counted, p.own_windows) is distinct from (s.id, n.counted, n.own)
    returning p.id as person_id, was.own_windows as was_own, p.own_windows as own, was.set_id as before, p.set_id as after`,
  );
  await tx.execute(toldAnew);
  if (people === 'all') await countSets(tx, sql`true`);
  else
    await countSets(
      tx,
      sql`s.id = any(${ids(new Set([...newSets.map(({ id }) => id), ...changed.flatMap(({ before, after }) => [before, after])]))})`,
    );
  const own = await rows<{ person_id: number }>(tx, sql`select person_id from person_now where own`);
  return {
    newSets: newSets.map(({ id }) => id),
    ownPeople: [
      ...new Set([...own.map(({ person_id }) => person_id), ...changed.filter(({ was_own }) => was_own).map(({ person_id }) => person_id)]),
    ],
  };
}

async function countSets(tx: Transaction, which: SQL): Promise<void> {
  await tx.execute(sql`
    update membership_set s set counted = n.counted, counted_alike = n.alike
    from (
      select s.id, count(p.id) filter (where p.counted) as counted, count(p.id) filter (where p.counted and not p.own_windows) as alike
      from membership_set s left join person p on p.set_id = s.id where ${which} group by s.id
    ) n where n.id = s.id and (s.counted, s.counted_alike) is distinct from (n.counted::int, n.alike::int)`);
}

/** Which branches each set touches, anew; after groups have moved. */
export async function rebuildSetBranches(tx: Transaction): Promise<void> {
  await tx.execute(sql`delete from set_in_branch`);
  await tx.execute(
    sql`insert into set_in_branch select distinct b.ancestor_id, g.set_id from membership_set_group g join group_branch b on b.group_id = g.group_id`,
  );
}
