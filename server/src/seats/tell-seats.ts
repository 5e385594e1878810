import { nearestInLine, seatNews, type SeatNewsKind, type SeatOutcome, type SeatPerson } from '@gate-roster/core';
import { sql } from 'drizzle-orm';
import type { Logger } from 'pino';
import { type Database, ids, isAmong, rows, type Transaction } from '../database/connect.ts';
import * as tables from '../database/schema.ts';
import { answerBell, ringForWork } from '../jobs/bell.ts';
import { writeLetters } from '../letters/write-letters.ts';

const newsAtOnce = 500;

/**
 * Notes, in the transaction that handed out seats, whom that is to be told by letter; the letters are written after it.
 * @param isLineMoved Places in line may be others, though nobody came or left.
 */
export async function noteNews(tx: Transaction, people: readonly SeatPerson[], outcome: SeatOutcome, isLineMoved: boolean): Promise<void> {
  const news = seatNews(people, outcome);
  if (news.length > 0)
    await tx.execute(sql`
      insert into seat_news (person_id, course_id, what)
      select n.key, n."courseId", n.what from jsonb_to_recordset(${JSON.stringify(news)}::jsonb) as n(key bigint, "courseId" bigint, what text)`);
  const near = isLineMoved || outcome.queue.length + outcome.unqueue.length > 0 ? await noteNearest(tx) : 0;
  if (news.length + near > 0) await ringForWork(tx);
}

/** Those who have come to the head of a line; who has only just joined it there knows. @returns How many are to be told. */
async function noteNearest(tx: Transaction): Promise<number> {
  const near = await tx.execute(sql`
    with nearest as (
      select l.row_id from course c cross join lateral (
        select row_id, is_near from seat_line where course_id = c.id and until_at is null order by place limit ${nearestInLine}) l where not l.is_near
    ), marked as (update seat_line l set is_near = true from nearest n where l.row_id = n.row_id returning l.person_id, l.course_id, l.since)
    insert into seat_news (person_id, course_id, what) select person_id, course_id, 'near' from marked where since < now()`);
  return near.rowCount ?? 0;
}

export interface TellSeatsDeps {
  db: Database;
  publicUrl: string;
}

/** Tells people what became of their seats, after what was written has been committed. Any number of processes may. */
export const startTellingSeats = (deps: TellSeatsDeps, databaseUrl: string, log: Logger): (() => Promise<void>) =>
  answerBell(databaseUrl, log, async () => {
    while (await tellSeats(deps));
  });

interface News {
  id: number;
  personId: number;
  what: SeatNewsKind;
  course: string;
  groupId: number | null;
  name: string;
  email: string | null;
}

/** One letter to each of some people, with all that is to be told to them. @returns Whether there may be more. */
export async function tellSeats({ db, publicUrl }: TellSeatsDeps): Promise<boolean> {
  return db.transaction(async (tx) => {
    const taken = await rows<{ id: number; person_id: number }>(
      tx,
      sql`select id, person_id from seat_news order by person_id, id limit ${newsAtOnce} for update skip locked`,
    );
    if (taken.length === 0) return false;
    const news = await rows<News>(
      tx,
      sql`
      select w.id, w.person_id as "personId", w.what, c.name as course, n.given_name as name, coalesce(n.email, n.guardian_email)::text as email,
        (select m.group_id from membership m where m.person_id = p.id and m.until_at is null order by m.row_id limit 1) as "groupId"
      from seat_news w join person p on p.id = w.person_id join personal_now n on n.person_id = p.id join course_now c on c.id = w.course_id
      where w.id = any(${ids(taken.map(({ id }) => id))}) order by w.person_id, w.id`,
    );
    const byPerson = new Map<number, News[]>();
    for (const each of news) byPerson.set(each.personId, [...(byPerson.get(each.personId) ?? []), each]);
    await writeLetters(
      tx,
      publicUrl,
      'seat',
      [...byPerson.values()].flatMap((list) => {
        const [first] = list;
        if (!first || first.email === null) return [];
        return {
          personId: first.personId,
          address: first.email,
          groupId: first.groupId,
          values: {
            name: first.name,
            title: list.length === 1 ? titleOf(first) : 'Your seats',
            words: list.map(sentenceOf).join('\n'),
            link: `${publicUrl}/my-courses`,
          },
        };
      }),
    );
    await tx.delete(tables.seatNews).where(
      isAmong(
        tables.seatNews.id,
        taken.map(({ id }) => id),
      ),
    );
    return taken.length === newsAtOnce;
  });
}

function titleOf({ what, course }: News): string {
  if (what === 'got') return `You have a seat in ${course}`;
  return what === 'lost' ? `Your seat in ${course} is gone` : `You are among the next for ${course}`;
}

function sentenceOf({ what, course }: News): string {
  if (what === 'got') return `You have a seat in ${course} now, and can begin.`;
  if (what === 'lost') return `You have no seat in ${course} any more. What you have done in it stays.`;
  return `You are among the next ${nearestInLine} in line for a seat in ${course}.`;
}
