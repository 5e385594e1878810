import { may } from '@gate-roster/core';
import { sql } from 'drizzle-orm';
import { iso, oneRow, rows } from '../database/connect.ts';
import { pathTo } from '../groups/queries.ts';
import type { Deps } from '../http/deps.ts';
import type { Handlers } from '../http/handle.ts';
import { seatSheets } from './sheets.ts';

const lineAtOnce = 100;

export const seatHandlers = ({ db }: Deps): Handlers => ({
  async seats({ actor, params: { groupId } }) {
    await pathTo(db, actor, groupId);
    return {
      licences: await seatSheets(db, actor, groupId),
      mayMake: may(actor, 'administer', { path: [groupId] }),
      courseSets: await rows<{ id: number; name: string }>(db, sql`select id, name from course_set order by position`),
    };
  },

  async seatLine({ actor, params: { groupId }, query }) {
    await pathTo(db, actor, groupId);
    const inScope = sql`l.until_at is null and (${query.course ?? null}::bigint is null or l.course_id = ${query.course ?? null})
      and exists (select 1 from membership m join group_branch b on b.group_id = m.group_id where m.person_id = l.person_id and m.until_at is null and b.ancestor_id = ${groupId})`;
    const found = await rows<{
      line_id: number;
      id: number;
      name: string;
      course_id: number;
      course: string;
      since: string;
      place: number;
    }>(
      db,
      sql`
      select l.id as line_id, n.person_id as id, trim(n.given_name || ' ' || n.family_name) as name, c.id as course_id, c.name as course, l.since, l.place
      from seat_line l join personal_now n on n.person_id = l.person_id join course c on c.id = l.course_id
      where ${inScope} and l.place > ${query.after ?? 0} order by l.place limit ${lineAtOnce + 1}`,
    );
    const { total } = await oneRow<{ total: number }>(db, sql`select count(*)::int as total from seat_line l where ${inScope}`);
    const page = found.slice(0, lineAtOnce);
    return {
      people: page.map((row) => ({
        lineId: row.line_id,
        id: row.id,
        name: row.name,
        course: { id: row.course_id, name: row.course },
        since: iso(row.since),
      })),
      next: found.length > lineAtOnce ? (page.at(-1)?.place ?? null) : null,
      total,
    };
  },
});
