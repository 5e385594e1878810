import { type SeatWay } from '@gate-roster/core';
import { sql, type SQL } from 'drizzle-orm';
import { ids, type Queryable, rows } from '../database/connect.ts';
import type { SeatBook } from './load-seats.ts';

/** Whose seats a change can be about, apart from those in line who may be served by it. */
export interface Concerned {
  people?: readonly number[] | undefined;
  /** Courses of which something else is said: all who need a seat for one, have one that pays for it, or wait for it. */
  courses?: readonly number[] | 'all' | undefined;
  /** Licences that pay otherwise than before: all who have a seat of one. */
  licences?: readonly number[] | undefined;
  /** Groups that stand elsewhere, or are gone or back: all whose seat is charged there, or to a licence at home there. */
  placed?: readonly number[] | undefined;
}

/** Everybody with a seat, in line for one, or who needs one. */
export const everybody: Concerned = { courses: 'all' };

/** The people whom a change concerns by itself. */
export async function concernedPeople(
  db: Queryable,
  { people = [], courses = [], licences = [], placed = [] }: Concerned,
): Promise<number[]> {
  const isAll = courses === 'all';
  const about = isAll ? sql`true` : sql`x.course_id = any(${ids(courses)})`;
  const nobody = sql`select null::bigint where false`;
  const forCourses = !isAll && courses.length === 0 ? nobody : ofCourses(about, isAll);
  const found = await rows<{ id: number }>(
    db,
    sql`
    select id from unnest(${ids(people)}) id
    union ${forCourses}
    union ${licences.length === 0 ? nobody : sql`select s.person_id from seat s where s.until_at is null and s.licence_id = any(${ids(licences)})`}
    union ${placed.length === 0 ? nobody : ofGroups(placed)}`,
  );
  return found.map(({ id }) => id);
}

/** Groups that are gone have no branch any more. */
const ofGroups = (placed: readonly number[]): SQL => sql`(
  with moved as materialized (select unnest(${ids(placed)}) as id union select group_id from group_branch where ancestor_id = any(${ids(placed)}))
  select s.person_id from seat s where s.until_at is null
    and (s.group_id in (select id from moved) or s.licence_id in (select licence_id from licence_version where group_id in (select id from moved)))
)`;

const ofCourses = (about: SQL, isAll: boolean): SQL => sql`(
  with open as materialized (select x.set_id, x.person_id from entitlement x where ${about} and x.needs_seat)
  select p.id from person p join open o on o.set_id = p.set_id where p.counted and not p.own_windows
  union select p.id from person p join open o on o.person_id = p.id where p.own_windows
  union select s.person_id from seat s where s.until_at is null and (${isAll} or exists (select 1 from licence_course x where x.licence_id = s.licence_id and ${about}))
  union select x.person_id from seat_line x where x.until_at is null and ${about}
)`;

/**
 * Those in line who could get a seat: by a group in which a licence has room, also when everything that those concerned have comes back.
 * Who waits for what is full is not read at all, however long the line.
 */
export async function lineWithRoom(db: Queryable, book: SeatBook, held: readonly SeatWay[]): Promise<number[]> {
  for (const way of held) book.room.release(way);
  const open = book.licences.map(({ id, homeId, covers }) => ({ covers, groups: book.room.groupsWithRoom(id, homeId) }));
  for (const way of held) book.room.charge(way);
  const found: { id: number }[] = [];
  for (const { covers, groups } of open)
    if (groups.length > 0)
      for (const each of await rows<{ id: number }>(
        db,
        sql`
        select l.person_id as id from seat_line l where l.until_at is null and l.course_id = any(${ids(covers)})
          and exists (select 1 from membership m where m.person_id = l.person_id and m.until_at is null and m.group_id = any(${ids(groups)}))`,
      ))
        found.push(each);
  return [...new Set(found.map(({ id }) => id))];
}
