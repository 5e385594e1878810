import type { Answer, Routes, SeatList } from '@gate-roster/contract';
import { sql, type SQL } from 'drizzle-orm';
import { iso, oneRow, type Queryable, rows } from '../database/connect.ts';
import { groupsOf } from '../people/scope.ts';
import { gaveUp } from './hand-out-seats.ts';

const peopleAtOnce = 100;

/** Names of the courses for which somebody is in line for a seat. */
export async function coursesInLine(db: Queryable, personId: number): Promise<string[]> {
  const found = await rows<{ name: string }>(
    db,
    sql`select c.name from seat_line l join course_now c on c.id = l.course_id where l.person_id = ${personId} and l.until_at is null order by l.place`,
    { plan: 'kept' },
  );
  return found.map(({ name }) => name);
}

/*
 * Seats in use and people in line are counted and listed from these two sources alone, so that a number and the names behind it
 * cannot differ. `t` is a seat in use; it counts where it is charged. `l` is a place in line; its person counts in each of their
 * groups, once, however many courses they wait for.
 */
const seatsInUseIn = (groups: SQL): SQL => sql`seat t where t.until_at is null and t.group_id in (${groups})`;
const placesIn = (groups: SQL): SQL =>
  sql`seat_line l where l.until_at is null and exists (select 1 from membership m where m.person_id = l.person_id and m.until_at is null and m.group_id in (${groups}))`;
const paidBy = (licenceId: number | null): SQL =>
  licenceId === null
    ? sql`true`
    : sql`exists (select 1 from licence_course x where x.course_id = l.course_id and x.licence_id = ${licenceId} and ${isWanted})`;
/** Somebody in line `l` did not give up their place for a licence `x`; they may still wait for another. */
const isWanted = sql`not exists (select 1 from seat_word w where w.person_id = l.person_id and w.licence_id = x.licence_id and w.until_at is null and w.word = 'gave up')`;
const ofLicence = (licenceId: number | null): SQL => (licenceId === null ? sql`true` : sql`t.licence_id = ${licenceId}`);

/** A place in line `x` waits for a seat of this licence to be given by hand. */
const isHeldBack = (licenceId: number | null): SQL =>
  licenceId === null
    ? sql`false`
    : sql`exists (select 1 from licence_now v left join seat_word w on w.licence_id = v.licence_id and w.person_id = x.person_id and w.until_at is null
        where v.licence_id = ${licenceId} and (coalesce(w.word = 'taken back', false) or (v.by_hand and w.word is distinct from 'given')))`;

/** Seats that are charged in a group or branch, and its people in line; null where no licence pays. */
export async function seatFigures(
  db: Queryable,
  groupId: number,
  withSubgroups: boolean,
): Promise<{ used: number; inLine: number } | null> {
  const groups = groupsOf(groupId, withSubgroups);
  const { pays, ...figures } = await oneRow<{ pays: boolean; used: number; inLine: number }>(
    db,
    sql`
    select exists (select 1 from licence_now l join group_branch b on (b.group_id = l.group_id and b.ancestor_id = ${groupId}) or (b.ancestor_id = l.group_id and b.group_id = ${groupId})) as pays,
      (select count(*)::int from ${seatsInUseIn(groups)}) as used,
      (select count(distinct l.person_id)::int from ${placesIn(groups)}) as "inLine"`,
  );
  return pays ? figures : null;
}

/** People in line for a course that each licence pays for, by licence and group with its branch. */
export async function inLineByGroup(db: Queryable): Promise<Map<string, number>> {
  const found = await rows<{ licence_id: number; group_id: number; people: number }>(
    db,
    sql`
    select x.licence_id, b.ancestor_id as group_id, count(distinct l.person_id)::int as people
    from seat_line l join licence_course x on x.course_id = l.course_id join membership m on m.person_id = l.person_id and m.until_at is null join group_branch b on b.group_id = m.group_id
    where l.until_at is null and ${isWanted} group by 1, 2`,
  );
  return new Map(found.map(({ licence_id, group_id, people }) => [`${licence_id}/${group_id}`, people]));
}

/** Those behind a number of the seats page: who uses a seat or gave up their place, by name; who is in line, in its order. A page at a time. */
export async function peopleWithSeats(
  db: Queryable,
  groupId: number,
  { list, licence = null, after = 0 }: { list: SeatList; licence?: number | null | undefined; after?: number | undefined },
): Promise<Omit<Answer<Routes['seatPeople']>, 'may'>> {
  const groups = groupsOf(groupId, true);
  const byName = sql`row_number() over (order by n.family_name collate people_order, n.given_name collate people_order, n.person_id)`;
  const { source, columns } = {
    'in use': {
      source: sql`${seatsInUseIn(groups)} and ${ofLicence(licence)}`,
      columns: sql`x.row_id as key, x.person_id, x.group_id, null::bigint as course_id, x.got_at as since, false as held, ${byName} as nth`,
    },
    'in line': {
      source: sql`${placesIn(groups)} and ${paidBy(licence)}`,
      columns: sql`x.row_id as key, x.person_id, null::bigint as group_id, x.course_id, x.since, ${isHeldBack(licence)} as held, row_number() over (order by x.place) as nth`,
    },
    'gave up': {
      source: sql`${gaveUp(groups)} and ${licence === null ? sql`true` : sql`w.licence_id = ${licence}`}`,
      columns: sql`x.row_id as key, x.person_id, null::bigint as group_id, null::bigint as course_id, x.from_at as since, true as held, ${byName} as nth`,
    },
  }[list];
  const found = await rows<{ key: number; id: number; name: string; about: string; since: string; isHeld: boolean; nth: number }>(
    db,
    sql`
    select x.key, n.person_id as id, trim(n.given_name || ' ' || n.family_name) as name, coalesce(g.name, c.name, '') as about, x.since, x.held as "isHeld", x.nth
    from (select ${columns} from (select * from ${source}) x join personal_now n on n.person_id = x.person_id) x
    join personal_now n on n.person_id = x.person_id left join group_now g on g.id = x.group_id left join course_now c on c.id = x.course_id
    where x.nth > ${after} order by x.nth limit ${peopleAtOnce + 1}`,
  );
  const { total } = await oneRow<{ total: number }>(db, sql`select count(distinct person_id)::int as total from ${source}`);
  const page = found.slice(0, peopleAtOnce);
  return {
    people: page.map(({ nth: _nth, since, ...each }) => ({ ...each, since: iso(since) })),
    next: found.length > peopleAtOnce ? (page.at(-1)?.nth ?? null) : null,
    total,
  };
}
