import { branchesWith, comingSays } from '@gate-roster/core';
import { eq, isNull, sql } from 'drizzle-orm';
import ical, { ICalCalendarMethod } from 'ical-generator';
import { maybeActor } from '../accounts/actor.ts';
import { hashOf, makeToken } from '../accounts/tokens.ts';
import { firstOf, maybeRow, onlyOne, type Queryable } from '../database/connect.ts';
import * as tables from '../database/schema.ts';
import { found } from '../http/problem.ts';
import { comingUp } from './coming-up.ts';

const days = 120;

/** When somebody’s calendar address was made, and when a calendar last asked for it; null: they have none. */
export async function calendarOf(db: Queryable, personId: number): Promise<{ madeAt: string | null; readAt: string | null }> {
  const feed = await maybeRow<{ made_at: string; read_at: string | null }>(
    db,
    sql`select made_at, read_at from calendar_feed where person_id = ${personId}`,
  );
  return { madeAt: feed?.made_at ?? null, readAt: feed?.read_at ?? null };
}

/** A secret address; the one before stops working. @returns The key, which is not kept. */
export async function replaceCalendar(db: Queryable, personId: number): Promise<string> {
  const { token, hash } = makeToken();
  await db
    .insert(tables.calendarFeed)
    .values({ personId, hash })
    .onConflictDoUpdate({ target: tables.calendarFeed.personId, set: { hash, madeAt: sql`now()`, readAt: null } });
  return token;
}

export async function stopCalendar(db: Queryable, personId: number): Promise<void> {
  await db.delete(tables.calendarFeed).where(eq(tables.calendarFeed.personId, personId));
}

/**
 * What is coming up where the owner of a key sees progress now, as a calendar (RFC 5545). It names no learner and no leader.
 * @throws ProblemError `not-found` when no such key stands, or its owner may not work or leads nobody.
 */
export async function calendarFile(db: Queryable, key: string, publicUrl: string, now: Date): Promise<string> {
  const feed = found(
    await firstOf(
      db
        .select({ person_id: tables.calendarFeed.personId })
        .from(tables.calendarFeed)
        .where(eq(tables.calendarFeed.hash, hashOf(key))),
    ),
  );
  const actor = found(await maybeActor(db, feed.person_id, now));
  const tops =
    branchesWith(actor, 'seeProgress') ??
    (
      await db.select({ id: tables.groupNow.id }).from(tables.groupNow).where(isNull(tables.groupNow.parentId)).orderBy(tables.groupNow.id)
    ).map(({ id }) => id);
  if (tops.length === 0) found(null);
  const { organisation } = await onlyOne(db.select({ organisation: tables.organisation.name }).from(tables.organisation));
  const host = new URL(publicUrl).host;
  const calendar = ical({
    name: organisation,
    method: ICalCalendarMethod.PUBLISH,
    prodId: { company: 'Gate Roster', product: 'Coming up' },
  });
  const seen = new Set<string>();
  for (const groupId of tops) {
    const { lines } = await comingUp(db, actor, { groupId, withSubgroups: true }, { days });
    for (const { kind, day, lastDay, course, group, name, people, licenceId } of lines) {
      const id = [kind, day, course?.id, group?.id, licenceId].map((part) => String(part ?? '')).join('-');
      if (seen.has(id)) continue;
      seen.add(id);
      calendar.createEvent({
        id: `${id.replaceAll(' ', '-')}@${host}`,
        // Of the same content the same file comes out, whenever it is asked for.
        stamp: new Date(`${actor.today}T00:00:00Z`),
        start: new Date(`${day}T00:00:00Z`),
        end: new Date(Date.parse(`${lastDay}T00:00:00Z`) + 86_400_000),
        allDay: true,
        timezone: 'UTC',
        summary: comingSays({
          kind,
          people,
          course: course?.name ?? '',
          group: group?.name ?? '',
          name: kind === 'leader ends' ? 'A leader' : (name ?? ''),
        }),
        url: `${publicUrl}/access/${group?.id ?? groupId}/coming`,
      });
    }
  }
  await db
    .update(tables.calendarFeed)
    .set({ readAt: sql`now()` })
    .where(eq(tables.calendarFeed.hash, hashOf(key)));
  return calendar.toString();
}
