import { gt, sql } from 'drizzle-orm';
import type { Logger } from 'pino';
import { type Database, firstOf, ids, isAmong, maybeRow, rows } from '../database/connect.ts';
import * as tables from '../database/schema.ts';
import { lookNowAndThen } from '../jobs/bell.ts';
import { writeLetters } from '../letters/write-letters.ts';

const piecesAtOnce = 2000;
/** A marker who got such a letter within this many hours gets no other. */
const quietHours = 20;

const everyMilliseconds = 10 * 60_000;

/** Looks for what has waited too long, now and then. @returns How to stop. */
export function startReminding(
  deps: { db: Database; now: () => Date; publicUrl: string; log: Logger },
  databaseUrl: string,
): () => Promise<void> {
  return lookNowAndThen(databaseUrl, deps.log, everyMilliseconds, () => remindMarkers(deps.db, deps.now(), deps.publicUrl));
}

/**
 * Writes to those who mark about pieces that have waited for the days that are set: the nearest leaders up from the learner's
 * groups who hold the power. Each piece is reminded of once, and each marker at most once a day.
 */
export async function remindMarkers(db: Database, now: Date, publicUrl: string): Promise<void> {
  const site = await firstOf(
    db.select({ days: tables.organisation.markReminderDays }).from(tables.organisation).where(gt(tables.organisation.markReminderDays, 0)),
  );
  if (!site) return;
  const before = new Date(now.getTime() - site.days * 86_400_000).toISOString();
  const isDue = sql`v.state = 'waiting' and v.handed_in_at < ${before} and v.reminded_at is null`;
  // Mostly there is none.
  if (!(await maybeRow(db, sql`select 1 from work_version v where ${isDue} limit 1`))) return;
  await db.transaction(async (tx) => {
    const pieces = await rows<{ id: number }>(
      tx,
      sql`select v.id from work_version v where ${isDue} order by v.handed_in_at limit ${piecesAtOnce} for update skip locked`,
    );
    const found = await rows<{ id: number; leader: number; group: number; name: string; email: string; activity: string }>(
      tx,
      sql`
      with held as (
        select v.id, l.person_id as leader, l.group_id as "group", a.name as activity, b.depth, min(b.depth) over (partition by v.id) as nearest
        from work_version v join work w on w.id = v.work_id join enrolment e on e.id = w.enrolment_id join activity_now a on a.id = w.activity_id
        join membership m on m.person_id = e.person_id and m.until_at is null join group_branch b on b.group_id = m.group_id
        join leadership l on l.group_id = b.ancestor_id and l.until_at is null and 'markWork' = any(l.powers) and l.person_id <> e.person_id
          and coalesce(l.first_day <= ${now.toISOString()}::date, true) and coalesce(l.last_day >= ${now.toISOString()}::date, true)
        where v.id = any(${ids(pieces.map(({ id }) => id))})
      )
      select distinct h.id, h.leader, h."group", n.given_name as name, n.confirmed_email::text as email, h.activity from held h join personal_now n on n.person_id = h.leader
      where h.depth = h.nearest and n.confirmed_email is not null
        and not exists (select 1 from letter o where o.person_id = h.leader and o.kind = 'work waits' and o.made_at > ${now.toISOString()}::timestamptz - make_interval(hours => ${quietHours}::int))
      order by h.leader, h.id`,
    );
    const byLeader = new Map<number, typeof found>();
    for (const each of found) byLeader.set(each.leader, [...(byLeader.get(each.leader) ?? []), each]);
    await writeLetters(
      tx,
      publicUrl,
      'work waits',
      [...byLeader].flatMap(([leader, list]) => {
        const [first] = list;
        if (!first) return [];
        const count = new Set(list.map(({ id }) => id)).size;
        return [
          {
            personId: leader,
            address: first.email,
            groupId: first.group,
            values: {
              name: first.name,
              title: count === 1 ? 'A piece of work waits to be marked' : `${count} pieces of work wait to be marked`,
              words: [...new Set(list.map(({ activity }) => activity))].join('\n'),
              link: `${publicUrl}/progress/${first.group}?view=handed-in`,
            },
          },
        ];
      }),
    );
    // What nobody can be written to about today is looked at again tomorrow, with the rest.
    await tx
      .update(tables.workVersion)
      .set({ remindedAt: now })
      .where(
        isAmong(
          tables.workVersion.id,
          found.map(({ id }) => id),
        ),
      );
  });
}
