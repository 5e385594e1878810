import { createHash } from 'node:crypto';
import type { Answer, LiveTopic, Look, Routes } from '@gate-roster/contract';
import { type Change, type CourseEffect, digestText, type Effects, isBlocked, type Who } from '@gate-roster/core';
import { sql } from 'drizzle-orm';
import { refreshEntitlements } from '../access/entitlements.ts';
import type { SignedIn } from '../accounts/actor.ts';
import { type Database, ids, maybeRow, oneRow, type Queryable, rows, type Transaction } from '../database/connect.ts';
import { planBringInRoster } from '../entry/bring-in-roster.ts';
import { rebuildBranches } from '../groups/branches.ts';
import { groupsInBranches, wholeTree } from '../groups/queries.ts';
import { ProblemError } from '../http/problem.ts';
import { announce } from '../live/announce.ts';
import { rebuildSetBranches, refreshSets } from '../people/membership-sets.ts';
import { planGrantAccess } from './grant-access.ts';
import { planAddMembers, planRemoveMembers } from './members.ts';
import type { Plan, PlanContext, Planner, Touched } from './plan.ts';
import { planRenameGroup } from './rename-group.ts';
import { deleteUnused, planUndo } from './undo.ts';
import { ChangeWriter } from './writer.ts';

const planners: { [K in Change['kind']]: Planner<K> } = {
  'bring-in-roster': planBringInRoster,
  'grant-access': planGrantAccess,
  'add-members': planAddMembers,
  'remove-members': planRemoveMembers,
  'rename-group': planRenameGroup,
  undo: planUndo,
};

/** Works a change out without doing it. */
export async function planChange(db: Queryable, actor: SignedIn, change: Change): Promise<Plan> {
  const own =
    actor.role === 'administrator'
      ? null
      : await groupsInBranches(
          db,
          actor.leaderships.map(({ groupId }) => groupId),
        );
  const context: PlanContext = { db, actor, today: actor.today, tree: await wholeTree(db), seen: own && ((groupId) => own.has(groupId)) };
  return (planners[change.kind] as Planner<Change['kind']>)(context, change);
}

/** Changes take place one after the other: each is looked at again with nothing moving under it. */
const changeLock = 7_401_002;

/**
 * Applies a change whose effects were seen.
 * The same request id twice is one change; the second call gets the first one's answer.
 * @throws ProblemError `effects-differ` with the new look when the digest no longer fits; `blocked` when something stands in the way.
 */
export async function applyChange(
  db: Database,
  actor: SignedIn,
  change: Change,
  digest: string,
  requestId: string,
): Promise<Answer<Routes['apply']>> {
  return db.transaction(async (tx) => {
    await tx.execute(sql`select pg_advisory_xact_lock(${changeLock})`);
    const earlier = await maybeRow<{ id: number; kind: string; actor_id: number | null; counts: { gained?: number; newPeople?: number } }>(
      tx,
      sql`
      select id, kind, actor_id, summary -> 'counts' as counts from change_log where request_id = ${requestId}`,
    );
    if (earlier) {
      if (earlier.actor_id !== actor.personId || earlier.kind !== change.kind) throw new ProblemError('request-id-reused');
      return { changeId: earlier.id, gained: earlier.counts.gained ?? 0, newPeople: earlier.counts.newPeople ?? 0 };
    }
    const plan = await planChange(tx, actor, change);
    const seen = await lookOf(tx, plan.effects);
    if (isBlocked(plan.effects)) throw new ProblemError('blocked', { look: seen });
    if (seen.digest !== digest) throw new ProblemError('effects-differ', { look: seen });
    return write(tx, actor, change, plan, seen, requestId);
  });
}

async function write(
  tx: Transaction,
  actor: SignedIn,
  change: Change,
  plan: Plan,
  seen: Look,
  requestId: string,
): Promise<Answer<Routes['apply']>> {
  const summary = { ...plan.summary, counts: { ...plan.summary.counts, gained: seen.gaining, lost: seen.losing } };
  const { id: changeId } = await oneRow<{ id: number }>(
    tx,
    sql`
    insert into change_log (request_id, kind, actor_id, summary, undo_of)
    values (${requestId}, ${change.kind}, ${actor.personId}, ${JSON.stringify(summary)}::jsonb, ${change.kind === 'undo' ? change.changeId : null}) returning id`,
  );
  const writer = new ChangeWriter(tx, changeId);
  const touched = await plan.write(tx, writer);
  const subjects = await writer.finish();
  const groups = new Set([...plan.groups, ...subjects.flatMap(({ group_id }) => group_id ?? [])]);
  await bringUpToDate(tx, actor, touched, [...groups]);

  await tx.execute(sql`insert into change_group (change_id, group_id) select ${changeId}, unnest(${ids(groups)})`);
  await announce(tx, { topics: topicsOf(touched), groups: [...groups] });
  return { changeId, gained: seen.gaining, newPeople: seen.newPeople };
}

