import type { BranchAbove, ProgressReport } from '@gate-roster/contract';
import { heldAgainst, meanScore, notBegun } from '@gate-roster/core';
import type { Cell, Table } from '../http/table.ts';
import { millimetre, newPdf, type Paper, type Write, writerOf } from '../print/pdf.ts';

/** A view of progress on paper. */
export interface PaperReport {
  group: string;
  day: string;
  /** In words; null: none is set. */
  filter: string | null;
  takenBy: string;
  table: Table;
  report: ProgressReport;
  /** What the weeks are held against; null: the reader sees no progress there, or nothing lies above. */
  above: BranchAbove;
  paper: Paper;
}

const [ink, soft, rule, shade] = ['#1b2a2a', '#566463', '#d9d4c8', '#f3efe6'];
const [done, underWay, rest, late] = ['#2b7a57', '#55758f', '#c8c2b4', '#a63c11'];
const margin = 14 * millimetre;
const rowHeight = 15;
const headHeight = 26;
const textSize = 8;
const lineHeight = 10.5;
const chartHeight = 96;
const gap = 10;
/** Of a table that is wider than the page, the first columns come again on each part. */
const [narrowest, widest, pointsPerLetter] = [34, 150, 4.6];

interface Box {
  x: number;
  y: number;
  width: number;
  height: number;
}
type Document = PDFKit.PDFDocument;

/** The charts of the scope, and the table below them on as many pages as it takes; what is too wide goes on beside. */
export async function progressPaper(asked: PaperReport): Promise<Uint8Array> {
  const { group, day, filter, takenBy, table, report, above, paper } = asked;
  const { document, bytes } = newPdf(`${table.name}: ${group}`, paper, 'landscape');
  const write = writerOf(document);
  document.addPage();
  const width = document.page.width - 2 * margin;
  document.fillColor(ink);
  write(group, 700, 20, margin, margin, width);
  document.fillColor(soft);
  const facts = [`${table.name}, as of ${day}`, filter === null ? null : `Only: ${filter}`, `Taken away by ${takenBy}`];
  write(facts.filter((fact) => fact !== null).join('  ·  '), 400, 9, margin, margin + 28, width);
  const quarter = (width - 3 * gap) / 4;
  const box = (index: number): Box => ({ x: margin + index * (quarter + gap), y: margin + 48, width: quarter, height: chartHeight });
  drawStatus(document, write, report, box(0));
  drawWeeks(document, write, report, above, box(1));
  drawTens(document, write, report, box(2));
  drawScores(document, write, report, box(3));
  await drawTable(document, write, table, margin + 48 + chartHeight + 14);
  return bytes();
}

function frame(document: Document, write: Write, title: string, { x, y, width, height }: Box): void {
  document.lineWidth(0.5).strokeColor(rule).roundedRect(x, y, width, height, 4).stroke();
  document.fillColor(soft);
  write(title, 700, 8, x + 8, y + 6, width - 16);
}

function drawStatus(document: Document, write: Write, { total, learners }: ProgressReport, box: Box): void {
  frame(document, write, `${total.all} enrolments of ${learners} learners`, box);
  const parts = [
    { of: total.done, colour: done, text: 'done' },
    { of: total.underWay, colour: underWay, text: 'under way' },
    { of: notBegun(total), colour: rest, text: 'not begun' },
  ];
  const length = box.width - 16;
  const all = Math.max(1, total.all - total.exempt);
  let at = box.x + 8;
  for (const { of, colour } of parts) {
    document.rect(at, box.y + 24, (of / all) * length, 14).fill(colour);
    at += (of / all) * length;
  }
  const lines = [...parts.map(({ of, text }) => `${of} ${text}`), `${total.overdue} overdue`, `${total.exempt} exempt`];
  for (const [index, line] of lines.entries()) {
    document.fillColor(index === 3 ? late : ink);
    write(line, 400, 9, box.x + 8 + (index % 2) * (length / 2), box.y + 46 + Math.floor(index / 2) * 14, length / 2);
  }
}

/** Done week by week; dashed, what the branch above would have done with as many enrolments. */
function drawWeeks(document: Document, write: Write, { weeks, total }: ProgressReport, above: BranchAbove, box: Box): void {
  const dashed = heldAgainst(total.all - total.exempt, above);
  frame(document, write, above && dashed ? `Done per week (dashed: ${above.name})` : 'Done per week', box);
  const most = Math.max(1, ...weeks.map((week) => week.done), ...(dashed ?? []));
  const [left, top, width, height] = [box.x + 26, box.y + 24, box.width - 38, box.height - 42];
  document.lineWidth(0.5).strokeColor(rule);
  for (const share of [0, 0.5, 1]) {
    const y = top + height * (1 - share);
    document
      .moveTo(left, y)
      .lineTo(left + width, y)
      .stroke();
    document.fillColor(soft);
    write(String(Math.round(most * share)), 400, 7, box.x + 8, y - 5, 16);
  }
  const line = (counts: readonly number[]): void => {
    for (const [index, count] of counts.entries()) {
      const x = left + (index / Math.max(1, counts.length - 1)) * width;
      const y = top + height * (1 - count / most);
      if (index === 0) document.moveTo(x, y);
      else document.lineTo(x, y);
    }
    document.stroke();
  };
  if (dashed) {
    document.lineWidth(0.8).strokeColor(soft).dash(3, { space: 2 });
    line(dashed);
    document.undash();
  }
  document.lineWidth(1.2).strokeColor(done);
  line(weeks.map((week) => week.done));
  document.fillColor(soft);
  write(weeks[0]?.monday ?? '', 400, 7, left, top + height + 4, 60);
  write(weeks.at(-1)?.monday ?? '', 400, 7, left + width - 40, top + height + 4, 60);
}

