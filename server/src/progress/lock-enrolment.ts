import { sql } from 'drizzle-orm';
import { ids, oneRow, type Transaction } from '../database/connect.ts';
import type { OpenNow } from '../splits/running.ts';

/** The current enrolment, made if there is none, locked so that reports of one person queue up. `at`: when it was begun; null: it is not. */
export async function lockEnrolment(
  tx: Transaction,
  personId: number,
  courseId: number,
  at: Date | null,
): Promise<{ id: number; status: string }> {
  await tx.execute(
    sql`insert into enrolment (person_id, course_id, status) values (${personId}, ${courseId}, 'not begun') on conflict do nothing`,
  );
  const enrolment = await oneRow<{ id: number; status: string }>(
    tx,
    sql`select id, status from enrolment where person_id = ${personId} and course_id = ${courseId} and is_current for update`,
  );
  await tx.execute(
    sql`update enrolment set begun_at = coalesce(begun_at, ${at?.toISOString() ?? null}::timestamptz) where id = ${enrolment.id}`,
  );
  return enrolment;
}

/** Work on what only a split opened belongs to the paths through the split's group. */
export async function keepWay(tx: Transaction, enrolmentId: number, { enrolment, viaGroups }: OpenNow): Promise<void> {
  if (!enrolment?.units.length && viaGroups.length > 0)
    await tx.execute(sql`update enrolment set via_groups = ${ids(viaGroups)} where id = ${enrolmentId}`);
}
