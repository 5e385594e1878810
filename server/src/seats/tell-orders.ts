import { sql, type SQL } from 'drizzle-orm';
import { oneRow, type Queryable, rows } from '../database/connect.ts';
import { writeLetters } from '../letters/write-letters.ts';

/** What a letter says of an order in this state; the last payment may have been refused. */
const titles = {
  asked: 'An order of seats waits for a decision',
  approved: 'An order of seats can be paid',
  'not paid': 'The payment was refused',
  paying: 'An order of seats waits for the payment',
  paid: 'An order of seats is paid',
  refused: 'An order of seats was refused',
  'given up': 'An order of seats was given up: what was paid goes back',
};

/** Writes to the administrators that an order waits for their decision. */
export const tellWhoDecides = (db: Queryable, orderId: number, publicUrl: string): Promise<number> =>
  tell(db, orderId, publicUrl, sql`p.role = 'administrator'`);

/** Writes to who ordered what became of it; when it ordered itself, to the administrators and to who may order for its group. */
export const tellOrderer = (db: Queryable, orderId: number, publicUrl: string): Promise<number> =>
  tell(
    db,
    orderId,
    publicUrl,
    sql`case when o.ordered_by is not null then p.id = o.ordered_by
      else p.role = 'administrator' or exists (
        select 1 from leadership l where l.person_id = p.id and l.group_id = o.group_id and l.until_at is null and 'orderSeats' = any(l.powers)) end`,
  );

/** Writes to the administrators, and to who may order for its home, that a licence ends. */
export async function tellEnd(
  db: Queryable,
  { licenceId, groupId, lastDay }: { licenceId: number; groupId: number; lastDay: string },
  publicUrl: string,
): Promise<number> {
  const told = await rows<{ id: number; name: string; email: string; licence: string; used: number; day: string }>(
    db,
    sql`
    select p.id, n.given_name as name, n.confirmed_email::text as email, l.name as licence, to_char(l.last_day, 'FMDD FMMonth YYYY') as day,
      (select count(*)::int from seat s where s.licence_id = l.licence_id and s.until_at is null) as used
    from licence_now l cross join person p join personal_now n on n.person_id = p.id
    where l.licence_id = ${licenceId} and l.last_day = ${lastDay} and n.confirmed_email is not null and (p.role = 'administrator' or exists (
      select 1 from leadership x join group_branch b on b.ancestor_id = x.group_id and b.group_id = l.group_id where x.person_id = p.id and x.until_at is null and 'orderSeats' = any(x.powers)))
    order by p.id`,
  );
  return writeLetters(
    db,
    publicUrl,
    'seat order',
    told.map(({ id, name, email, licence, used, day }) => ({
      personId: id,
      address: email,
      groupId,
      values: {
        name,
        title: 'A licence ends soon',
        words: `${licence} ends on ${day}. ${used} people use a seat of it, and lose its courses then.`,
        link: `${publicUrl}/seats/${groupId}?licence=${licenceId}`,
      },
    })),
  );
}

/** `who`: of a person `p` and the order `o`. */
async function tell(db: Queryable, orderId: number, publicUrl: string, who: SQL): Promise<number> {
  const order = await oneRow<{
    groupId: number;
    state: keyof typeof titles;
    seats: number;
    licence: string;
    group: string;
    word: string | null;
  }>(
    db,
    sql`
    select o.group_id as "groupId", o.seats, (select name from licence_version v where v.licence_id = o.licence_id order by row_id desc limit 1) as licence,
      (select name from group_version v where v.group_id = o.group_id order by row_id desc limit 1) as "group",
      case when o.state = 'approved' and (select state from payment y where y.order_id = o.id order by begun_at desc limit 1) = 'refused' then 'not paid' else o.state end as state,
      coalesce((select word from order_step t where t.order_id = o.id order by id desc limit 1), o.asking) as word
    from seat_order o where o.id = ${orderId}`,
  );
  const told = await rows<{ id: number; name: string; email: string }>(
    db,
    sql`
    select p.id, n.given_name as name, n.confirmed_email::text as email from seat_order o cross join person p join personal_now n on n.person_id = p.id
    where o.id = ${orderId} and n.confirmed_email is not null and ${who} order by p.id`,
  );
  const words = [`${order.licence}, ${order.seats} seats for ${order.group}.`, ...(order.word ? [order.word] : [])].join('\n\n');
  return writeLetters(
    db,
    publicUrl,
    'seat order',
    told.map(({ id, name, email }) => ({
      personId: id,
      address: email,
      groupId: order.groupId,
      values: { name, title: titles[order.state], words, link: `${publicUrl}/seats/${order.groupId}?view=orders` },
    })),
  );
}
