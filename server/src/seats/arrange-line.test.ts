import type { Change } from '@gate-roster/contract';
import { type Client, execute, type Site, startSite } from '../testing/site.ts';

/* Partner crews buy seats: 92 for boat handling, all in use, and five people in line. */

const [partners, solan, quay] = [38, 42, 45];
const boats = 1;
let site: Site;
let mirela: Client;
beforeEach(async () => {
  site = await startSite();
  mirela = await site.as('mirela');
});
afterEach(() => site.stop());

const line = async (): Promise<{ id: number; name: string }[]> =>
  (await mirela.call('seatPeople', { params: { groupId: 1 }, query: { list: 'in line' } })).people.map(({ id, name }) => ({ id, name }));
const names = async (): Promise<string[]> => (await line()).map(({ name }) => name);
const arrange = (personIds: number[], how: 'first' | 'swap', groupId = partners): Change => ({
  kind: 'arrange-line',
  licenceId: boats,
  groupId,
  personIds,
  how,
});

test('who is let first gets the next seat; two change places; undone, everybody is where they were', async () => {
  const before = await line();
  const [a, b, c, d, e] = before.map(({ name }) => name);
  const last = before.at(-1)?.id ?? 0;
  const look = await mirela.call('look', { body: { change: arrange([last], 'first') } });
  expect([before.length, look.reordered, look.gaining, look.losing]).toEqual([5, 5, 0, 0]);
  const { changeId } = await mirela.apply(arrange([last], 'first'));
  expect(await names()).toEqual([e, a, b, c, d]);
  const { changeId: swapped } = await mirela.apply(arrange([before[0]?.id ?? 0, before[3]?.id ?? 0], 'swap'));
  expect(await names()).toEqual([e, d, b, c, a]);
  await mirela.apply({ kind: 'undo', changeId: swapped });
  expect(await names()).toEqual([e, a, b, c, d]);

  await mirela.apply({ kind: 'edit-licence', licenceId: boats, values: { seats: 93 } });
  expect(await names()).toEqual([a, b, c, d]);
  // Who has a seat by now keeps it; the others come back to their places.
  const undo = await mirela.call('look', { body: { change: { kind: 'undo', changeId } } });
  expect([undo.reordered, undo.conflicts.map(({ code }) => code)]).toEqual([4, ['changed since']]);
  await mirela.apply({ kind: 'undo', changeId });
  expect(await names()).toEqual([a, b, c, d]);
  const [left] = await execute<{ n: string }>(site.databaseUrl, `select count(*) as n from seat_line where until_at is null`);
  expect(Number(left?.n)).toBe(4);
});

test('a branch arranges the places it has: nobody of another is passed, and who is not in its line stays', async () => {
  const bring = (fullName: string, into: number): Promise<unknown> =>
    mirela.apply({
      kind: 'bring-in-roster',
      into,
      fileName: 'crews.csv',
      hasGroupColumn: false,
      dateOrder: 'yearFirst',
      rows: [{ row: 2, cells: { fullName } }],
    });
  for (const [name, into] of [
    ['Sora One', solan],
    ['Quin One', quay],
    ['Sora Two', solan],
    ['Quin Two', quay],
  ] as const)
    await bring(name, into);
  const before = await line();
  expect(before.slice(-4).map(({ name }) => name)).toEqual(['Sora One', 'Quin One', 'Sora Two', 'Quin Two']);
  const [, quinOne, hildTwo] = before.slice(-4).map(({ id }) => id);
  const ofSolan = (await mirela.call('seatPeople', { params: { groupId: solan }, query: { list: 'in line' } })).people.map(({ id }) => id);
  await mirela.apply(arrange([hildTwo ?? 0, quinOne ?? 0], 'first', solan));
  const after = await line();
  expect(after.find(({ id }) => ofSolan.includes(id))?.name).toBe('Sora Two');
  const others = (list: readonly { id: number }[]): (number | null)[] => list.map(({ id }) => (ofSolan.includes(id) ? null : id));
  expect(others(after)).toEqual(others(before));
  // Somebody who is not in this line cannot be swapped with.
  const blocked = await mirela.call('look', { body: { change: arrange([hildTwo ?? 0, quinOne ?? 0], 'swap', solan) } });
  expect(blocked.conflicts).toMatchObject([{ code: 'nothing to do', blocks: true }]);
});
