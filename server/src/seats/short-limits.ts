import type { Look } from '@gate-roster/contract';
import type { SeatEffects } from '@gate-roster/core';
import { sql } from 'drizzle-orm';
import type { SignedIn } from '../accounts/actor.ts';
import { type Queryable, rows } from '../database/connect.ts';
import { mayLimit } from './change-licences.ts';
import { inLineByGroup } from './line.ts';

/** Limits that would keep somebody in line, with their names, and whether the reader may raise them. */
export async function shortLimits(db: Queryable, actor: SignedIn, short: SeatEffects['short']): Promise<Look['seats']['short']> {
  if (short.length === 0) return [];
  const named = await rows<{ licenceId: number; licence: string; groupId: number; group: string; path: number[]; ofLicence: boolean }>(
    db,
    sql`
    select l.licence_id as "licenceId", l.name as licence, g.id as "groupId", g.name as "group",
      array(select b.ancestor_id from group_branch b where b.group_id = g.id order by b.depth desc) as path, s.most >= l.seats and l.group_id = g.id as "ofLicence"
    from jsonb_to_recordset(${JSON.stringify(short)}::jsonb) as s("licenceId" bigint, "groupId" bigint, most int)
    join licence_now l on l.licence_id = s."licenceId" join group_now g on g.id = s."groupId"`,
  );
  const waiting = await inLineByGroup(db);
  return short.flatMap((limit) => {
    const found = named.find(({ licenceId, groupId }) => licenceId === limit.licenceId && groupId === limit.groupId);
    if (!found) return [];
    const { path, ofLicence, ...names } = found;
    // More than the licence has are ordered, not allowed.
    return [
      { ...limit, ...names, waiting: waiting.get(`${limit.licenceId}/${limit.groupId}`) ?? 0, raise: !ofLicence && mayLimit(actor, path) },
    ];
  });
}
