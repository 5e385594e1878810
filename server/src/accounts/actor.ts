import { routes } from '@gate-roster/contract';
import type { Actor, Day, Power } from '@gate-roster/core';
import { dayOfMoment } from '@gate-roster/core';
import { sql } from 'drizzle-orm';
import type { Request } from 'express';
import type {} from 'express-session';
import { maybeRow, type Queryable } from '../database/connect.ts';
import type { Deps } from '../http/deps.ts';
import { ProblemError } from '../http/problem.ts';

/** Somebody who is signed in, and the day on the platform's calendar. */
export interface SignedIn extends Actor {
  givenName: string;
  familyName: string;
  organisation: string;
  timeZone: string;
  /** Settings of the site: how many days before its due day something is due soon, and how long a change can be undone. */
  dueSoonDays: number;
  undoDays: number;
  today: Day;
  leaderships: { groupId: number; name: string; powers: Power[] }[];
  /** The administrator who looks at the application as this person; null: it is the person. */
  seenBy: { personId: number; name: string } | null;
  /** Signed in by a lasting card: nothing but the courses of this group's branch. */
  onlyIn: number | null;
}

declare module 'express-session' {
  interface SessionData {
    personId: number;
    /** Whom the administrator looks as. */
    seeAs?: number;
    /** The way in that whoever joined in this browser has to pay, or paid. */
    paidEntry?: string;
    /** Signed in by a lasting card of this group; over when nothing is done until then (milliseconds). */
    card?: { groupId: number; idleAt: number };
  }
}

/** A lasting card's session ends after so long without a click. */
export const cardIdleMinutes = 10;

/** @throws ProblemError `not-signed-in` when there is no session, or its person may not work any more. */
export async function actorOf(deps: Deps, request: Request): Promise<SignedIn> {
  const personId = request.session.personId;
  const actor = personId === undefined ? null : await maybeActor(deps.db, personId, deps.now());
  if (!actor) throw new ProblemError('not-signed-in');
  const { card } = request.session;
  if (card) {
    const now = deps.now().getTime();
    if (now > card.idleAt) {
      await new Promise((resolve) => request.session.destroy(resolve));
      throw new ProblemError('not-signed-in');
    }
    // Written at most once a minute, and not by the stream, which is open whether or not anybody is there.
    const idleAt = now + cardIdleMinutes * 60_000;
    if (idleAt - card.idleAt > 60_000 && request.path !== routes.live.path) request.session.card = { ...card, idleAt };
    return { ...actor, role: 'none', leaderships: [], onlyIn: card.groupId };
  }
  const { seeAs } = request.session;
  if (seeAs === undefined || actor.role !== 'administrator') return actor;
  const seen = await maybeActor(deps.db, seeAs, deps.now());
  return seen ? { ...seen, seenBy: { personId: actor.personId, name: `${actor.givenName} ${actor.familyName}` } } : actor;
}

export async function maybeActor(db: Queryable, personId: number, now: Date): Promise<SignedIn | null> {
  const row = await maybeRow<{
    role: Actor['role'];
    given_name: string;
    family_name: string;
    state: string;
    first_day: Day | null;
    last_day: Day | null;
    organisation: string;
    time_zone: string;
    due_soon_days: number;
    undo_days: number;
    leaderships: { groupId: number; name: string; powers: Power[]; firstDay: Day | null; lastDay: Day | null; depth: number }[];
  }>(
    db,
    sql`
    select p.role, n.given_name, n.family_name, s.state, s.first_day, s.last_day, o.name as organisation, o.time_zone, o.due_soon_days, o.undo_days,
      coalesce((select jsonb_agg(jsonb_build_object('groupId', l.group_id, 'name', g.name, 'powers', l.powers, 'firstDay', l.first_day, 'lastDay', l.last_day,
          'depth', (select count(*) from group_branch b where b.group_id = l.group_id)) order by g.name collate people_order)
        from leadership l join group_now g on g.id = l.group_id where l.person_id = p.id and l.until_at is null), '[]') as leaderships
    from person p join personal_now n on n.person_id = p.id join person_state s on s.person_id = p.id and s.until_at is null cross join organisation o
    where p.id = ${personId}`,
    { plan: 'kept' },
  );
  if (!row) return null;
  const today = dayOfMoment(now, row.time_zone);
  const within = (span: { firstDay: Day | null; lastDay: Day | null }): boolean =>
    (span.firstDay ?? today) <= today && today <= (span.lastDay ?? today);
  if (row.state !== 'active' || !within({ firstDay: row.first_day, lastDay: row.last_day })) return null;
  return {
    personId,
    role: row.role,
    givenName: row.given_name,
    familyName: row.family_name,
    organisation: row.organisation,
    timeZone: row.time_zone,
    dueSoonDays: row.due_soon_days,
    undoDays: row.undo_days,
    today,
    seenBy: null,
    onlyIn: null,
    leaderships: row.leaderships.filter(within).map(({ groupId, name, powers }) => ({ groupId, name, powers })),
  };
}
