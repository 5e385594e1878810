import { type Day, dayOfMoment } from '@gate-roster/core';
import { eq, sql } from 'drizzle-orm';
import type { Logger } from 'pino';
import { type Database, ids, isAmong, maybeRow, onlyOne, rows, type Transaction } from '../database/connect.ts';
import * as tables from '../database/schema.ts';
import { answerBell } from '../jobs/bell.ts';
import { writeLetters } from '../letters/write-letters.ts';
import { announce } from '../live/announce.ts';
import { reachedBy, wayOfLetter } from './audience.ts';

const peopleAtOnce = 500;
/** From this hour on, in the platform's time zone, letters of a day go to those who want one a day. */
export const morningHour = 7;
/** @example hourOf(new Date('2026-11-03T12:00:00Z'), 'Europe/Berlin') // 13 */
export const hourOf = (moment: Date, timeZone: string): number =>
  Number(new Intl.DateTimeFormat('en-GB', { timeZone, hour: '2-digit', hourCycle: 'h23' }).format(moment));
const titlesInLetter = 8;

export interface TellDeps {
  db: Database;
  publicUrl: string;
  now: () => Date;
}

/** Tells people of messages by letter, after what was written has been committed. Any number of processes may. */
export function startTelling(deps: TellDeps, databaseUrl: string, log: Logger): () => Promise<void> {
  return answerBell(databaseUrl, log, () => tellAll(deps));
}

/** Puts down whom messages that have left are to be told to, and writes the letters that are due. */
export async function tellAll(deps: TellDeps): Promise<void> {
  while (await putDown(deps));
  while (await tellSome(deps));
}

/** Of one message that has left: everybody it reaches who wants letters. */
async function putDown({ db, now }: TellDeps): Promise<boolean> {
  return db.transaction(async (tx) => {
    const next = await maybeRow<{ id: number; to_groups: number[] | null; with_subgroups: boolean; urgent: boolean; group_id: number }>(
      tx,
      sql`
      select m.id, to_jsonb(v.to_groups) as to_groups, v.with_subgroups, v.urgent, v.group_id from message m join message_version v on v.message_id = m.id and v.until_at is null
      where m.told_at is null and v.sent_at <= ${now().toISOString()} order by m.id limit 1 for update of m skip locked`,
    );
    if (!next) return false;
    await tx.execute(sql`
      insert into message_notice (message_id, person_id)
      select ${next.id}, p.id from person p join personal_now n on n.person_id = p.id where ${wayOfLetter} <> 'none' and ${reachedBy({ messageId: next.id, toGroups: next.to_groups, withSubgroups: next.with_subgroups })}
        and (${next.urgent} or p.letters <> 'never') on conflict do nothing`);
    await tx
      .update(tables.message)
      .set({ toldAt: sql`now()` })
      .where(eq(tables.message.id, next.id));
    await announce(tx, { topics: ['messages'], groups: [...new Set([next.group_id, ...(next.to_groups ?? [])])] });
    return true;
  });
}

/** Is it between the two hours, which may lie on both sides of midnight? */
export const isQuiet = (hour: number, from: number, until: number): boolean =>
  from <= until ? hour >= from && hour < until : hour >= from || hour < until;

interface Notice {
  message_id: number;
  person_id: number;
  urgent: boolean;
  title: string;
  body: string;
  group_id: number;
  group: string;
  given_name: string;
  email: string | null;
}

/**
 * One letter to each of some people who are due: of a day the first goes at once or in the morning, as they have chosen; what
 * comes later that day waits for the next one, unless it is urgent. Messages that were taken back are left out.
 * @returns Whether there may be more.
 */
async function tellSome({ db, publicUrl, now }: TellDeps): Promise<boolean> {
  return db.transaction(async (tx) => {
    const {
      time_zone: zone,
      organisation,
      quiet_from,
      quiet_until,
    } = await onlyOne(
      tx
        .select({
          time_zone: tables.organisation.timeZone,
          organisation: tables.organisation.name,
          quiet_from: tables.organisation.quietFrom,
          quiet_until: tables.organisation.quietUntil,
        })
        .from(tables.organisation),
    ).catch(() => ({
      time_zone: 'UTC',
      organisation: '',
      quiet_from: 0,
      quiet_until: 0,
    }));
    const today: Day = dayOfMoment(now(), zone);
    const hour = hourOf(now(), zone);
    const isDue = sql`(not ${isQuiet(hour, quiet_from, quiet_until)} and coalesce(p.digest_day < ${today}, true) and p.letters <> 'never' and (p.letters = 'at once' or ${hour >= morningHour}))`;
    const due = await rows<{ id: number }>(
      tx,
      sql`
      select p.id from person p where exists (select 1 from message_notice t join message_version v on v.message_id = t.message_id and v.until_at is null
        where t.person_id = p.id and t.sent_at is null and (v.urgent or ${isDue})) order by p.id limit ${peopleAtOnce} for update of p skip locked`,
    );
    if (due.length === 0) return false;
    const notices = await rows<Notice>(
      tx,
      sql`
      select t.message_id, t.person_id, v.urgent, v.title, v.body, v.group_id, g.name as "group", n.given_name, coalesce(n.email, n.guardian_email) as email from message_notice t
      join message_version v on v.message_id = t.message_id and v.until_at is null join group_now g on g.id = v.group_id
      join person p on p.id = t.person_id join personal_now n on n.person_id = p.id
      where t.person_id = any(${ids(due.map(({ id }) => id))}) and t.sent_at is null and (v.urgent or ${isDue}) order by t.person_id, v.urgent desc, v.sent_at, t.message_id`,
    );
    await writeTo(tx, publicUrl, organisation, notices);
    await tx.execute(sql`
      update message_notice t set sent_at = now() from jsonb_to_recordset(${JSON.stringify(
        notices.map(({ message_id, person_id }) => ({ message_id, person_id })),
      )}::jsonb) as s(message_id bigint, person_id bigint) where t.message_id = s.message_id and t.person_id = s.person_id`);
    // Only what was not urgent uses up the letter of the day.
    await tx
      .update(tables.person)
      .set({ digestDay: today })
      .where(isAmong(tables.person.id, new Set(notices.flatMap(({ urgent, person_id }) => (urgent ? [] : [person_id])))));
    return due.length === peopleAtOnce;
  });
}

async function writeTo(tx: Transaction, publicUrl: string, organisation: string, notices: readonly Notice[]): Promise<void> {
  const byPerson = new Map<number, Notice[]>();
  for (const notice of notices) byPerson.set(notice.person_id, [...(byPerson.get(notice.person_id) ?? []), notice]);
  await writeLetters(
    tx,
    publicUrl,
    'messages',
    [...byPerson.values()].flatMap((list) => {
      const [first] = list;
      if (!first?.email) return [];
      const shown = list.slice(0, titlesInLetter);
      const words = shown.map(({ title, group, body }) => (list.length === 1 ? `${group}: ${title}\n\n${body}` : `${group}: ${title}`));
      return [
        {
          personId: first.person_id,
          address: first.email,
          groupId: first.group_id,
          isUrgent: list.some(({ urgent }) => urgent),
          values: {
            name: first.given_name,
            title: list.length === 1 ? first.title : `${list.length} messages from ${organisation}`,
            words: [...words, ...(list.length > shown.length ? [`and ${list.length - shown.length} more`] : [])].join('\n'),
            link: `${publicUrl}/my-messages`,
          },
        },
      ];
    }),
  );
}
