import { setImmediate } from 'node:timers/promises';
import { fillCertificate, showCertificateNumber } from '@gate-roster/core';
import { sql } from 'drizzle-orm';
import { ids, type Queryable, rows } from '../database/connect.ts';
import { dayOfText } from './days.ts';
import { drawQr, millimetre, newPdf, type Paper, writerOf } from '../print/pdf.ts';

const side = 30 * millimetre;
const inset = 22 * millimetre;

export interface Printed {
  number: string;
  title: string;
  words: string;
  about: string;
  day: string;
  score: number | null;
  showsScore: boolean;
  validUntil: string | null;
  name: string;
  givenBy: string | null;
  logo: Uint8Array | null;
  organisation: string;
}

/** What is printed on certificates, in the words that their kind has now. */
export const printedCertificates = (db: Queryable, rowIds: readonly number[]): Promise<Printed[]> =>
  rows<Printed>(
    db,
    sql`
    select o.number, f.title, f.words, o.about, o.day::text as day, o.score, f.shows_score as "showsScore", o.valid_until::text as "validUntil",
      trim(n.given_name || ' ' || n.family_name) as name, (select trim(b.given_name || ' ' || b.family_name) from personal_now b where b.person_id = o.given_by) as "givenBy",
      u.content as logo, g.name as organisation
    from certificate o join lateral (select * from certificate_form_version v where v.form_id = o.form_id order by v.row_id desc limit 1) f on true
    join personal_now n on n.person_id = o.person_id left join upload u on u.id = f.logo_id cross join organisation g
    where o.row_id = any(${ids(rowIds)}) order by n.family_name, n.given_name, o.row_id`,
  );

/** Certificates as one PDF, a page each. */
export async function drawCertificates(
  printed: readonly Printed[],
  { paper, publicUrl }: { paper: Paper; publicUrl: string },
): Promise<Uint8Array> {
  const { document, bytes } = newPdf(printed[0]?.title ?? 'Certificates', paper, 'landscape');
  const write = writerOf(document);
  for (const one of printed) {
    document.addPage();
    const { width, height } = document.page;
    const room = width - 2 * inset;
    document
      .lineWidth(1.2)
      .strokeColor('#0e4c54')
      .rect(inset / 2, inset / 2, width - inset, height - inset)
      .stroke();
    let y = inset;
    if (one.logo) {
      document.image(Buffer.from(one.logo), inset, y, { fit: [60 * millimetre, 22 * millimetre] });
      y += 26 * millimetre;
    }
    document.fillColor('#555');
    y += write(one.organisation, 400, 13, inset, y, room) + 10;
    document.fillColor('#0e4c54');
    y += write(one.title, 700, 34, inset, y, room) + 16;
    document.fillColor('#000');
    y += write(one.name, 700, 26, inset, y, room) + 12;
    const words = fillCertificate(one.words, {
      name: one.name,
      course: one.about,
      day: dayOfText(one.day),
      score: one.score === null ? '' : String(Math.round(one.score)),
      organisation: one.organisation,
    });
    for (const line of wrapped(words, room)) y += write(line, 400, 14, inset, y, room) + 2;
    y += 10;
    document.fillColor('#555');
    const facts = [
      one.about,
      dayOfText(one.day),
      ...(one.showsScore && one.score !== null ? [`score ${Math.round(one.score)}`] : []),
      ...(one.validUntil ? [`valid until ${dayOfText(one.validUntil)}`] : []),
    ];
    write(facts.join(' · '), 400, 12, inset, y, room);
    const foot = height - inset - side;
    drawQr(document, `${publicUrl}/check/${one.number}`, { x: width - inset - side, y: foot, side });
    document.fillColor('#555');
    if (one.givenBy) write(`Given by ${one.givenBy}`, 400, 11, inset, foot + side - 46, room - side - 20);
    write(`Number ${showCertificateNumber(one.number)}`, 700, 11, inset, foot + side - 30, room - side - 20);
    write(`Check it at ${publicUrl}/check`, 400, 11, inset, foot + side - 14, room - side - 20);
    // Many pages take seconds: others get their turn after each.
    await setImmediate();
  }
  return bytes();
}

/** Lines of about as many letters as fit at this size. */
function wrapped(text: string, room: number): string[] {
  const most = Math.floor(room / 7);
  return text.split('\n').flatMap((paragraph) => {
    const lines: string[] = [''];
    for (const word of paragraph.split(' ')) {
      const last = lines.at(-1) ?? '';
      if (last.length + word.length + 1 > most && last !== '') lines.push(word);
      else lines[lines.length - 1] = last === '' ? word : `${last} ${word}`;
    }
    return lines;
  });
}
