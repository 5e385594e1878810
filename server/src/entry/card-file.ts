import { createRequire } from 'node:module';
import { setImmediate } from 'node:timers/promises';
import PDFDocument from 'pdfkit';
import QRCode from 'qrcode';
import { dayInWords } from '../letters/write-letters.ts';

const require = createRequire(import.meta.url);
/** In the order in which a letter is looked for. */
const subsets = ['latin', 'latin-ext', 'cyrillic', 'cyrillic-ext', 'greek', 'greek-ext', 'vietnamese', 'devanagari'];
const fontFiles = (weight: 400 | 700): { name: string; file: string }[] =>
  subsets.map((subset) => ({
    name: `${subset}-${weight}`,
    file: require.resolve(`@fontsource/noto-sans/files/noto-sans-${subset}-${weight}-normal.woff`),
  }));

export interface PrintedCard {
  name: string;
  signInName: string;
  group: string;
  word: string;
  link: string;
  isLasting: boolean;
  until: string | null;
}

const millimetre = 72 / 25.4;
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
  }: { paper: 'A4' | 'Letter'; onPage: 8 | 10; organisation: string; address: string; timeZone: string },
): Promise<Buffer> {
  const document = new PDFDocument({
    size: paper === 'A4' ? 'A4' : 'LETTER',
    margin: 0,
    autoFirstPage: false,
    info: { Title: `Sign-in cards, ${organisation}` },
  });
  const parts: Buffer[] = [];
  document.on('data', (part: Buffer) => parts.push(part));
  const ended = new Promise<void>((resolve, reject) => {
    document.on('end', resolve);
    document.on('error', reject);
  });
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
  document.end();
  await ended;
  return Buffer.concat(parts);
}

type Write = (text: string, weight: 400 | 700, size: number, x: number, y: number, width: number) => number;

/** Writes a line, each letter in the first font that has it. @returns The height it took. */
function writerOf(document: PDFKit.PDFDocument): Write {
  const fonts = { 400: fontFiles(400), 700: fontFiles(700) };
  for (const { name, file } of [...fonts[400], ...fonts[700]]) document.registerFont(name, file);
  const has = (name: string, letter: string): boolean => {
    document.font(name);
    const { font } = (document as unknown as { _font: { font: { hasGlyphForCodePoint: (code: number) => boolean } } })._font;
    return font.hasGlyphForCodePoint(letter.codePointAt(0) ?? 0);
  };
  return (text, weight, size, x, y, width) => {
    const runs: { font: string; text: string }[] = [];
    for (const letter of text) {
      const font = fonts[weight].find(({ name }) => has(name, letter))?.name ?? `latin-${weight}`;
      const last = runs.at(-1);
      if (last?.font === font) last.text += letter;
      else runs.push({ font, text: letter });
    }
    const widthOf = (at: number): number =>
      runs.reduce((sum, run) => sum + document.font(run.font).fontSize(at).widthOfString(run.text), 0);
    // A long name is set smaller rather than cut.
    const fitting = Math.max(6, Math.min(size, (size * width) / Math.max(1, widthOf(size))));
    let at = x;
    for (const run of runs) {
      document.font(run.font).fontSize(fitting).text(run.text, at, y, { lineBreak: false });
      at += document.widthOfString(run.text);
    }
    return fitting * 1.36;
  };
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

function drawQr(document: PDFKit.PDFDocument, text: string, { x, y, side }: { x: number; y: number; side: number }): void {
  const { modules } = QRCode.create(text, { errorCorrectionLevel: 'M' });
  const step = side / modules.size;
  document.fillColor('#000');
  for (let row = 0; row < modules.size; row++)
    for (let column = 0; column < modules.size; column++)
      // A hair wider than a module, so that no light shows between two.
      if (modules.data[row * modules.size + column]) document.rect(x + column * step, y + row * step, step + 0.05, step + 0.05);
  document.fill();
}
