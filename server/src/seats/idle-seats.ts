import type { Day } from '@gate-roster/core';
import { sql, type SQL } from 'drizzle-orm';
import { randomUUID } from 'node:crypto';
import { summaryOf } from '../changes/plan.ts';
import { recordChange } from '../changes/record.ts';
import { type Queryable, rows, type Transaction } from '../database/connect.ts';

/** A seat `t` that somebody has had for so many days and with which they have begun nothing that it pays for. */
export const isIdle = (days: number): SQL => sql`(t.got_at < now() - make_interval(days => ${days}::int) and ${hasBegunNothing})`;

/** With a seat `t` nothing is begun that it pays for. */
export const hasBegunNothing = sql`not exists (
  select 1 from enrolment e join licence_course k on k.course_id = e.course_id and k.licence_id = t.licence_id where e.person_id = t.person_id and e.status <> 'not begun')`;

/** Somebody with a seat that lies idle, and the row in which something was decided about it before. */
export interface IdleHolder {
  personId: number;
  groupId: number;
  wordRow: number | null;
}

/** Who has had a seat of a licence for so many days and begun nothing with it. */
export const idleHolders = (db: Queryable, licenceId: number, days: number): Promise<IdleHolder[]> =>
  rows<IdleHolder>(
    db,
    sql`
    select t.person_id as "personId", t.group_id as "groupId", w.row_id as "wordRow" from seat t
    left join seat_word w on w.person_id = t.person_id and w.licence_id = t.licence_id and w.until_at is null
    where t.until_at is null and t.licence_id = ${licenceId} and ${isIdle(days)} order by 1`,
  );

/** Takes back what lies idle, by every licence that says so: a change of its own for each. The caller holds the roster lock alone. */
export async function takeBackIdle(tx: Transaction, today: Day): Promise<void> {
  const licences = await rows<{ id: number; name: string; days: number }>(
    tx,
    sql`select licence_id as id, name, idle_days as days from licence_now where idle_days is not null order by 1`,
  );
  for (const { id, name, days } of licences) {
    const found = await idleHolders(tx, id, days);
    if (found.length === 0) continue;
    const groups = [...new Set(found.map(({ groupId }) => groupId))];
    await recordChange(
      tx,
      { personId: null, today },
      {
        requestId: randomUUID(),
        mode: 'alone',
        kind: 'take-back-seats',
        undoOf: [],
        summary: summaryOf({
          groups: groups.slice(0, 3),
          people: found.slice(0, 3).map(({ personId }) => personId),
          names: { before: '', after: name },
          counts: { people: found.length },
          fields: ['idle'],
        }),
        groups,
      },
      async (_, writer) => {
        await writer.end(
          'seat word',
          found.flatMap(({ wordRow }) => wordRow ?? []),
        );
        await writer.begin('seat word', wordsOf(id, found, null));
        return { seats: true, seated: found.map(({ personId }) => personId) };
      },
    );
  }
}

/** The rows in which it is said that idle seats are taken back. */
export const wordsOf = (licenceId: number, found: readonly IdleHolder[], madeBy: number | null): Record<string, unknown>[] =>
  found.map(({ personId }) => ({ person_id: personId, licence_id: licenceId, word: 'taken back', made_by: madeBy }));
