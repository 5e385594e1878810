import { randomUUID } from 'node:crypto';
import type { Answer, Change, ChangeKind, Look, Routes } from '@gate-roster/contract';
import { isBlocked, type Power } from '@gate-roster/core';
import { sql } from 'drizzle-orm';
import { maybeActor, type SignedIn } from '../accounts/actor.ts';
import { checkCoursesSeen } from '../courses/own-courses.ts';
import { maybeRow, type Queryable, type Transaction } from '../database/connect.ts';
import { groupsInBranches, wholeTree } from '../groups/queries.ts';
import type { Deps } from '../http/deps.ts';
import { ProblemError } from '../http/problem.ts';
import { lockPeople } from '../people/membership-sets.ts';
import { lockLicences } from '../seats/settle.ts';
import { lookOf } from './look.ts';
import { planAhead, type PlannedAhead, stillHolds } from './plan-ahead.ts';
import { type ChangeModule, namesMany, type Plan, type PlanContext } from './plan.ts';
import { recordChange } from './record.ts';
import { changeModules } from './registry.ts';
import { type LockMode, withRosterLock } from './roster-lock.ts';

/** What a leader needs to make a change of a kind, and so to undo it; undefined: it is an administrator's. */
const powerFor = (kind: string): Power | undefined =>
  kind in changeModules ? (changeModules[kind as ChangeKind].power ?? undefined) : undefined;

/** Works a change out without doing it. */
export async function planChange(
  db: Queryable,
  actor: SignedIn,
  change: Change,
  publicUrl: string,
  { told, isRule, isAhead }: Pick<PlanContext, 'told' | 'isRule' | 'isAhead'> = {},
): Promise<Plan> {
  const own =
    actor.role === 'administrator'
      ? null
      : await groupsInBranches(
          db,
          actor.leaderships.map(({ groupId }) => groupId),
        );
  const seen = own && ((groupId: number) => own.has(groupId));
  const planOf = (part: Change): Promise<Plan> => (changeModules[part.kind] as ChangeModule<ChangeKind>).plan(context, part);
  const context: PlanContext = {
    db,
    actor,
    today: actor.today,
    tree: await wholeTree(db),
    seen,
    publicUrl,
    told,
    powerFor,
    planOf,
    ...(isRule ? { isRule } : {}),
    ...(isAhead ? { isAhead } : {}),
  };
  await checkCoursesSeen(context, change);
  return planOf(change);
}

/** What a change would do, to be shown to the one who makes it. */
export async function lookAtChange(db: Queryable, actor: SignedIn, change: Change, publicUrl: string): Promise<Look> {
  return lookOf(db, actor, (await planChange(db, actor, change, publicUrl)).effects);
}

/**
 * Applies a change whose effects were seen.
 * The same request id twice is one change; the second call gets the first one's answer.
 * @throws ProblemError `effects-differ` with the new look when the digest no longer fits; `blocked` when something stands in the way.
 */
export async function applyChange(
  { db, settings, now }: Pick<Deps, 'db' | 'settings' | 'now'>,
  actorId: number,
  change: Change,
  seen: { digest: string; requestId: string; told?: PlanContext['told'] },
): Promise<Answer<Routes['apply']>> {
  const { plansAhead } = changeModules[change.kind] as ChangeModule<ChangeKind>;
  const ahead =
    plansAhead === 'always' || (plansAhead === 'of many' && namesMany(change))
      ? await planAhead(db, actorId, now, (tx, actor) => planned(tx, actor, change, settings.publicUrl, seen.told))
      : null;
  const apply = (mode: LockMode): Promise<Answer<Routes['apply']>> =>
    withRosterLock(db, mode, async (tx) => {
      // Who acts, and which day it is, is asked under the lock: both may be minutes old behind a file.
      const actor = await maybeActor(tx, actorId, now());
      if (!actor) throw new ProblemError('not-signed-in');
      return applyIn(tx, actor, change, { ...seen, publicUrl: settings.publicUrl, mode, ahead });
    });
  const mode = lockFor(change);
  if (mode === 'alone') return apply(mode);
  return apply(mode).catch((error: unknown) => {
    if (error instanceof NotOnlyAdding) return apply('alone');
    throw error;
  });
}

/** A change that looked as if it only added does more, and has to be alone. */
class NotOnlyAdding extends Error {}

const mostAtOnce = 20;