/** How many enrolments have a score of each ten. */
function drawTens(document: Document, write: Write, { tens }: ProgressReport, box: Box): void {
  frame(document, write, 'Enrolments by score', box);
  const most = Math.max(1, ...tens);
  const [left, top, width, height] = [box.x + 10, box.y + 32, box.width - 20, box.height - 50];
  const step = width / tens.length;
  for (const [index, count] of tens.entries()) {
    const bar = (count / most) * height;
    if (count > 0) document.rect(left + index * step + 1.5, top + height - bar, step - 3, bar).fill(underWay);
    document.fillColor(ink);
    if (count > 0) write(String(count), 400, 6, left + index * step, top + height - bar - 9, step);
    document.fillColor(soft);
    write(String(index * 10), 400, 7, left + index * step + 1.5, top + height + 4, step);
  }
  document
    .lineWidth(0.5)
    .strokeColor(rule)
    .moveTo(left, top + height)
    .lineTo(left + width, top + height)
    .stroke();
}

const mostBars = 5;

/** Scores of the rows below the first: their medians where those were asked for, else their means. */
function drawScores(document: Document, write: Write, { rows }: ProgressReport, box: Box): void {
  frame(document, write, `${rows.some(({ medians }) => medians) ? 'Median' : 'Mean'} score`, box);
  const scored = rows
    .filter(({ depth }) => depth === (rows.length > 1 ? 1 : 0))
    .flatMap(({ name, total, medians }) => {
      const score = medians ? medians.total : meanScore(total);
      return score === null ? [] : [{ name, score }];
    })
    .slice(0, mostBars);
  for (const [index, { name, score }] of scored.entries()) {
    const y = box.y + 24 + index * 13;
    const [from, length] = [box.x + box.width * 0.45, box.width * 0.42];
    document.fillColor(ink);
    write(name, 400, 8, box.x + 8, y, box.width * 0.45 - 14);
    document.rect(from, y + 3, length, 6).fill(rest);
    document.rect(from, y + 3, (score / 100) * length, 6).fill(done);
    document.fillColor(ink);
    write(String(Math.round(score)), 700, 8, from + length + 6, y, 24);
  }
}

const shown = (cell: Cell | undefined): string => (cell === null || cell === undefined ? '' : String(cell));

async function drawTable(document: Document, write: Write, { head, lines }: Table, top: number): Promise<void> {
  const usable = document.page.width - 2 * margin;
  const widths = head.map((title, column) => {
    const letters = Math.max(...inTwo(title).map(({ length }) => length), ...lines.slice(0, 300).map((line) => shown(line[column]).length));
    return Math.min(widest, Math.max(narrowest, letters * pointsPerLetter + 8));
  });
  const parts = partsOf(widths, usable);
  let [y, isFirst, page] = [top, true, 1];
  for (const columns of parts) {
    if (!isFirst) y = newPage(document, write, ++page);
    isFirst = false;
    y = drawLine(document, write, head, columns, widths, y, true);
    for (const line of lines) {
      if (y + rowHeight > document.page.height - margin) {
        // Others get their turn between two pages.
        await new Promise((resolve) => setImmediate(resolve));
        y = drawLine(document, write, head, columns, widths, newPage(document, write, ++page), true);
      }
      y = drawLine(document, write, line, columns, widths, y, false);
    }
  }
}

/** A title on two lines, parted where it reads well. */
function inTwo(title: string): string[] {
  if (title.length < 14) return [title];
  const spaces = [...title.matchAll(/ /gu)].map(({ index }) => index);
  const colon = title.lastIndexOf(': ') + 1;
  const middle = spaces.toSorted((a, b) => Math.abs(a - title.length / 2) - Math.abs(b - title.length / 2))[0];
  const at = colon > 0 ? colon : middle;
  return at === undefined ? [title] : [title.slice(0, at), title.slice(at + 1)];
}

/** Which columns stand beside one another; the first comes again in each part. */
function partsOf(widths: readonly number[], usable: number): number[][] {
  const parts: number[][] = [[0]];
  let used = widths[0] ?? 0;
  for (let column = 1; column < widths.length; column++) {
    const width = widths[column] ?? 0;
    if (used + width > usable && (parts.at(-1)?.length ?? 0) > 1) {
      parts.push([0]);
      used = widths[0] ?? 0;
    }
    parts.at(-1)?.push(column);
    used += width;
  }
  return parts;
}

function newPage(document: Document, write: Write, page: number): number {
  document.addPage();
  document.fillColor(soft);
  write(String(page), 400, 8, document.page.width - margin - 20, margin - 16, 20);
  return margin;
}

function drawLine(
  document: Document,
  write: Write,
  line: readonly Cell[],
  columns: readonly number[],
  widths: readonly number[],
  y: number,
  isHead: boolean,
): number {
  let x = margin;
  const width = columns.reduce((sum, column) => sum + (widths[column] ?? 0), 0);
  const height = isHead ? headHeight : rowHeight;
  if (isHead) document.rect(margin, y, width, height).fill(shade);
  for (const column of columns) {
    document.fillColor(isHead ? soft : ink);
    const text = shown(line[column]);
    for (const [index, part] of (isHead ? inTwo(text) : [text]).entries())
      if (part !== '') write(part, isHead ? 700 : 400, textSize, x + 3, y + 3 + index * lineHeight, (widths[column] ?? 0) - 6);
    x += widths[column] ?? 0;
  }
  document
    .lineWidth(0.4)
    .strokeColor(rule)
    .moveTo(margin, y + height)
    .lineTo(margin + width, y + height)
    .stroke();
  return y + height;
}
