import { type Day, dayOfMoment } from '@gate-roster/core';
import { gt, sql, type SQL } from 'drizzle-orm';
import type { ProgressSight } from '../accounts/reach.ts';
import { type Database, firstOf, ids, isAmong, oneRow, planFor, type Queryable, rows, type Transaction } from '../database/connect.ts';
import * as tables from '../database/schema.ts';
import { lacksSeat, ownDueDays } from './due-days.ts';
import { countedWork, summedTally, tallyArm, tallyColumns, workArm } from './tally-columns.ts';

/*
 * The standing of a membership set: what the enrolments of its counted learners come to, per course and in all. Everybody has
 * one set, so that what a branch comes to is the sum over the sets that touch it, and nobody is counted twice.
 *
 * Standings are kept for the day. Whatever alters one marks the set in the same transaction, takes no lock that others wait
 * for, and a few seconds later the marked ones are worked out anew; until then, readers work those out themselves. So what is
 * read is always what holds.
 */

const keeperLock = 7_401_004;

export const onDay = (today: Day): SQL => sql`coalesce(x.first_day <= ${today}, true) and coalesce(x.last_day >= ${today}, true)`;

/**
 * Works standings out. Entitled and work are added up per set and course; *not begun* is entitled without work, and where all
 * of a set are due on one day, overdue is whoever of them is neither done nor exempt. Only people with windows or due days
 * of their own are looked at one by one. Whoever stands in line for a seat is never overdue.
 * @param sight What the reader sees; null: everything.
 * @returns A statement for rows of set_id, course_id, the columns of a tally, and whole.
 */
