import type { Me } from '@gate-roster/contract';
import { eq, sql } from 'drizzle-orm';
import type { Request } from 'express';
import { firstOf, ids, rows } from '../database/connect.ts';
import * as tables from '../database/schema.ts';
import type { Deps } from '../http/deps.ts';
import { keptViews } from '../progress/kept-views.ts';
import { actorOf, cardIdleMinutes, type SignedIn } from './actor.ts';

/** A new session id at each sign-in, so that one known before is worth nothing after. */
export async function beginSession(deps: Deps, request: Request, personId: number, cardGroup: number | null = null): Promise<Me> {
  await new Promise<void>((resolve, reject) => {
    request.session.regenerate((error: unknown) => (error instanceof Error ? reject(error) : resolve()));
  });
  request.session.personId = personId;
  if (cardGroup !== null) request.session.card = { groupId: cardGroup, idleAt: deps.now().getTime() + cardIdleMinutes * 60_000 };
  return meOf(deps, await actorOf(deps, request));
}

export async function meOf(deps: Deps, actor: SignedIn): Promise<Me> {
  const led = actor.leaderships.map(({ groupId }) => groupId);
  // A leader of several branches begins at the highest.
  const home = await rows<{ id: number }>(
    deps.db,
    actor.role === 'administrator'
      ? sql`select id from group_now where parent_id is null`
      : sql`select group_id as id from group_branch where group_id = any(${ids(led)}) group by group_id order by count(*), group_id limit 1`,
  );
  return {
    personId: actor.personId,
    givenName: actor.givenName,
    familyName: actor.familyName,
    role: actor.role,
    leaderships: actor.leaderships,
    homeGroupId: home[0]?.id ?? null,
    start: await startOf(deps, actor),
    organisation: actor.organisation,
    today: actor.today,
    timeZone: actor.timeZone,
    seenBy: actor.seenBy?.name ?? null,
    card: actor.onlyIn === null ? null : { groupId: actor.onlyIn, idleMinutes: cardIdleMinutes },
  };
}

/** The view that somebody begins with, when they chose one and may still open it. */
async function startOf({ db }: Deps, actor: SignedIn): Promise<Me['start']> {
  const chosen = await firstOf(
    db.select({ personId: tables.startView.personId }).from(tables.startView).where(eq(tables.startView.personId, actor.personId)),
  );
  const view = chosen && (await keptViews(db, actor)).find(({ isStart }) => isStart);
  return view ? { groupId: view.group.id, shown: view.shown } : null;
}
