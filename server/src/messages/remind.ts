import { addDays, type Day, dayOfMoment, fillLetter, reminderTexts } from '@gate-roster/core';
import { and, eq, isNotNull, sql } from 'drizzle-orm';
import type { Logger } from 'pino';
import { noteAct } from '../changes/note-act.ts';
import { type Database, firstOf, ids, maybeRow, oneRow, type Queryable, rows, type Transaction } from '../database/connect.ts';
import * as tables from '../database/schema.ts';
import { wholeTree } from '../groups/queries.ts';
import { answerBell, ringForWork } from '../jobs/bell.ts';
import { dayInWords } from '../letters/write-letters.ts';
import { announce } from '../live/announce.ts';
import { type DueReminder, type KeptReminder, keptReminders, remindersDue } from './reminders-due.ts';
import { hourOf, morningHour } from './tell.ts';

const remindLock = 7_401_009;

interface RemindDeps {
  db: Database;
  now: () => Date;
}

/** Reminds people whose day has come, once a day from the morning on. Any number of processes may try, one does it. */
export const startRemindingPeople = (deps: RemindDeps, databaseUrl: string, log: Logger): (() => Promise<void>) =>
  answerBell(databaseUrl, log, async () => {
    await remindPeople(deps);
  });

/** @returns How many were reminded; null when it was not the time, or another process did it. */
export async function remindPeople({ db, now }: RemindDeps): Promise<number | null> {
  const site = await firstOf(db.select({ zone: tables.organisation.timeZone }).from(tables.organisation));
  if (!site || hourOf(now(), site.zone) < morningHour) return null;
  const today = dayOfMoment(now(), site.zone);
  const isDue = sql`select 1 from day_turn where day = ${today} and reminded_at is null`;
  if (!(await maybeRow(db, isDue))) return null;
  return db.transaction(async (tx) => {
    const { mine } = await oneRow<{ mine: boolean }>(tx, sql`select pg_try_advisory_xact_lock(${remindLock}) as mine`);
    if (!mine || !(await maybeRow(tx, isDue))) return null;
    const settings = await keptReminders(tx);
    const due = await rows<DueReminder>(
      tx,
      remindersDue({ tree: await wholeTree(tx), settings, people: sql`true`, today, next: today, through: today, timeZone: site.zone }),
    );
    const people = await writeAll(tx, settings, due);
    await tx
      .update(tables.dayTurn)
      .set({ remindedAt: sql`now()` })
      .where(eq(tables.dayTurn.day, today));
    return people;
  });
}

/** The day on which the next reminders leave. */
export async function nextReminders(db: Queryable, today: Day): Promise<Day> {
  const done = await firstOf(
    db
      .select({ day: tables.dayTurn.day })
      .from(tables.dayTurn)
      .where(and(eq(tables.dayTurn.day, today), isNotNull(tables.dayTurn.remindedAt))),
  );
  return done ? addDays(today, 1) : today;
}

/** Reminders of one thing by one setting are one message; those whose text names a day, one for each day. */
async function writeAll(tx: Transaction, settings: readonly KeptReminder[], due: readonly DueReminder[]): Promise<number> {
  const messages = new Map<string, DueReminder[]>();
  for (const each of due) {
    const text = textOf(settings[each.nth], each);
    const key = JSON.stringify([each.nth, each.aboutId, `${text.subject}${text.body}`.includes('{until}') ? each.until : null]);
    messages.set(key, [...(messages.get(key) ?? []), each]);
  }
  const groups = new Set<number>();
  const people = new Set<number>();
  const tree = await wholeTree(tx);
  for (const list of messages.values()) {
    const [first] = list;
    const setting = first && settings[first.nth];
    const said = list.filter(({ isCovered }) => !isCovered);
    const read = said[0] ?? first;
    if (!setting || !read) continue;
    const { name } = tree.node(setting.groupId);
    const text = fillLetter(textOf(setting, read), {
      course: read.about,
      group: read.occasion === 'membership ends' || read.occasion === 'group ends' ? read.about : name,
      until: read.until === null ? '' : dayInWords(new Date(`${read.until}T12:00:00Z`), 'UTC'),
    });
    const id = await writeOne(tx, setting, text, said);
    await tx.execute(sql`
      insert into reminded (person_id, occasion, about_id, round, message_id)
      select person_id, occasion, about_id, round, ${id} from jsonb_to_recordset(${JSON.stringify(
        list.map(({ personId, occasion, aboutId, round }) => ({ person_id: personId, occasion, about_id: aboutId, round })),
      )}::jsonb) as r(person_id bigint, occasion text, about_id bigint, round date) on conflict do nothing`);
    groups.add(setting.groupId);
    for (const { personId } of said) people.add(personId);
  }
  if (people.size === 0) return 0;
  await noteAct(tx, null, 'remind', [...people], [...groups]);
  await announce(tx, { topics: ['messages'], groups: [...groups] });
  await ringForWork(tx);
  return people.size;
}

const textOf = (setting: KeptReminder | undefined, { occasion }: DueReminder): { subject: string; body: string } => {
  const { subject = null, body = null } = setting ?? {};
  return subject === null || body === null ? reminderTexts[occasion] : { subject, body };
};

/** One message in the name of the group whose setting it is; where all of it is said by others, one that nobody reads. */
async function writeOne(
  tx: Transaction,
  { groupId, madeBy }: KeptReminder,
  { subject, body }: { subject: string; body: string },
  to: readonly DueReminder[],
): Promise<number> {
  const { id } = await oneRow<{ id: number }>(tx, sql`insert into message default values returning id`);
  if (to.length === 0) return id;
  await tx
    .insert(tables.messageVersion)
    .values({ messageId: id, kind: 'reminder', title: subject, body: body.trim(), groupId, answers: false, madeBy, sentAt: sql`now()` });
  await tx.execute(
    sql`insert into message_reader (message_id, person_id, is_chosen) select ${id}, p, true from unnest(${ids(to.map(({ personId }) => personId))}) p on conflict do nothing`,
  );
  return id;
}