export function workedOut(sets: readonly number[], sight: ProgressSight, today: Day): SQL {
  const via = sight?.via ?? null;
  // Mostly it is a group of the set itself, and those are few.
  const visible = (column: SQL): SQL => (via === null ? sql`true` : sql`(${column} && s.seen or ${column} && ${ids(via)})`);
  /** How many of these are not seen by everybody who sees the set's groups. */
  const hidden = (column: SQL, count: SQL): SQL => (via === null ? sql`case when ${column} && s.groups then 0 else ${count} end` : sql`0`);
  const isBegun = sql`(e.status <> 'not begun' or e.exempt)`;
  const isSettled = sql`(e.status = 'done' or e.exempt)`;
  return sql`
    with sets as materialized (
      select s.id, s.counted_alike, array(select group_id from membership_set_group where set_id = s.id) as groups,
        array(select group_id from membership_set_group where set_id = s.id and ${via === null ? sql`false` : sql`group_id = any(${ids(via)})`}) as seen
      from membership_set s where s.id = any(${ids(sets)}) and s.counted > 0
    ),
    open as materialized (
      select x.id, x.set_id, x.course_id, x.due_day, x.due_is_own, not x.due_is_own and x.due_day < ${today} as is_late, x.needs_seat, x.payers, x.other_payers, s.counted_alike, ${hidden(sql`x.via_groups`, sql`1`)} as hidden
      from entitlement x join sets s on s.id = x.set_id where ${onDay(today)} and ${visible(sql`x.via_groups`)}
    ),
    worked as materialized (
      select p.set_id, e.course_id, ${visible(sql`e.via_groups`)} as is_visible, count(*) filter (where ${isBegun}) as begun, ${countedWork}, sum(${hidden(sql`e.via_groups`, sql`1`)}) as hidden
      from enrolment e join person p on p.id = e.person_id join sets s on s.id = p.set_id
      where e.is_current and p.counted and not p.own_windows group by 1, 2, 3
    ),
    work as (
      select w.*, case when o.id is null then w.begun else 0 end as loose, case when o.is_late then w.done + w.exempt else 0 end as settled, case when o.id is null then w.hidden else 0 end as loose_hidden
      from worked w left join open o on o.set_id = w.set_id and o.course_id = w.course_id where o.id is not null or w.is_visible
    ),
    own as materialized (
      select x.id, p.set_id, x.course_id, x.due_day, x.due_is_own, x.needs_seat, x.payers, x.other_payers, p.id as person_id, ${hidden(sql`x.via_groups`, sql`1`)} as hidden
      from entitlement x join person p on p.id = x.person_id join sets s on s.id = p.set_id
      where p.counted and p.own_windows and ${onDay(today)} and ${visible(sql`x.via_groups`)}
    ),
    own_work as (
      select p.set_id, e.course_id, count(*) filter (where w.id is null and ${isBegun}) as loose, ${countedWork}, sum(case when w.id is null then ${hidden(sql`e.via_groups`, sql`1`)} else 0 end) as hidden
      from enrolment e join person p on p.id = e.person_id join sets s on s.id = p.set_id left join own w on w.person_id = e.person_id and w.course_id = e.course_id
      where e.is_current and p.counted and p.own_windows and (w.id is not null or ${visible(sql`e.via_groups`)}) group by 1, 2
    ),
    candidates as materialized (
      select x.id, x.set_id, x.course_id, x.due_day, x.due_is_own, x.person_id
      from (
        select o.id, o.set_id, o.course_id, o.due_day, o.due_is_own, o.needs_seat, o.payers, o.other_payers, p.id as person_id
        from open o join person p on p.set_id = o.set_id and p.counted and not p.own_windows where o.due_is_own
        union all
        select id, set_id, course_id, due_day, due_is_own, needs_seat, payers, other_payers, person_id from own where due_is_own or due_day < ${today}
      ) x left join enrolment e on e.person_id = x.person_id and e.course_id = x.course_id and e.is_current
      where not coalesce(${isSettled}, false) and not (x.needs_seat and ${lacksSeat(sql`x.person_id`)})
    ),
    due as materialized (${ownDueDays(sql`select id as window_id, person_id from candidates where due_is_own`, today)}),
    parts as (
      select set_id, course_id, ${tallyArm({ all: sql`counted_alike::bigint`, overdue: sql`case when is_late then counted_alike else 0 end` })}, hidden from open
      union all
      select set_id, course_id, ${workArm({ all: sql`loose`, overdue: sql`-settled` })}, loose_hidden from work
      union all
      select set_id, course_id, ${tallyArm({ all: sql`count(*)` })}, sum(hidden) from own group by 1, 2
      union all
      select set_id, course_id, ${workArm({ all: sql`loose` })}, hidden from own_work
      union all
      select x.set_id, x.course_id, ${tallyArm({ overdue: sql`-count(*)` })}, 0
      from open x join person p on p.set_id = x.set_id and p.counted and not p.own_windows
      left join enrolment e on e.person_id = p.id and e.course_id = x.course_id and e.is_current
      where x.is_late and x.needs_seat and not coalesce(${isSettled}, false) and ${lacksSeat(sql`p.id`)} group by 1, 2
      union all
      select d.set_id, d.course_id, ${tallyArm({ overdue: sql`count(*)` })}, 0
      from candidates d left join due on due.window_id = d.id and due.person_id = d.person_id
      where (case when d.due_is_own then due.due else d.due_day end) < ${today} group by 1, 2
    )
    select set_id, course_id, ${summedTally}, sum(hidden) = 0 as whole from parts group by 1, 2`;
}

/**
 * Sets of a scope without a kept standing that serves this asker: of the day, not marked, and for a leader one of which they
 * see all.
 */
export async function setsToWorkOut(db: Queryable, scope: SQL, sight: ProgressSight, today: Day): Promise<number[]> {
  const isSeen =
    sight === null
      ? sql`true`
      : sql`k.whole and not exists (select 1 from membership_set_group g where g.set_id = k.set_id and g.group_id <> all(${ids(sight.via)}))`;
  const found = await rows<{ id: number }>(
    db,
    sql`
    with others as materialized (
      select s.id from membership_set s where s.counted > 0 and not exists (select 1 from standing k where k.set_id = s.id and k.course_id = 0 and k.day = ${today} and ${isSeen})
      union select set_id from standing_mark
    )
    select id from others where id in (select set_id from (${scope}) scope)`,
  );
  return found.map(({ id }) => id);
}

