import { sql } from 'drizzle-orm';
import { oneRow, type Queryable, rows } from '../database/connect.ts';
import { groupsOf } from '../people/scope.ts';

/** Names of the courses for which somebody stands in line for a seat. */
export async function coursesInLine(db: Queryable, personId: number): Promise<string[]> {
  const found = await rows<{ name: string }>(
    db,
    sql`select c.name from seat_line l join course c on c.id = l.course_id where l.person_id = ${personId} and l.until_at is null order by l.place`,
  );
  return found.map(({ name }) => name);
}

/** Seats that are charged in a group or branch, and its people in line; null where no licence pays. */
export async function seatFigures(
  db: Queryable,
  groupId: number,
  withSubgroups: boolean,
): Promise<{ used: number; inLine: number } | null> {
  const { pays, ...figures } = await oneRow<{ pays: boolean; used: number; inLine: number }>(
    db,
    sql`
    select exists (select 1 from licence_now l join group_branch b on (b.group_id = l.group_id and b.ancestor_id = ${groupId}) or (b.ancestor_id = l.group_id and b.group_id = ${groupId})) as pays,
      (select count(*)::int from seat where until_at is null and group_id in (${groupsOf(groupId, withSubgroups)})) as used,
      (select count(distinct l.person_id)::int from seat_line l join membership m on m.person_id = l.person_id and m.until_at is null
        where l.until_at is null and m.group_id in (${groupsOf(groupId, withSubgroups)})) as "inLine"`,
  );
  return pays ? figures : null;
}
