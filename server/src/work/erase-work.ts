import { sql } from 'drizzle-orm';
import type { Transaction } from '../database/connect.ts';

/** Empties what somebody handed in and what was written to them about it; scores and skills keep a number without a name. */
export async function eraseWork(tx: Transaction, personId: number): Promise<void> {
  const versions = sql`select v.id from work_version v join work w on w.id = v.work_id join enrolment e on e.id = w.enrolment_id where e.person_id = ${personId}`;
  await tx.execute(sql`delete from work_file where version_id in (${versions})`);
  await tx.execute(sql`update work_version set words = '', link = null where id in (${versions})`);
  await tx.execute(sql`update mark set comment = '' where version_id in (${versions})`);
}