/** Says that somebody's work alters the standing of their set. The person is locked, so that a move to another set waits, or is waited for. */
export async function markStandings(tx: Transaction, people: readonly number[]): Promise<void> {
  await tx.execute(
    sql`with held as (select set_id from person where id = any(${ids(people)}) order by id for no key update) insert into standing_mark select distinct set_id from held`,
  );
}

/** Marks the sets of all who have worked on these courses. */
export async function markLearnersOf(tx: Transaction, courses: readonly number[]): Promise<void> {
  await tx.execute(sql`
    insert into standing_mark select distinct p.set_id from enrolment e join person p on p.id = e.person_id
    where e.course_id = any(${ids(courses)}) and e.is_current`);
}

/** Lets go of all that is kept, for a rebuild. */
export async function forgetStandings(tx: Transaction): Promise<void> {
  await tx.execute(sql`select pg_advisory_xact_lock(${keeperLock})`);
  await tx.execute(sql`delete from standing`);
}

/** Keeps standings up: those that are marked, and on a new day all. Any number of processes may try, one does it. */
export async function keepStandings(db: Database, now: Date): Promise<void> {
  const site = await firstOf(db.select({ time_zone: tables.organisation.timeZone }).from(tables.organisation));
  if (!site) return;
  const today = dayOfMoment(now, site.time_zone);
  await db.transaction(
    async (tx) => {
      const { mine } = await oneRow<{ mine: boolean }>(tx, sql`select pg_try_advisory_xact_lock(${keeperLock}) as mine`);
      if (!mine) return;
      const due = (
        await rows<{ id: number }>(
          tx,
          sql`
          with marked as (delete from standing_mark returning set_id, in_transaction),
          settled as (insert into standing_settled (set_id, in_transaction) select set_id, max(in_transaction) from marked group by 1)
          select set_id as id from marked
          union select s.id from membership_set s where s.counted > 0 and not exists (select 1 from standing k where k.set_id = s.id and k.course_id = 0 and k.day = ${today})`,
        )
      ).map(({ id }) => id);
      if (due.length > 0) await keepStandingsOf(tx, due, today);
    },
    { isolationLevel: 'repeatable read' },
  );
}

/** Works out and keeps what these sets come to on a day; null: all sets that count. */
export async function keepStandingsOf(tx: Transaction, sets: readonly number[] | null, today: Day): Promise<void> {
  const due =
    sets ??
    (await tx.select({ id: tables.membershipSet.id }).from(tables.membershipSet).where(gt(tables.membershipSet.counted, 0))).map(
      ({ id }) => id,
    );
  await tx.delete(tables.standing).where(isAmong(tables.standing.setId, due));
  await rows(
    tx,
    sql`
    insert into standing (set_id, course_id, day, ${tallyColumns}, whole)
    select set_id, coalesce(course_id, 0), ${today}::date, ${summedTally}, bool_and(whole)
    from (${workedOut(due, null, today)}) w group by grouping sets ((set_id, course_id), (set_id))`,
    planFor(due.length),
  );
  // A set to which nothing is open has a standing too: that there is nothing.
  await tx.execute(sql`
    insert into standing (set_id, course_id, day, ${tallyColumns}, whole)
    select s.id, 0, ${today}::date, ${tallyArm({})}, true from membership_set s where s.counted > 0 and s.id = any(${ids(due)}) on conflict do nothing`);
}

const longMilliseconds = 500;

/**
 * Keeps standings up, and rests twice as long as a long run took: while much comes in it would work all the time, and a report works out
 * what is marked by itself.
 */
export function standingsKeeper(db: Database, now: () => Date): () => Promise<void> {
  let restsUntil = 0;
  return async () => {
    const from = performance.now();
    if (from < restsUntil) return;
    await keepStandings(db, now());
    const took = performance.now() - from;
    restsUntil = took > longMilliseconds ? performance.now() + 2 * took : 0;
  };
}
