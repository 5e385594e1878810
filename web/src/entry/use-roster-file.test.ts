import { fileLimits, type RosterField } from '@gate-roster/core';
import { afterAll, afterEach, beforeEach, expect, test } from '@jest/globals';
import { computed, effectScope, type EffectScope, isProxy } from 'vue';
import { ShownTree } from '../groups/tree-query.ts';
import { answerWith } from '../testing/answers.ts';
import { treeRow } from '../testing/tree-row.ts';
import { type RosterFile, useRosterFile } from './use-roster-file.ts';

/* The page's side of a file on its way in, with the real worker behind it, in this process. */

type Listener = (event: { data: unknown; origin: string }) => void;
/** As what is sent arrives: a copy, and nothing that Vue watches, which a browser refuses to send. */
function copied(value: unknown): unknown {
  if (isProxy(value)) throw new TypeError('could not be cloned');
  if (Array.isArray(value)) return value.map(copied);
  if (typeof value !== 'object' || value === null || Object.getPrototypeOf(value) !== Object.prototype) return value;
  return Object.fromEntries(Object.entries(value).map(([key, each]) => [key, copied(each)]));
}
const sides = [new Set<Listener>(), new Set<Listener>()] as const;
const endOf = (here: 0 | 1) => ({
  addEventListener: (_: string, listener: Listener) => sides[here].add(listener),
  removeEventListener: (_: string, listener: Listener) => sides[here].delete(listener),
  postMessage(message: unknown) {
    const data = copied(message);
    for (const listener of sides[here === 0 ? 1 : 0])
      setTimeout(() => {
        listener({ data, origin: '' });
      });
  },
});
const channels: MessageChannel[] = [];
Object.assign(globalThis, {
  ...endOf(1),
  MessageChannel: class extends MessageChannel {
    constructor() {
      super();
      channels.push(this);
    }
  },
  Worker: class {
    constructor() {
      return { ...endOf(0), terminate: () => undefined };
    }
  },
});
await import('./roster.worker.ts');
afterAll(() => {
  for (const { port1, port2 } of channels) for (const port of [port1, port2]) port.close();
});

const tree = new ShownTree([treeRow(1, null, 'Isles'), treeRow(3, 1, 'Gullhaven'), treeRow(4, 3, 'Cadets')]);

const nothingKept = { mappings: [], mends: [] };
const nobodyKnown = { known: [], takenSignInNames: [], takenIdNumbers: [], presets: [] };
const whole = { mode: 'add', mostLeaving: null, write: false } as never;
let server: ReturnType<typeof answerWith>;
let scope: EffectScope;
let file: RosterFile;
beforeEach(() => {
  server = answerWith();
  scope = effectScope();
  const used = scope.run(() =>
    useRosterFile(
      computed(() => 3),
      computed(() => tree),
    ),
  );
  if (!used) throw new Error('no scope');
  file = used;
});
afterEach(() => {
  scope.stop();
  server.stop();
});
function open(text: string, kept: object = nothingKept): Promise<void> {
  server.answerWith({ json: kept }, { json: nobodyKnown });
  return file.open(new File([text], 'people.csv'));
}
const fields = (): (RosterField | null)[] | undefined => file.mapping.value?.columns.map(({ field }) => field);

test('a file is read, its columns are found and its rows checked, and the change holds what it says', async () => {
  await open('Given name,Family name,Email,Group\nAda,Lind,ada@lind.example,Cadets\nBo,Marsh,bo@marsh.example,Cadets\n');
  expect(fields()).toEqual(['givenName', 'familyName', 'email', 'group']);
  expect([file.problem.value, file.isReady.value, file.busy.value]).toEqual([null, true, null]);
  expect(file.summary.value).toMatchObject({ rows: 2, counts: { new: 2 }, withAddress: 2 });
  expect(await file.change(whole)).toMatchObject({
    kind: 'bring-in-roster',
    into: 3,
    fileName: 'people.csv',
    hasGroupColumn: true,
    rows: [{ cells: { givenName: 'Ada', group: 'Cadets' } }, { cells: { givenName: 'Bo' } }],
  });
});

test('nothing is brought in before there is a column of names; a field that is chosen for one column leaves the other', async () => {
  await open('Colour,Size\nred,4\nblue,5\n');
  expect([file.problem.value, file.isReady.value, await file.change(whole)]).toEqual(['no names', false, null]);
  await file.setField(0, 'fullName');
  expect([file.problem.value, file.isReady.value]).toEqual([null, true]);
  await file.setField(1, 'fullName');
  expect(fields()).toEqual([null, 'fullName']);
});

