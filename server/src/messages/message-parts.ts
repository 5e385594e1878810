import { sql, type SQL } from 'drizzle-orm';
import { ids, isAmong, type Queryable, rows } from '../database/connect.ts';
import * as tables from '../database/schema.ts';
import { reachedBy } from './audience.ts';
import type { StandingMessage } from './read-messages.ts';

/* What a message has beside its words: files, the work it asks for, and what was chosen and said. */

const ownWordsAtOnce = 200;

/** What was said in own words, in no telling order. */
export const ownWordsOf = (
  db: Queryable,
  { id, isNamed }: StandingMessage,
  reaches: SQL,
): Promise<{ words: string; by: string | null }[]> =>
  rows(
    db,
    sql`
    select r.own_words as words, case when ${isNamed} then trim(n.given_name || ' ' || n.family_name) end as by from message_reader r join person p on p.id = r.person_id and ${reaches} join personal_now n on n.person_id = p.id
    where r.message_id = ${id} and r.own_words is not null order by md5(r.person_id::text || ${id}::text) limit ${ownWordsAtOnce}`,
  );

/** Names of the files of messages, by message. */
export async function filesOf(db: Queryable, messages: readonly StandingMessage[]): Promise<Map<number, { id: number; name: string }[]>> {
  const all = messages.flatMap(({ fileIds }) => fileIds);
  if (all.length === 0) return new Map();
  const names = new Map(
    (
      await db
        .select({ id: tables.upload.id, name: tables.upload.fileName })
        .from(tables.upload)
        .where(isAmong(tables.upload.id, new Set(all)))
    ).map(({ id, name }) => [id, name]),
  );
  return new Map(
    messages.map(({ id, fileIds }) => [
      id,
      fileIds.flatMap((fileId) => {
        const name = names.get(fileId);
        return name === undefined ? [] : [{ id: fileId, name }];
      }),
    ]),
  );
}

/** Activities that tasks ask for, by their number. */
export async function activitiesOf(
  db: Queryable,
  messages: readonly Pick<StandingMessage, 'activityId'>[],
): Promise<Map<number, { courseId: number; name: string }>> {
  const all = messages.flatMap(({ activityId }) => activityId ?? []);
  if (all.length === 0) return new Map();
  const found = await rows<{ id: number; courseId: number; name: string }>(
    db,
    sql`select a.id, a.course_id as "courseId", c.name || ', ' || a.name as name from activity_now a join course_now c on c.id = a.course_id where a.id = any(${ids(new Set(all))})`,
  );
  return new Map(found.map(({ id, ...each }) => [id, each]));
}

/** How many chose what of each question whose tally the reader may see. */
export async function talliesOf(db: Queryable, messages: readonly StandingMessage[]): Promise<Map<number, number[]>> {
  const found = await Promise.all(
    messages.map(async (message) => {
      const counts = await rows<{ place: number; people: number }>(
        db,
        sql`
        select c as place, count(*)::int as people from message_reader r join person p on p.id = r.person_id cross join lateral unnest(r.choices) c
        where r.message_id = ${message.id} and ${reachedBy({ messageId: message.id, ...message })} group by c`,
      );
      const byPlace = new Map(counts.map(({ place, people }) => [place, people]));
      return [message.id, (message.choices ?? []).map((_, place) => byPlace.get(place) ?? 0)] as const;
    }),
  );
  return new Map(found);
}

/** Is it past its day, and closed since? */
export const isOver = ({ closes, dueDay }: Pick<StandingMessage, 'closes' | 'dueDay'>, today: string): boolean =>
  closes && dueDay !== null && dueDay < today;
