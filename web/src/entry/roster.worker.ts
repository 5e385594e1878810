import {
  addTo,
  type CheckedRow,
  checkRoster,
  countOutcomes,
  type DateOrder,
  dateOrderOf,
  detectColumns,
  extendTree,
  foldName,
  type GroupNode,
  isZip,
  type KnownPerson,
  type Line,
  type Mapping,
  mapRows,
  type Preset,
  readTable,
  type RosterField,
  type RosterRow,
  type Table,
  type TableChoices,
  type TableFailure,
  Tree,
} from '@gate-roster/core';
import { expose } from 'comlink';
import { pathsWithout, type WishedLine, wishedTree } from './wished-tree.ts';
import {
  type Cause,
  causeOf,
  type KeptMend,
  type LookUpAnswer,
  type ReadFile,
  bytesAtOnce,
  rowsAtOnce,
  rowsWithChange,
  type RosterSummary,
  type ShownLine,
  type Told,
} from './roster-lines.ts';

/*
 * A file on its way in, off the page's own thread: read, mapped, mended and checked here. The page asks for the lines it
 * shows and for numbers; rows travel only when they are few, or to the server.
 */

let file: File | null = null;
let table: Pick<Table, 'lines'> | null = null;
let mapping: Mapping | null = null;
let rows: RosterRow[] = [];
let checked: CheckedRow[] = [];
let lines: ShownLine[] = [];
const mended = new Map<string, string>();
const left = new Set<number>();
const declined = new Set<string>();
let known: KnownPerson[] = [];
let taken = new Set<string>();
let takenIdNumbers: ReadonlySet<string> = new Set();
let presets: Preset[] = [];
let asked = '';

export interface RosterContext {
  into: number;
  nodes: GroupNode[];
  newGroups: string[];
  mends: KeptMend[];
  isGoodOpen: boolean;
}

