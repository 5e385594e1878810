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

/** Makes an invoice or credit note with the next number; the caller holds the roster lock alone, so that no number is left out. */
export async function makeInvoice(tx: Transaction, orderId: number, { seats, net, vat, word, isCredit }: Amounts): Promise<number> {
  const { number } = await oneRow<{ number: number }>(
    tx,
    sql`
    insert into invoice (number, order_id, credits, made_at, seats, net, vat, seller, word)
    select coalesce((select max(number) from invoice), 0) + 1, ${orderId},
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
  what: 'seats' | 'months';
  months: number;
  price: number;
  vatRate: number;
  currency: string;
  licence: string;
  group: string;
  orderedBy: string | null;
}

/** @returns An invoice or credit note of an order as PDF; null: it has none of this number. */
export async function invoiceFile(db: Queryable, orderId: number, number: number, paper: Paper): Promise<Buffer | null> {
  const found = await db.execute(sql`
    select i.number, i.credits, (i.made_at at time zone s.time_zone)::date::text as day, i.seats, i.net, i.vat, i.word, i.seller, o.what, o.months, o.price,
      o.vat_rate as "vatRate", o.currency, (select name from licence_version v where v.licence_id = o.licence_id order by row_id desc limit 1) as licence,
      (select name from group_version v where v.group_id = o.group_id order by row_id desc limit 1) as "group",
      (select nullif(trim(n.given_name || ' ' || n.family_name), '') from personal_now n where n.person_id = o.ordered_by) as "orderedBy"
    from invoice i join seat_order o on o.id = i.order_id cross join organisation s where i.order_id = ${orderId} and i.number = ${number}`);
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
  line(one.group, 12, 700);
  if (one.orderedBy) line(`Ordered by ${one.orderedBy}`);
  y += 30;
  document.fillColor('#0e4c54');
  line(title, 24, 700);
  document.fillColor('#000');
  line(`${dayOfText(one.day)}${one.credits === null ? '' : `, for invoice ${one.credits}`}`);
  y += 20;
  const sign = one.credits === null ? 1 : -1;
  const what = one.what === 'seats' ? `${one.seats} more seats` : `${one.seats} seats for ${one.months} more months`;
  const rows: [string, string][] = [
    [`${one.licence}: ${what}, ${showMoney(one.price, one.currency)} each`, showMoney(sign * one.net, one.currency)],
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
