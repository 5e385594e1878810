import { createRequire } from 'node:module';
import PDFDocument from 'pdfkit';
import QRCode from 'qrcode';

/* Paper: pages with the fonts for the scripts that names are written in, and QR codes. */

const require = createRequire(import.meta.url);
/** In the order in which a letter is looked for. */
const subsets = ['latin', 'latin-ext', 'cyrillic', 'cyrillic-ext', 'greek', 'greek-ext', 'vietnamese', 'devanagari'];
const fontFiles = (weight: 400 | 700): { name: string; file: string }[] =>
  subsets.map((subset) => ({
    name: `${subset}-${weight}`,
    file: require.resolve(`@fontsource/noto-sans/files/noto-sans-${subset}-${weight}-normal.woff`),
  }));

export type Paper = 'A4' | 'Letter';
export const millimetre = 72 / 25.4;

/** A document without pages yet. `bytes` is called when everything is drawn. */
export function newPdf(
  title: string,
  paper: Paper,
  layout: 'portrait' | 'landscape' = 'portrait',
): { document: PDFKit.PDFDocument; bytes: () => Promise<Buffer> } {
  const document = new PDFDocument({
    size: paper === 'A4' ? 'A4' : 'LETTER',
    layout,
    margin: 0,
    autoFirstPage: false,
    info: { Title: title },
  });
  const parts: Buffer[] = [];
  document.on('data', (part: Buffer) => parts.push(part));
  const ended = new Promise<void>((resolve, reject) => {
    document.on('end', resolve);
    document.on('error', reject);
  });
  return {
    document,
    async bytes() {
      document.end();
      await ended;
      return Buffer.concat(parts);
    },
  };
}

export type Write = (text: string, weight: 400 | 700, size: number, x: number, y: number, width: number) => number;

/** Writes a line, each letter in the first font that has it. @returns The height it took. */
export function writerOf(document: PDFKit.PDFDocument): Write {
  const fonts = { 400: fontFiles(400), 700: fontFiles(700) };
  for (const { name, file } of [...fonts[400], ...fonts[700]]) document.registerFont(name, file);
  /** The font of each letter, since a table asks for the same ones thousands of times. */
  const known = { 400: new Map<string, string>(), 700: new Map<string, string>() };
  const has = (name: string, letter: string): boolean => {
    document.font(name);
    const { font } = (document as unknown as { _font: { font: { hasGlyphForCodePoint: (code: number) => boolean } } })._font;
    return font.hasGlyphForCodePoint(letter.codePointAt(0) ?? 0);
  };
  return (text, weight, size, x, y, width) => {
    const runs: { font: string; text: string }[] = [];
    for (const letter of text) {
      const font = known[weight].get(letter) ?? fonts[weight].find(({ name }) => has(name, letter))?.name ?? `latin-${weight}`;
      known[weight].set(letter, font);
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

export function drawQr(document: PDFKit.PDFDocument, text: string, { x, y, side }: { x: number; y: number; side: number }): void {
  const { modules } = QRCode.create(text, { errorCorrectionLevel: 'M' });
  const step = side / modules.size;
  document.fillColor('#000');
  for (let row = 0; row < modules.size; row++)
    for (let column = 0; column < modules.size; column++)
      // A hair wider than a module, so that no light shows between two.
      if (modules.data[row * modules.size + column]) document.rect(x + column * step, y + row * step, step + 0.05, step + 0.05);
  document.fill();
}
