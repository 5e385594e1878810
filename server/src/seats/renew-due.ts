import { addDays, dayOfMoment } from '@gate-roster/core';
import { sql, type SQL } from 'drizzle-orm';
import type { Deps } from '../http/deps.ts';
import { firstOf, rows, type Transaction } from '../database/connect.ts';
import * as tables from '../database/schema.ts';
import { lookNowAndThen } from '../jobs/bell.ts';
import { beginOrder, type Priced } from './orders.ts';
import { charge } from './pay.ts';
import { tellEnd } from './tell-orders.ts';

/** So many days before its last one a licence is renewed, or those who may order are told that it ends. */
const daysBefore = 14;
const everyMilliseconds = 10 * 60_000;

type RenewDeps = Pick<Deps, 'db' | 'settings' | 'now' | 'log'>;

/** Looks for licences that end soon, now and then. @returns How to stop. */
export function startRenewing(deps: RenewDeps): () => Promise<void> {
  return lookNowAndThen(deps.settings.databaseUrl, deps.log, everyMilliseconds, () => renewDue(deps));
}

interface Ending extends Pick<Priced, 'vatRate' | 'currency'> {
  licenceId: number;
  groupId: number;
  seats: number;
  price: number;
  months: number | null;
  lastDay: string;
  /** Of who paid for it last. */
  mandate: string | null;
}

/**
 * A licence that renews, and whose payer agreed to be asked again, orders its next months itself and is charged for them. Of every
 * other one that is sold by the seat, those who may order are told that it ends. Once for each last day, however many processes look.
 */
export async function renewDue(deps: RenewDeps): Promise<void> {
  const { db, settings, now } = deps;
  const site = await firstOf(db.select({ zone: tables.organisation.timeZone }).from(tables.organisation));
  if (!site) return;
  const today = dayOfMoment(now(), site.zone);
  const ending = await rows<Ending>(
    db,
    sql`
    select l.licence_id as "licenceId", l.group_id as "groupId", l.seats, l.price, l.renew_months as months, l.last_day::text as "lastDay", b.vat_rate as "vatRate", b.currency,
      ${mandateOf(sql`l.licence_id`)} as mandate
    from licence_now l cross join billing b
    where l.price is not null and l.last_day between ${today}::date and ${addDays(today, daysBefore)}::date and l.seats > 0
      and not exists (select 1 from licence_told t where t.licence_id = l.licence_id and t.last_day = l.last_day)`,
  );
  for (const licence of ending) await db.transaction((tx) => once(tx, licence, settings.publicUrl));
  // Apart from the order itself, so that one whose process died in between is charged too; and it is charged once.
  const uncharged = await rows<{ id: number; mandate: string }>(
    db,
    sql`
    select o.id, ${mandateOf(sql`o.licence_id`)} as mandate from seat_order o
    where o.what = 'months' and o.ordered_by is null and o.state = 'approved' and not exists (select 1 from payment p where p.order_id = o.id)`,
  );
  for (const { id, mandate } of uncharged) await charge(deps, id, mandate);
}

/** By which the payer who paid for a licence last can be asked again. */
const mandateOf = (licenceId: SQL): SQL =>
  sql`(select p.mandate from payment p join seat_order o on o.id = p.order_id where o.licence_id = ${licenceId} and p.state = 'paid' order by p.begun_at desc limit 1)`;

/** Orders the renewal, or tells those who may order; nothing when another process was first. */
async function once(tx: Transaction, licence: Ending, publicUrl: string): Promise<void> {
  const { licenceId, groupId, lastDay, months } = licence;
  const isFirst = await tx.execute(
    sql`insert into licence_told (licence_id, last_day) values (${licenceId}, ${lastDay}) on conflict do nothing`,
  );
  if (isFirst.rowCount !== 1) return;
  if (months === null || licence.mandate === null) await tellEnd(tx, { licenceId, groupId, lastDay }, publicUrl);
  else await beginOrder(tx, { ...licence, what: 'months', months, orderedBy: null, word: null, state: 'approved' });
}