/** Everything that is derived, in the same transaction. */
async function bringUpToDate(tx: Transaction, actor: SignedIn, touched: Touched, groups: readonly number[]): Promise<void> {
  if (touched.tree) {
    await rebuildBranches(tx);
    await rebuildSetBranches(tx);
  }
  if (touched.people.length > 0) {
    const { newSets, ownPeople } = await refreshSets(tx, touched.people, actor.today);
    await refreshEntitlements(tx, { sets: newSets, persons: ownPeople, courses: 'all' });
  }
  if (touched.courses.length > 0) {
    // A word spoken at a group reaches nobody but its branch.
    const reached = await rows<{ set_id: number }>(
      tx,
      sql`select distinct set_id from set_in_branch where ancestor_id = any(${ids(groups)})`,
    );
    await refreshEntitlements(tx, { sets: reached.map(({ set_id }) => set_id), persons: 'all', courses: touched.courses });
  }
  await deleteUnused(tx, touched.unused ?? []);
}

function topicsOf(touched: Touched): LiveTopic[] {
  if (touched.people.length > 0) return ['people', 'access', 'progress', 'groups'];
  return touched.courses.length > 0 ? ['access', 'progress', 'groups'] : ['groups', 'people'];
}

/** Counted people for whom the windows of these sets speak. */
export async function peopleOfSets(db: Queryable, sets: readonly number[]): Promise<number[]> {
  if (sets.length === 0) return [];
  return (
    await rows<{ id: number }>(db, sql`select id from person where set_id = any(${ids(sets)}) and counted and not own_windows order by id`)
  ).map(({ id }) => id);
}

/** Effects as they go over the wire: numbers, names of courses and groups, and the digest that stands for them. */
export async function lookOf(db: Queryable, effects: Effects): Promise<Look> {
  const losing = [...effects.loses.map(({ who }) => who), ...effects.leaves.map(({ who }) => who), ...effects.joins.map(({ who }) => who)];
  const setsOfLosers = [...new Set(losing.flatMap(({ sets }) => sets))];
  const bySet = new Map<number, number[]>(setsOfLosers.map((set) => [set, []]));
  for (const { id, set_id } of await rows<{ id: number; set_id: number }>(
    db,
    sql`select id, set_id from person where set_id = any(${ids(setsOfLosers)}) and counted and not own_windows`,
  ))
    bySet.get(set_id)?.push(id);
  const text = digestText(effects, (sets) => sets.flatMap((set) => bySet.get(set) ?? []));

  const courseIds = [...effects.gains, ...effects.loses, ...effects.still].map(({ courseId }) => courseId);
  const groupIds = [...effects.joins, ...effects.leaves].map(({ groupId }) => groupId);
  const courses = new Map(
    (await rows<{ id: number; name: string }>(db, sql`select id, name from course where id = any(${ids(courseIds)})`)).map(
      ({ id, name }) => [id, name],
    ),
  );
  const groups = new Map(
    (
      await rows<{ id: number; name: string }>(
        db,
        sql`
    select g.id, case when p.parent_id is null then '' else p.name || ' › ' end || g.name as name from group_now g left join group_now p on p.id = g.parent_id where g.id = any(${ids(groupIds)})`,
      )
    ).map(({ id, name }) => [id, name]),
  );
  const named = ({ courseId, day, people }: CourseEffect): Look['gains'][number] => ({
    courseId,
    course: courses.get(courseId) ?? '',
    day,
    people,
  });
  const onGroup = ({ groupId, people }: Effects['joins'][number]): Look['joins'][number] => ({
    groupId,
    group: groups.get(groupId) ?? '',
    people,
  });
  return {
    digest: createHash('sha256').update(text).digest('base64url'),
    gains: effects.gains.map(named),
    loses: effects.loses.map(named),
    still: effects.still.map(named),
    gaining: await distinctPeople(db, effects, effects.gains),
    losing: await distinctPeople(db, effects, effects.loses),
    joins: effects.joins.map(onGroup),
    leaves: effects.leaves.map(onGroup),
    newPeople: effects.newPeople,
    changedPeople: effects.changedPeople.length,
    takenBack: effects.takenBack.length,
    rows: effects.rows,
    conflicts: effects.conflicts,
  };
}

async function distinctPeople(db: Queryable, effects: Effects, list: readonly { who: Who }[]): Promise<number> {
  const distinct = <K extends keyof Who>(part: K): number[] => [...new Set(list.flatMap(({ who }) => who[part]))];
  const { people } = await oneRow<{ people: number }>(
    db,
    sql`select coalesce(sum(counted_alike), 0)::int as people from membership_set where id = any(${ids(distinct('sets'))})`,
  );
  return people + distinct('persons').length + distinct('newcomers').reduce((sum, index) => sum + (effects.newcomers[index] ?? 0), 0);
}
