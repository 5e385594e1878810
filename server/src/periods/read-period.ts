import type { Answer, Routes } from '@gate-roster/contract';
import { addDays, dayOfMoment } from '@gate-roster/core';
import { sql } from 'drizzle-orm';
import type { SignedIn } from '../accounts/actor.ts';
import { ids, iso, maybeRow, oneRow, type Queryable, rows } from '../database/connect.ts';
import { pathTo, seenPath, wholeTree } from '../groups/queries.ts';
import { remindersInForce } from '../messages/reminders-due.ts';
import { onlyIn } from './close-period.ts';

/** What stands in a branch whose period ends. */
export async function periodOf(db: Queryable, actor: SignedIn, groupId: number): Promise<Answer<Routes['period']>> {
  const path = await pathTo(db, actor, groupId, 'shapeGroups');
  const tree = await wholeTree(db);
  const branch = tree.branch(groupId);
  const here = sql`until_at is null and group_id = any(${ids(branch)})`;
  const counts = await oneRow<Record<'codes' | 'invitations' | 'asking' | 'rules' | 'splits' | 'people' | 'used' | 'stayUsed', number>>(
    db,
    sql`
    select (select count(*)::int from join_code_version where until_at is null and not paused and group_ids && ${ids(branch)}) as codes,
      (select count(*)::int from invitation where ${here}) as invitations,
      (select count(*)::int from join_request where ${here} and state = 'asking') as asking,
      (select count(*)::int from rule_version where ${here} and is_on) as rules,
      (select count(*)::int from split_version where ${here} and runs_until > now()) as splits,
      (select count(distinct person_id)::int from membership where ${here}) as people,
      (select count(*)::int from seat where ${here}) as used,
      (select count(*)::int from seat s join licence_now l on l.licence_id = s.licence_id and l.on_leaving <> 'comes back' where s.until_at is null and s.group_id = any(${ids(branch)})) as "stayUsed"`,
  );
  const members = new Map(
    (
      await rows<{ id: number; people: number }>(
        db,
        sql`select group_id as id, count(*)::int as people from membership where ${here} group by 1`,
      )
    ).map(({ id, people }) => [id, people]),
  );
  const depth = tree.path(groupId).length;
  const { used, stayUsed, ...rest } = counts;
  const parent = seenPath(actor, path).at(-2);
  return {
    ...rest,
    reminders: (await remindersInForce(db, tree, groupId)).size,
    lastDay: tree.node(groupId).lastDay,
    seats: { used, stayUsed },
    onlyHere: (await onlyIn(db, branch)).length,
    groups: branch.map((id) => ({ id, name: tree.node(id).name, depth: tree.path(id).length - depth, people: members.get(id) ?? 0 })),
    parent: parent ?? null,
    closed: await lastClosed(db, actor, groupId),
  };
}

async function lastClosed(db: Queryable, actor: SignedIn, groupId: number): Promise<Answer<Routes['period']>['closed']> {
  const found = await maybeRow<{ changeId: number; at: string; mine: boolean }>(
    db,
    sql`
    select c.id as "changeId", c.made_at as at, c.actor_id = ${actor.personId} as mine from change_log c
    where c.kind = 'close-period' and c.undone_by is null and c.summary -> 'groups' @> to_jsonb(${groupId}::bigint) order by c.id desc limit 1`,
  );
  if (!found) return null;
  const isRecent = addDays(dayOfMoment(new Date(iso(found.at)), actor.timeZone), actor.undoDays) >= actor.today;
  const isTheirs = found.mine || actor.role === 'administrator';
  return { changeId: found.changeId, at: iso(found.at), canUndo: isRecent && isTheirs && !(await hasNextBegun(db, found.changeId)) };
}

/** Has anybody gone on from a closed branch to its next period? Then the close can no longer be undone. */
export const hasNextBegun = async (db: Queryable, changeId: number): Promise<boolean> =>
  (await maybeRow(
    db,
    sql`
    select 1 from change_log c join change_log n on n.kind = 'make-next-period' and n.id > c.id and n.undone_by is null
      and n.summary -> 'groups' = c.summary -> 'groups' and (n.summary -> 'counts' ->> 'people')::int > 0
    where c.id = ${changeId} and c.kind = 'close-period'`,
  )) !== null;
