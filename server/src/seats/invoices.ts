import { showMoney } from '@gate-roster/core';
import { sql } from 'drizzle-orm';
import { oneRow, type Queryable, type Transaction } from '../database/connect.ts';
import { dayOfText } from '../certificates/days.ts';
import { millimetre, newPdf, type Paper, writerOf } from '../print/pdf.ts';

interface Amounts {
  seats: number;
  net: number;
  vat: number;
  word: string | null;
  isCredit: boolean;
}

/** What an invoice is for: an order of seats, or a way in. */
export type Invoiced = { orderId: number } | { entryId: string };
const idsOf = (of: Invoiced): { orderId: number | null; entryId: string | null } => ({ orderId: null, entryId: null, ...of });

/** Makes an invoice or credit note with the next number; the caller holds the roster lock alone, so that no number is left out. */
export async function makeInvoice(tx: Transaction, of: Invoiced, { seats, net, vat, word, isCredit }: Amounts): Promise<number> {
  const { orderId, entryId } = idsOf(of);
  const { number } = await oneRow<{ number: number }>(
    tx,
    sql`
    insert into invoice (number, order_id, entry_id, credits, made_at, seats, net, vat, seller, word)
    select coalesce((select max(number) from invoice), 0) + 1, ${orderId}::bigint, ${entryId}::uuid,
      ${isCredit ? sql`(select min(number) from invoice where order_id = ${orderId} and credits is null)` : sql`null`}, now(), ${seats}, ${net}, ${vat}, to_jsonb(b) - 'only_one', ${word}
    from billing b returning number`,
  );
  return number;
}

interface Printed {
  number: number;
  credits: number | null;
  day: string;
  seats: number;
  net: number;
  vat: number;
  word: string | null;
  seller: { seller_name: string; seller_address: string; vat_number: string; foot: string };
  what: 'seats' | 'months' | 'entry';
  months: number;
  price: number;
  vatRate: number;
  currency: string;
  /** null: of a way in. */
  licence: string | null;
  group: string;
  orderedBy: string | null;
}

/** @returns An invoice or credit note as PDF; null: there is none of this number. */
export async function invoiceFile(db: Queryable, of: Invoiced, number: number, paper: Paper): Promise<Buffer | null> {
  const { orderId, entryId } = idsOf(of);
  const found = await db.execute(sql`
    select i.number, i.credits, (i.made_at at time zone s.time_zone)::date::text as day, i.seats, i.net, i.vat, i.word, i.seller, coalesce(o.what, 'entry') as what,
      coalesce(o.months, 0) as months, coalesce(o.price, e.price) as price, coalesce(o.vat_rate, e.vat_rate) as "vatRate", coalesce(o.currency, e.currency) as currency,
      (select name from licence_version v where v.licence_id = o.licence_id order by row_id desc limit 1) as licence,
      (select name from group_version v where v.group_id = coalesce(o.group_id, e.group_ids[1]) order by row_id desc limit 1) as "group",
      (select nullif(trim(n.given_name || ' ' || n.family_name), '') from personal_now n where n.person_id = coalesce(o.ordered_by, e.person_id)) as "orderedBy"
    from invoice i left join seat_order o on o.id = i.order_id left join paid_entry e on e.id = i.entry_id cross join organisation s
    where (i.order_id = ${orderId}::bigint or i.entry_id = ${entryId}::uuid) and i.number = ${number}`);
  const [one] = found.rows as unknown as Printed[];
  if (!one) return null;
  const title = one.credits === null ? `Invoice ${one.number}` : `Credit note ${one.number}`;
  const { document, bytes } = newPdf(title, paper);
  const write = writerOf(document);
  document.addPage();
  const inset = 22 * millimetre;
  const room = document.page.width - 2 * inset;
  let y = inset;
  const line = (text: string, size = 11, weight: 400 | 700 = 400): void => {
    y += write(text, weight, size, inset, y, room) + 2;
  };
  line(one.seller.seller_name || ' ', 14, 700);
  for (const part of one.seller.seller_address.split('\n')) line(part);
  if (one.seller.vat_number) line(`VAT number ${one.seller.vat_number}`);
  y += 30;
  if (one.what !== 'entry') line(one.group, 12, 700);
  if (one.orderedBy)
    line(
      one.what === 'entry' ? one.orderedBy : `Ordered by ${one.orderedBy}`,
      one.what === 'entry' ? 12 : 11,
      one.what === 'entry' ? 700 : 400,
    );
  y += 30;
  document.fillColor('#0e4c54');
  line(title, 24, 700);
  document.fillColor('#000');
  line(`${dayOfText(one.day)}${one.credits === null ? '' : `, for invoice ${one.credits}`}`);
  y += 20;
  const sign = one.credits === null ? 1 : -1;
  const what = {
    seats: `${one.licence}: ${one.seats} more seats, ${showMoney(one.price, one.currency)} each`,
    months: `${one.licence}: ${one.seats} seats for ${one.months} more months, ${showMoney(one.price, one.currency)} each`,
    entry: `Joining ${one.group}`,
  }[one.what];
  const rows: [string, string][] = [
    [what, showMoney(sign * one.net, one.currency)],
    [`VAT ${one.vatRate / 100} %`, showMoney(sign * one.vat, one.currency)],
    ['Total', showMoney(sign * (one.net + one.vat), one.currency)],
  ];
  const amountWidth = 34 * millimetre;
  for (const [text, amount] of rows) {
    const isTotal = text === 'Total';
    document
      .lineWidth(isTotal ? 1 : 0.4)
      .strokeColor('#0e4c54')
      .moveTo(inset, y)
      .lineTo(inset + room, y)
      .stroke();
    y += 6;
    write(text, isTotal ? 700 : 400, 11, inset, y, room - amountWidth);
    y += write(amount, isTotal ? 700 : 400, 11, inset + room - amountWidth, y, amountWidth) + 6;
  }
  y += 14;
  if (one.word) line(one.word);
  line(one.credits === null ? 'Paid through the payment service.' : 'The money goes back the way it came.');
  if (one.seller.foot) for (const part of one.seller.foot.split('\n')) line(part, 10);
  return bytes();
}