const reader = {
  /** Reads a file; detected choices can be corrected. */
  async read(
    given: File | null,
    choices: TableChoices & { sheet?: string },
    groupNames: string[],
    told: Told,
  ): Promise<ReadFile | TableFailure> {
    if (given) {
      file = given;
      for (const each of [mended, left, declined]) each.clear();
      asked = '';
    }
    if (!file) return { problem: 'empty' };
    told('reading', 0);
    const bytes = new Uint8Array(await file.arrayBuffer());
    let sheets: string[] = [];
    let read: Table | TableFailure;
    if (isZip(bytes)) {
      const { readSheet } = await import('./read-sheet.ts');
      const book = await readSheet(bytes, choices.sheet);
      if ('problem' in book) return book;
      ({ sheets } = book);
      read = book.table;
    } else read = readTable(bytes, choices);
    if ('problem' in read) return read;
    told('reading', 1);
    const names = new Set(groupNames.map((name) => name.toLowerCase()));
    table = read;
    mapping = detectColumns(read, (text) => names.has(text.toLowerCase()));
    if (mapping.hasHeader && read.lines.length === 1) return { problem: 'only a header' };
    return {
      encoding: read.encoding,
      delimiter: read.delimiter,
      cleaned: read.cleaned,
      sheets,
      sheet: choices.sheet ?? sheets[0] ?? null,
      lines: read.lines.length,
      mapping,
      headersKey: (read.lines[0]?.cells ?? []).map(foldName).join('|'),
    };
  },

  map(hasHeader: boolean, fields: (RosterField | null)[]): { dateOrder: DateOrder | null; rows: number } {
    if (!table || !mapping) return { dateOrder: null, rows: 0 };
    mapping = { ...mapping, hasHeader, columns: mapping.columns.map((column, index) => ({ ...column, field: fields[index] ?? null })) };
    rows = mapRows(table, hasHeader, fields);
    const order = dateOrderOf(
      fields,
      (hasHeader ? table.lines.slice(1) : table.lines).map(({ cells }: Line) => cells),
    );
    return { dateOrder: order, rows: rows.length };
  },

  /**
   * Checks all rows; whom they may mean is asked of the server first, unless that is known already. One check after the other, each
   * with all that was mended until it begins: an earlier one that waited longer for the server must not have the last word.
   */
  check(context: RosterContext, dateOrder: DateOrder, told: Told): Promise<RosterSummary> {
    const mine = checking.then(() => checkAll(context, dateOrder, told));
    checking = mine.catch(() => undefined);
    return mine;
  },

  arrange: (isGoodOpen: boolean): RosterSummary => arrange(isGoodOpen),
  lines: (from: number, to: number): ShownLine[] => lines.slice(from, to),

  mend(row: number, field: RosterField, text: string): void {
    mended.set(`${row}/${field}`, text);
  },
  /** The same in all rows of a cause that say the same. @returns What was mended, for proposing it next time. */
  mendAlike(field: RosterField, was: string, becomes: string): number {
    const wanted = was.trim().toLowerCase();
    const alike = current().filter(({ cells }) => (cells[field] ?? '').trim().toLowerCase() === wanted);
    for (const { row } of alike) mended.set(`${row}/${field}`, becomes);
    return alike.length;
  },
  /** Takes what is near in every row that has a proposal. */
  takeProposals(cause: string): { was: string; becomes: string }[] {
    const took = new Map<string, string>();
    for (const { row, reason, cells } of checked) {
      if (reason?.code !== 'group unknown' || reason.near === null || causeOf(reason) !== cause) continue;
      // A cell may name several groups: only the unknown one is mended.
      const cell = cells.group ?? '';
      mended.set(`${row}/group`, cell.replace(reason.group, reason.near));
      took.set(reason.group, reason.near);
    }
    return [...took].map(([was, becomes]) => ({ was, becomes }));
  },
  findAndReplace(field: RosterField, find: string, replacement: string): number {
    let count = 0;
    for (const { row, cells } of current()) {
      const cell = cells[field] ?? '';
      if (find === '' || !cell.includes(find)) continue;
      mended.set(`${row}/${field}`, cell.replaceAll(find, replacement));
      count++;
    }
    return count;
  },
  leaveOut(list: number[]): void {
    for (const row of list) left.add(row);
  },
  leaveOutCause(cause: string): void {
    for (const { row, reason } of checked) if (reason && causeOf(reason) === cause) left.add(row);
  },
  takeBackLeft(): void {
    left.clear();
  },
  decline(row: number, field: string, isDeclined: boolean): void {
    if (isDeclined) declined.add(`${row}/${field}`);
    else declined.delete(`${row}/${field}`);
  },
  /** Rows as they go with a change; null when they are too many for that. */
  rowsForChange(): { rows: RosterRow[]; declined: string[] } | null {
    const list = current();
    return list.length > rowsWithChange ? null : { rows: list, declined: [...declined] };
  },
  /** Puts all rows on the server in parts. */
  async upload(fileId: string, told: Told): Promise<{ declined: string[] }> {
    const list = current();
    for (let from = 0, part = 0; from < list.length; part++) {
      told('sending', from / list.length);
      const rowsOfPart = partFrom(list, from);
      from += rowsOfPart.length;
      const answer = await fetch(`/api/v1/roster-files/${fileId}/parts/${part}`, {
        method: 'PUT',
        headers: { 'Content-Type': 'application/json' },
        body: JSON.stringify({ rows: rowsOfPart }),
      });
      if (!answer.ok) throw new Error(String(answer.status));
    }
    told('sending', 1);
    return { declined: [...declined] };
  },
  /** Groups that would be made, as the tree they would be. The page holds only what it shows of them. */
  wishedTree: (): WishedLine[] => wished,
  pathsWithout: (key: string): string[] => (context ? pathsWithout(context.nodes, context.into, context.newGroups, key) : []),
  /** Rows that need a look, for a file of their own. */
  problems: (): CheckedRow[] => checked.filter(({ outcome }) => outcome === 'needs a look'),
};
let checking: Promise<unknown> = Promise.resolve();
let context: RosterContext | null = null;
let wished: WishedLine[] = [];
async function checkAll(given: RosterContext, dateOrder: DateOrder, told: Told): Promise<RosterSummary> {
  const list = current();
  await lookUp(given.into, list, told);
  context = given;
  wished = wishedTree(given.nodes, given.into, given.newGroups);
  const { tree } = extendTree(new Tree(given.nodes), given.into, given.newGroups);
  const fields = new Set(mapping?.columns.map(({ field }) => field));
  checked = checkRoster(
    list,
    {
      tree,
      into: given.into,
      hasGroupColumn: fields.has('group'),
      dateOrder,
      known,
      takenSignInNames: taken,
      takenIdNumbers,
      mayAppoint: (preset) => presets.includes(preset),
      declined,
      proposals: new Map(given.mends.flatMap(({ field, was, becomes }) => (field === 'group' ? [[was, becomes] as const] : []))),
    },
    (done) => {
      told('checking', list.length === 0 ? 1 : done / list.length);
    },
  ).rows;
  return arrange(given.isGoodOpen);
}

export type RosterReader = typeof reader;
expose(reader);