/** How a change holds the lock, as far as it can be told from what is asked; its plan may say that it has to be alone. */
function lockFor(change: Change): LockMode {
  switch (change.kind) {
    case 'add-members':
      return change.personIds.length <= mostAtOnce ? 'shared' : 'long';
    case 'tag-people':
      return change.remove.length > 0 ? 'alone' : change.personIds.length <= mostAtOnce ? 'shared' : 'long';
    case 'mark-work':
      return 'shared';
    case 'decide-requests':
      return change.decision === 'let in' && change.asPerson === null && change.requestIds.length <= mostAtOnce ? 'shared' : 'alone';
    case 'bring-in-roster':
      return change.mode === 'replace' ? 'alone' : change.fileId === undefined && change.rows.length <= mostAtOnce ? 'shared' : 'long';
    default:
      return 'alone';
  }
}

async function planned(
  tx: Transaction,
  actor: SignedIn,
  change: Change,
  publicUrl: string,
  told: PlanContext['told'],
): Promise<{ plan: Plan; seen: Look }> {
  const plan = await planChange(tx, actor, change, publicUrl, { told, isAhead: true });
  return { plan, seen: await lookOf(tx, actor, plan.effects) };
}

async function applyIn(
  tx: Transaction,
  actor: SignedIn,
  change: Change,
  {
    digest,
    requestId,
    publicUrl,
    told,
    mode,
    ahead,
  }: { digest: string; requestId: string; publicUrl: string; told?: PlanContext['told']; mode: LockMode; ahead: PlannedAhead | null },
): Promise<Answer<Routes['apply']>> {
  const earlier = await maybeRow<{ id: number; kind: string; actor_id: number | null; counts: { gained?: number; newPeople?: number } }>(
    tx,
    sql`
      select id, kind, actor_id, summary -> 'counts' as counts from change_log where request_id = ${requestId}`,
  );
  if (earlier) {
    if (earlier.actor_id !== actor.personId || earlier.kind !== change.kind) throw new ProblemError('request-id-reused');
    return { changeId: earlier.id, gained: earlier.counts.gained ?? 0, newPeople: earlier.counts.newPeople ?? 0 };
  }
  if (ahead?.seen.digest === digest && !isBlocked(ahead.plan.effects) && (await stillHolds(tx, actor, ahead)))
    return write(tx, actor, change, ahead.plan, ahead.seen, { requestId, mode });
  if (mode !== 'alone' && 'personIds' in change && change.personIds !== null) await lockPeople(tx, change.personIds);
  let plan = await planChange(tx, actor, change, publicUrl, { told });
  if (mode !== 'alone') {
    if (plan.onlyAdds !== true) throw new NotOnlyAdding();
    // Others may take seats in this moment: where seats are a matter, they are counted again with the licences locked.
    if (plan.effects.seats.needed > 0 && (await lockLicences(tx))) plan = await planChange(tx, actor, change, publicUrl, { told });
  }
  const seen = await lookOf(tx, actor, plan.effects);
  if (isBlocked(plan.effects)) throw new ProblemError('blocked', { look: seen });
  if (seen.digest !== digest) throw new ProblemError('effects-differ', { look: seen });
  return write(tx, actor, change, plan, seen, { requestId, mode });
}

/**
 * Makes a change in the name of the maker of a rule, whoever set it off; the transaction holds the roster lock alone.
 * @returns Its number; null when something stands in its way.
 * @throws ProblemError `not-found` when the maker may not make it; `busy` when it may be made later.
 */
export async function applyByRule(
  tx: Transaction,
  maker: SignedIn,
  change: Change,
  { publicUrl, ...rule }: { publicUrl: string; id: number; depth: number },
): Promise<number | null> {
  const plan = await planChange(tx, maker, change, publicUrl, { isRule: true });
  if (plan.effects.conflicts.some(({ code }) => code === 'too many messages')) throw new ProblemError('busy', { retryAfter: 3600 });
  if (isBlocked(plan.effects)) return null;
  const seen = await lookOf(tx, maker, plan.effects);
  return (await write(tx, maker, change, plan, seen, { requestId: randomUUID(), mode: 'alone', rule })).changeId;
}

async function write(
  tx: Transaction,
  actor: SignedIn,
  change: Change,
  plan: Plan,
  seen: Look,
  { requestId, mode, rule }: { requestId: string; mode: LockMode; rule?: { id: number; depth: number } },
): Promise<Answer<Routes['apply']>> {
  const summary = { ...plan.summary, counts: { ...plan.summary.counts, gained: seen.gaining, lost: seen.losing } };
  const changeId = await recordChange(
    tx,
    actor,
    {
      requestId,
      mode,
      kind: change.kind,
      undoOf: change.kind === 'undo' ? [change.changeId, ...(change.actIds ?? [])] : [],
      summary,
      groups: plan.groups,
      rule,
    },
    plan.write,
  );
  return { changeId, gained: seen.gaining, newPeople: seen.newPeople };
}
