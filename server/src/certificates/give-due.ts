import { randomUUID } from 'node:crypto';
import { dayOfMoment } from '@gate-roster/core';
import { sql, type SQL } from 'drizzle-orm';
import type { Logger } from 'pino';
import { summaryOf } from '../changes/plan.ts';
import { recordChange } from '../changes/record.ts';
import { withRosterLock } from '../changes/roster-lock.ts';
import { type Database, firstOf } from '../database/connect.ts';
import * as tables from '../database/schema.ts';
import { answerBell } from '../jobs/bell.ts';
import { beginCertificates } from './change-certificates.ts';
import { countedIn, earned, type FormRow, formRows } from './earned.ts';

const hoursBack = 3;

/** Gives the certificates that are given by themselves, as soon as they are earned. @returns How to stop. */
export const startGiving = (deps: { db: Database; now: () => Date; databaseUrl: string; log: Logger }): (() => Promise<void>) =>
  answerBell(deps.databaseUrl, deps.log, () => giveDue(deps.db, deps.now()));

/** Which version of a kind was looked through wholly, on which day; another process looks through it once more, and finds nothing. */
const lookedThrough = new Map<number, string>();

/**
 * Each kind is one change without an actor. Mostly only those are asked for who became done, or were marked, in the last hours;
 * once a day, and when a kind is new, everybody.
 */
export async function giveDue(db: Database, now: Date): Promise<void> {
  const site = await firstOf(db.select({ time_zone: tables.organisation.timeZone }).from(tables.organisation));
  if (!site) return;
  const today = dayOfMoment(now, site.time_zone);
  for (const form of await formRows(db, sql`f.by_itself`)) {
    const version = `${form.rowId}/${today}`;
    const isWhole = lookedThrough.get(form.id) !== version;
    const who = isWhole ? countedIn([form.groupId]) : sql`${countedIn([form.groupId])} and p.id in (${lately(now)})`;
    // Asked before the lock: mostly there is nothing to give.
    if ((await earned(db, form, who, today)).length > 0) await giveOf(db, form, who, today);
    lookedThrough.set(form.id, version);
  }
}

const lately = (now: Date): SQL => {
  const since = new Date(now.getTime() - hoursBack * 3_600_000).toISOString();
  return sql`
    select person_id from enrolment where is_current and status = 'done' and done_at > ${since}
    union select e.person_id from mark m join work_version v on v.id = m.version_id join work w on w.id = v.work_id join enrolment e on e.id = w.enrolment_id where m.marked_at > ${since}`;
};

async function giveOf(db: Database, { id }: FormRow, who: SQL, today: string): Promise<void> {
  await withRosterLock(db, 'alone', async (tx) => {
    const [form] = await formRows(tx, sql`f.id = ${id} and f.by_itself`);
    if (!form) return;
    const list = await earned(tx, form, who, today);
    if (list.length === 0) return;
    const people = list.map(({ personId }) => personId);
    await recordChange(
      tx,
      { personId: null, today },
      {
        requestId: randomUUID(),
        mode: 'alone',
        kind: 'give-certificates',
        undoOf: [],
        summary: summaryOf({
          groups: [form.groupId],
          people: people.slice(0, 3),
          names: { before: '', after: form.title },
          counts: { people: list.length },
        }),
        groups: [form.groupId],
      },
      async (_, writer) => {
        await beginCertificates(writer, form, list, null);
        return { progressed: people };
      },
    );
  });
}