test('days that can be read both ways are asked about, and checked once that is said', async () => {
  await open('Name,First day\nAda Lind,03/04/2027\nBo Marsh,05/06/2027\n');
  expect([file.problem.value, file.summary.value]).toEqual(['date order', null]);
  await file.setDateOrder('monthFirst');
  expect([file.problem.value, file.summary.value?.rows]).toEqual([null, 2]);
  expect(await file.change(whole)).toMatchObject({ dateOrder: 'monthFirst' });
});

test('columns are taken as they were kept for a file with the same headers, and kept under a name', async () => {
  const kept = { id: 1, name: 'Intake', headersKey: 'who|what', columns: ['fullName', 'tags'], dateOrder: null };
  await open('Who,What\nAda Lind,spare\n', { mappings: [kept], mends: [] });
  expect([fields(), file.usedMapping.value]).toEqual([['fullName', 'tags'], 'Intake']);
  await file.keepMapping('Autumn');
  expect(server.sent.at(-1)?.body).toEqual({
    name: 'Autumn',
    headersKey: 'who|what',
    columns: ['fullName', 'tags'],
    dateOrder: 'dayFirst',
  });
  expect(file.usedMapping.value).toBe('Autumn');
});

test('what was corrected is in the change, and proposed for the next file only where it is nobody’s own', async () => {
  await open('Name,Email,Group\nAda Lind,ada(at)lind.example,Cadetts\nBo Marsh,bo@marsh.example,Cadetts\n');
  expect(file.summary.value?.causes.map(({ cause, rows }) => [cause, rows])).toEqual(
    expect.arrayContaining([['group', expect.any(Number)]]),
  );
  await file.mendAlike('group', 'Cadetts', 'Cadets');
  await file.mend(2, 'email', 'ada(at)lind.example', 'ada@lind.example');
  expect(file.summary.value).toMatchObject({ causes: [], counts: { new: 2 } });
  expect((await file.change(whole)) as object).toMatchObject({
    rows: [{ cells: { email: 'ada@lind.example', group: 'Cadets' } }, { cells: { group: 'Cadets' } }],
  });
  await file.keepMends();
  expect(server.sent.at(-1)?.body).toEqual({ mends: [{ field: 'group', was: 'Cadetts', becomes: 'Cadets' }] });
});

test('rows that are left out are not brought in, and come back together', async () => {
  await open('Name\nAda Lind\nBo Marsh\nCy Tern\n');
  await file.leaveOut(3);
  expect([file.summary.value?.rows, file.summary.value?.left]).toEqual([2, 1]);
  expect(await file.change(whole)).toMatchObject({ rows: [{ cells: { fullName: 'Ada Lind' } }, { cells: { fullName: 'Cy Tern' } }] });
  await file.takeBackLeft();
  expect(file.summary.value?.rows).toBe(3);
});

test('of several checks at once the last one counts', async () => {
  await open('Name,Group\nAda Lind,Cadets\n');
  const before = file.version.value;
  await Promise.all([
    file.mend(2, 'group', 'Cadets', 'x'),
    file.mend(2, 'group', 'Cadets', 'y'),
    file.mend(2, 'group', 'Cadets', 'Cadets'),
  ]);
  expect([file.version.value, file.summary.value?.counts.new, file.busy.value]).toEqual([before + 1, 1, null]);
});

test('groups that are to be made are asked for once each and shown as the tree they would be', async () => {
  await open('Name,Group\nAda Lind,Kite crew\n');
  expect(file.summary.value?.counts.new).toBe(0);
  await file.makeGroups(['Kite crew']);
  await file.makeGroups(['Kite crew']);
  expect([file.newGroups.value, file.summary.value?.counts.new]).toEqual([['Kite crew'], 1]);
  expect(file.wished.value.some(({ name, isNew }) => name === 'Kite crew' && isNew)).toBe(true);
  expect(await file.change(whole)).toMatchObject({ newGroups: ['Kite crew'] });
  await file.makeGroups(Array.from({ length: fileLimits.newGroups + 1 }, (_, index) => `Crew ${index}`));
  expect([file.problem.value, file.newGroups.value.length]).toEqual(['too many groups', 1]);
});

test('a file over the limit is not even read, one that is none says why, and the next one begins afresh', async () => {
  const large = new File([''], 'large.csv');
  Object.defineProperty(large, 'size', { value: fileLimits.bytes + 1 });
  await file.open(large);
  expect([file.problem.value, file.name.value, server.sent.length]).toEqual(['too large', 'large.csv', 0]);
  await open('');
  expect(file.problem.value).toBe('empty');
  await open('Name\nAda Lind\n');
  expect([file.problem.value, file.isReady.value]).toEqual([null, true]);
  await open('Name\n');
  expect([file.problem.value, file.isReady.value, file.mapping.value]).toEqual(['only a header', false, null]);
});
