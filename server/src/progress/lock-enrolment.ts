import { and, eq, sql } from 'drizzle-orm';
import { ids, onlyOne, type Transaction } from '../database/connect.ts';
import * as tables from '../database/schema.ts';
import type { OpenNow } from '../splits/running.ts';

/** The current enrolment, made if there is none, locked so that reports of one person queue up. `at`: when it was begun; null: it is not. */
export async function lockEnrolment(
  tx: Transaction,
  personId: number,
  courseId: number,
  at: Date | null,
): Promise<{ id: number; status: string }> {
  await tx.insert(tables.enrolment).values({ personId, courseId, status: 'not begun' }).onConflictDoNothing();
  const enrolment = await onlyOne(
    tx
      .select({ id: tables.enrolment.id, status: tables.enrolment.status })
      .from(tables.enrolment)
      .where(and(eq(tables.enrolment.personId, personId), eq(tables.enrolment.courseId, courseId), eq(tables.enrolment.isCurrent, true)))
      .for('update'),
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