/** As many rows as one request holds: a number, and less than 2 MB. */
function partFrom(list: readonly RosterRow[], from: number): RosterRow[] {
  let bytes = 0;
  let to = from;
  while (to < list.length && to - from < rowsAtOnce) {
    bytes += JSON.stringify(list[to]).length * (/[^\0-\x7f]/u.test(JSON.stringify(list[to])) ? 2 : 1);
    if (bytes > bytesAtOnce && to > from) break;
    to++;
  }
  return list.slice(from, to);
}

const current = (): RosterRow[] =>
  rows.flatMap((each) => {
    if (left.has(each.row)) return [];
    const cells = { ...each.cells };
    let isMended = false;
    for (const field of Object.keys(cells) as RosterField[]) {
      const text = mended.get(`${each.row}/${field}`);
      if (text === undefined) continue;
      cells[field] = text;
      isMended = true;
    }
    return [isMended ? { ...each, cells } : each];
  });

/** Whom these rows may mean, in parts; asked anew only when their keys are otherwise. */
async function lookUp(into: number, list: readonly RosterRow[], told: Told): Promise<void> {
  const of = (field: 'email' | 'idNumber' | 'signInName'): string[] => [
    ...new Set(list.flatMap(({ cells }) => (cells[field]?.trim() ? [cells[field].trim().normalize('NFC')] : []))),
  ];
  const keys = { emails: of('email'), idNumbers: of('idNumber'), signInNames: of('signInName') };
  const key = `${into} ${JSON.stringify(keys)}`;
  if (key === asked) return;
  const most = Math.max(1, ...Object.values(keys).map(({ length }) => length));
  const found = new Map<number, KnownPerson>();
  const names = new Set<string>();
  const takenNumbers = new Set<string>();
  for (let from = 0; from < most; from += rowsAtOnce) {
    told('looking up', from / most);
    const body = Object.fromEntries(Object.entries(keys).map(([name, values]) => [name, values.slice(from, from + rowsAtOnce)]));
    const answer = await fetch(`/api/v1/groups/${into}/roster/known`, {
      method: 'POST',
      headers: { 'Content-Type': 'application/json' },
      body: JSON.stringify(body),
    });
    if (!answer.ok) throw new Error(String(answer.status));
    const { known: people, takenSignInNames, takenIdNumbers: numbers, presets: given } = (await answer.json()) as LookUpAnswer;
    for (const person of people) found.set(person.id, person);
    for (const name of takenSignInNames) names.add(name);
    for (const number of numbers) takenNumbers.add(number);
    presets = given;
  }
  known = [...found.values()];
  taken = names;
  takenIdNumbers = takenNumbers;
  asked = key;
}

/** Lines as they are shown: rows that need a look on top, by cause, then the good ones, folded while there are others. */
function arrange(isGoodOpen: boolean): RosterSummary {
  const byCause = new Map<Cause, CheckedRow[]>();
  const good: CheckedRow[] = [];
  for (const row of checked) {
    if (!row.reason) good.push(row);
    else {
      const cause = causeOf(row.reason);
      addTo(byCause, cause, row);
    }
  }
  const causes = [...byCause].map(([cause, list]) => ({
    cause,
    rows: list.length,
    proposals: list.filter(({ reason }) => reason?.code === 'group unknown' && reason.near !== null).length,
    groups: [...new Set(list.flatMap(({ reason }) => (reason?.code === 'group unknown' ? [reason.group] : [])))],
  }));
  // What was declined stands with them, so that it can be taken after all.
  const isChanging = ({ changes, declined: kept }: CheckedRow): boolean => changes.length + kept.length > 0;
  const changing = good.filter(isChanging);
  const settled = good.filter((row) => !isChanging(row));
  lines = [
    ...causes.flatMap(({ cause, rows: count, proposals }): ShownLine[] => [
      { kind: 'cause', cause, rows: count, proposals },
      ...(byCause.get(cause) ?? []).map((row): ShownLine => ({ kind: 'row', row })),
    ]),
    ...(changing.length > 0
      ? [{ kind: 'changing' as const, rows: changing.length }, ...changing.map((row): ShownLine => ({ kind: 'row', row }))]
      : []),
    { kind: 'good', rows: settled.length, left: left.size },
    ...(isGoodOpen || (causes.length === 0 && changing.length === 0) ? settled.map((row): ShownLine => ({ kind: 'row', row })) : []),
  ];
  return {
    counts: countOutcomes(checked),
    lines: lines.length,
    causes,
    left: left.size,
    rows: checked.length,
    withAddress: checked.filter(({ outcome, cells }) => outcome === 'new' && (cells.email ?? '').trim() !== '').length,
  };
}
