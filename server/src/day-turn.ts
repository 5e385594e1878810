import { addDays, dayOfMoment } from '@gate-roster/core';
import { eq, isNull, sql } from 'drizzle-orm';
import type { Logger } from 'pino';
import { withRosterLock } from './changes/roster-lock.ts';
import { refreshEntitlements } from './access/entitlements.ts';
import { type Database, firstOf, rows } from './database/connect.ts';
import * as tables from './database/schema.ts';
import { announce, announceAll } from './live/announce.ts';
import { refreshSets } from './people/membership-sets.ts';
import { openRounds } from './progress/rounds.ts';
import { refreshStatus, whoseDayTurns } from './progress/status-after.ts';
import { noteForRules } from './rules/note-events.ts';
import { takeBackIdle } from './seats/idle-seats.ts';
import { settle } from './seats/settle.ts';

const checkMilliseconds = 60_000;

/**
 * What is counted or charged is brought up to date once per platform day: people who begin or end, groups and licences that do.
 * Run at start when it was missed; any number of processes may try, one does it.
 */
export async function turnDay(db: Database, now: Date): Promise<boolean> {
  const site = await firstOf(db.select({ time_zone: tables.organisation.timeZone }).from(tables.organisation));
  if (!site) return false;
  const today = dayOfMoment(now, site.time_zone);
  // Asked before the lock: the day turns once, and is looked for every minute.
  if (await firstOf(db.select({ day: tables.dayTurn.day }).from(tables.dayTurn).where(eq(tables.dayTurn.day, today)))) return false;
  return withRosterLock(db, 'alone', async (tx) => {
    const begun = await tx.execute(sql`insert into day_turn (day) values (${today}) on conflict do nothing`);
    if (begun.rowCount !== 1) return false;
    const turning = await rows<{ person_id: number }>(
      tx,
      sql`
      select person_id from membership where until_at is null and (first_day is not null or last_day is not null)
      union select person_id from person_state where until_at is null and (first_day is not null or last_day is not null)
      union select m.person_id from membership m join group_branch b on b.group_id = m.group_id join group_now g on g.id = b.ancestor_id where m.until_at is null and (g.first_day is not null or g.last_day is not null)`,
    );
    const { newSets, ownPeople, count } = await refreshSets(
      tx,
      turning.map(({ person_id }) => person_id),
      today,
    );
    await count();
    await refreshEntitlements(tx, { sets: newSets, persons: ownPeople, courses: 'all' });
    // A statement, group or membership that begins or ends today begins a window today.
    await refreshStatus(
      tx,
      today,
      whoseDayTurns(
        turning.map(({ person_id }) => person_id),
        today,
      ),
    );
    await openRounds(tx, today);
    await settle(tx, today, {
      people: turning.map(({ person_id }) => person_id),
      courses: 'all',
      room: true,
      changeId: null,
      undoOf: [],
      mode: 'alone',
    });
    await takeBackIdle(tx, today);
    // Whoever begins or ceases to lead today finds other screens: their streams and what they hold are told.
    const leading = await rows<{ person_id: number }>(
      tx,
      sql`select distinct person_id from leadership where until_at is null and (first_day = ${today} or last_day = ${addDays(today, -1)})`,
    );
    await announceAll(
      tx,
      leading.map(({ person_id }) => ({ topics: ['session'], groups: [], personId: person_id })),
    );
    await noteForRules(tx, [{ what: 'day' }]);
    const roots = await tx.select({ id: tables.groupNow.id }).from(tables.groupNow).where(isNull(tables.groupNow.parentId));
    await announce(tx, { topics: ['people', 'access', 'progress', 'groups'], groups: roots.map(({ id }) => id) });
    return true;
  });
}

/** Watches for the day to turn. @returns How to stop. */
export function watchDays(db: Database, now: () => Date, log: Logger): () => void {
  const check = (): void => {
    turnDay(db, now()).catch((error: unknown) => {
      log.warn({ err: error }, 'the day could not be turned; trying again');
    });
  };
  check();
  const timer = setInterval(check, checkMilliseconds);
  return () => {
    clearInterval(timer);
  };
}
