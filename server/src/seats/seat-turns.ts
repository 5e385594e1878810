import type { Day, Tree } from '@gate-roster/core';
import { sql } from 'drizzle-orm';
import { type Queryable, rows } from '../database/connect.ts';

const weeksBack = 8;

interface Turns {
  /** By how many the seats in use grew in each of the last weeks, oldest first. */
  weeks: number[];
  /** Seats that began or ended in them. */
  turned: number;
  /** Seats whose membership has a last day: they end after it. */
  known: { day: Day; by: number }[];
}

/** How seats began and ended in the last weeks, by licence and by group with all below it. A seat that was charged elsewhere meanwhile neither began nor ended. */
export async function seatTurns(db: Queryable, tree: Tree, today: Day): Promise<(licenceId: number, groupId: number) => Turns> {
  const list = await rows<{ licence_id: number; group_id: number; week: number; begun: number; ended: number }>(
    db,
    sql`
    select licence_id, group_id, week, sum(begun)::int as begun, sum(ended)::int as ended from (
      select s.licence_id, s.group_id, ((s.from_at::date - (${today}::date - ${weeksBack * 7}::int)) / 7) as week, 1 as begun, 0 as ended from seat s
        where s.from_at::date > ${today}::date - ${weeksBack * 7}::int and s.from_at::date <= ${today} and not exists (
          select 1 from seat b where b.licence_id = s.licence_id and b.person_id = s.person_id and b.until_at = s.from_at and b.row_id < s.row_id)
      union all
      select s.licence_id, s.group_id, ((s.until_at::date - (${today}::date - ${weeksBack * 7}::int)) / 7), 0, 1 from seat s
        where s.until_at::date > ${today}::date - ${weeksBack * 7}::int and not exists (
          select 1 from seat n where n.licence_id = s.licence_id and n.person_id = s.person_id and n.from_at = s.until_at and n.row_id > s.row_id)
    ) t group by 1, 2, 3`,
  );
  const leaving = await rows<{ licence_id: number; group_id: number; day: Day; seats: number }>(
    db,
    sql`
    select s.licence_id, s.group_id, m.last_day + 1 as day, count(*)::int as seats from seat s
    join membership m on m.person_id = s.person_id and m.group_id = s.group_id and m.until_at is null and m.last_day >= ${today} where s.until_at is null group by 1, 2, 3`,
  );
  const within = (below: number, groupId: number): boolean => tree.has(below) && tree.path(below).includes(groupId);
  return (licenceId, groupId) => {
    const turns: Turns = { weeks: Array.from({ length: weeksBack }, () => 0), turned: 0, known: [] };
    for (const { licence_id, group_id, week, begun, ended } of list) {
      if (licence_id !== licenceId || !within(group_id, groupId)) continue;
      const place = Math.min(week, weeksBack - 1);
      turns.weeks[place] = (turns.weeks[place] ?? 0) + begun - ended;
      turns.turned += begun + ended;
    }
    for (const { licence_id, group_id, day, seats } of leaving)
      if (licence_id === licenceId && within(group_id, groupId)) turns.known.push({ day, by: -seats });
    return turns;
  };
}
