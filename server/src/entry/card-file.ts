import { setImmediate } from 'node:timers/promises';
import { dayInWords } from '../letters/write-letters.ts';
import { drawQr, millimetre, newPdf, type Paper, type Write, writerOf } from '../print/pdf.ts';

export interface PrintedCard {
  name: string;
  signInName: string;
  group: string;
  word: string;
  link: string;
  isLasting: boolean;
  until: string | null;
}

const margin = 10 * millimetre;
const columns = 2;

/** Sign-in cards on paper, 8 or 10 to a page, with lines to cut along. */
export async function cardFile(
  cards: readonly PrintedCard[],
  {
    paper,
    onPage,
    organisation,
    address,
    timeZone,
  }: { paper: Paper; onPage: 8 | 10; organisation: string; address: string; timeZone: string },
): Promise<Uint8Array> {
  const { document, bytes } = newPdf(`Sign-in cards, ${organisation}`, paper);
  const write = writerOf(document);
  const lines = onPage / columns;
  for (const [index, card] of cards.entries()) {
    const place = index % onPage;
    if (place === 0) {
      document.addPage();
      cutLines(document, lines);
    }
    const width = (document.page.width - 2 * margin) / columns;
    const height = (document.page.height - 2 * margin) / lines;
    drawCard(
      document,
      write,
      card,
      { x: margin + (place % columns) * width, y: margin + Math.floor(place / columns) * height, width, height },
      { organisation, address, timeZone },
    );
    // 500 cards take seconds: others get their turn after each.
    await setImmediate();
  }
  return bytes();
}

function cutLines(document: PDFKit.PDFDocument, lines: number): void {
  const { width, height } = document.page;
  document.save().lineWidth(0.5).strokeColor('#888').dash(4, { space: 3 });
  for (let line = 1; line < lines; line++) {
    const y = margin + (line * (height - 2 * margin)) / lines;
    document
      .moveTo(margin / 2, y)
      .lineTo(width - margin / 2, y)
      .stroke();
  }
  document
    .moveTo(width / 2, margin / 2)
    .lineTo(width / 2, height - margin / 2)
    .stroke();
  document.undash().restore();
}

function drawCard(
  document: PDFKit.PDFDocument,
  write: Write,
  card: PrintedCard,
  { x, y, width, height }: { x: number; y: number; width: number; height: number },
  { organisation, address, timeZone }: { organisation: string; address: string; timeZone: string },
): void {
  const inset = 5 * millimetre;
  const side = Math.min(height - 2 * inset, 34 * millimetre);
  drawQr(document, card.link, { x: x + width - inset - side, y: y + inset, side });
  const room = width - side - 3 * inset;
  let at = y + inset;
  document.fillColor('#555');
  at += write(organisation, 400, 8, x + inset, at, room) + 4;
  document.fillColor('#000');
  at += write(card.name, 700, 14, x + inset, at, room) + 1;
  document.fillColor('#555');
  at += write(card.group, 400, 8.5, x + inset, at, room) + 3;
  at += write('Sign-in name', 400, 7.5, x + inset, at, room);
  document.fillColor('#000');
  at += write(card.signInName, 700, 12, x + inset, at, room) + 2;
  document.fillColor('#555');
  at += write(`No camera? At ${address}/enter`, 400, 7.5, x + inset, at, room);
  document.fillColor('#000');
  at += write(card.word, 700, 12, x + inset, at, room) + 3;
  document.fillColor('#555');
  const use = card.isLasting
    ? 'Signs in again and again. Keep it to yourself.'
    : `Signs in once${card.until ? `, until ${dayInWords(new Date(card.until), timeZone)}` : ''}.`;
  write(use, 400, 7.5, x + inset, at, room);
}
