import type { Answer, Routes } from '@gate-roster/contract';
import { sql } from 'drizzle-orm';
import { seenGroups } from '../accounts/reach.ts';
import type { SignedIn } from '../accounts/actor.ts';
import { oneRow, type Queryable, rows } from '../database/connect.ts';
import { wholeTree } from '../groups/queries.ts';
import { notFound } from '../http/problem.ts';
import { groupsOf } from '../people/scope.ts';
import { standingLicence } from './change-licences.ts';
import { gaveUp } from './hand-out-seats.ts';
import { isIdle } from './idle-seats.ts';

const weeksBack = 26;
const idleDays = 60;

/** How a licence was used in a branch at the end of each of the last weeks, and its seats that lie idle there. @throws ProblemError `not-found`. */
export async function seatStory(db: Queryable, actor: SignedIn, groupId: number, licenceId: number): Promise<Answer<Routes['seatStory']>> {
  const licence = await standingLicence(db, licenceId);
  const tree = await wholeTree(db);
  const home = licence?.group_id ?? 0;
  if (!tree.has(home) || !(tree.isInBranch(groupId, home) || tree.isInBranch(home, groupId))) throw notFound();
  const seen = await seenGroups(db, actor);
  const groups = groupsOf(groupId, true);
  const points = await rows<{ day: string; used: number; seats: number | null }>(
    db,
    sql`
    select to_char(d.day, 'YYYY-MM-DD') as day, d.used,
      (select v.seats from licence_version v where v.licence_id = ${licenceId} and v.from_at < d.moment and coalesce(v.until_at >= d.moment, true) order by v.row_id desc limit 1) as seats
    from (
      select w.day, w.moment, (select count(*)::int from seat t where t.licence_id = ${licenceId} and t.group_id in (${groups}) and t.from_at < w.moment and coalesce(t.until_at >= w.moment, true)) as used
      from (select day::date as day, ((day::date + 1)::timestamp at time zone ${actor.timeZone}) as moment from generate_series(${actor.today}::date - ${weeksBack * 7}::int, ${actor.today}::date, '7 days') day) w
    ) d order by d.day`,
  );
  const mayKnow = seen === null || seen.has(home);
  const { people } = await oneRow<{ people: number }>(
    db,
    sql`select count(distinct t.person_id)::int as people from seat t where t.until_at is null and t.licence_id = ${licenceId} and t.group_id in (${groups}) and ${isIdle(idleDays)}`,
  );
  const { waived } = await oneRow<{ waived: number }>(
    db,
    sql`select count(*)::int as waived from ${gaveUp(groups)} and w.licence_id = ${licenceId}`,
  );
  return {
    gaveUp: waived,
    points: points.map(({ day, used, seats }) => ({ day, used, seats: mayKnow ? seats : null })),
    idle: { days: idleDays, people },
  };
}
