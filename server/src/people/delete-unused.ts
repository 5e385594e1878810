import { sql } from 'drizzle-orm';
import { ids, rows, type Transaction } from '../database/connect.ts';

/** Deletes accounts that were ended before anybody used them. Run after the derived tables are up to date. */
export async function deleteUnused(tx: Transaction, people: readonly number[]): Promise<void> {
  if (people.length === 0) return;
  const unused = await rows<{ id: number }>(
    tx,
    sql`
    select p.id from person p join person_state s on s.person_id = p.id and s.until_at is null and s.state = 'ended'
    where p.id = any(${ids(people)}) and p.signed_in_at is null and p.role = 'none'
      and not exists (select 1 from enrolment e where e.person_id = p.id) and not exists (select 1 from leadership l where l.person_id = p.id and l.until_at is null)
      and not exists (select 1 from membership m where m.person_id = p.id and m.until_at is null) and not exists (select 1 from seat t where t.person_id = p.id and t.until_at is null)
      and not exists (select 1 from change_log c where c.actor_id = p.id) and not exists (select 1 from access_grant g where g.person_id = p.id)
      and not exists (select 1 from paid_entry e where e.person_id = p.id)`,
  );
  const gone = ids(unused.map(({ id }) => id));
  for (const table of [
    'entitlement',
    'membership',
    'leadership',
    'person_tag',
    'person_state',
    'personal',
    'credential',
    'launch',
    'letter',
    'one_time_link',
    'address_link',
    'personal_list_person',
    'join_code_use',
    'join_request',
    'course_request',
    'message_reader',
    'message_answer',
    'message_notice',
    'reminded',
    'rule_act',
    'rule_hold',
    'sign_in_trouble',
    'calendar_feed',
    'seat',
    'seat_line',
    'seat_word',
    'seat_news',
    'work_claim',
    'certificate',
  ]) {
    await tx.execute(sql`delete from ${sql.identifier(table)} where person_id = any(${gone})`);
  }
  await tx.execute(sql`delete from person where id = any(${gone})`);
}
