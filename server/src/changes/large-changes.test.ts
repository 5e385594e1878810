import { randomUUID } from 'node:crypto';
import path from 'node:path';
import { pathToFileURL } from 'node:url';
import type { Change } from '@gate-roster/contract';
import { maybeActor, type SignedIn } from '../accounts/actor.ts';
import { type Client, type Site, startSite } from '../testing/site.ts';
import { Thread } from '../threads/thread.ts';
import { LargeChanges, mayBeLarge } from './large-changes.ts';
import { lockTotals } from './roster-lock.ts';

/* Changes of many people, worked out in the thread of a large site, as it is built: the same as where they are asked. */

const [northReach, gullhaven] = [2, 3];
const elsewhere = 20;
let site: Site;
let mirela: Client;
let large: LargeChanges;
beforeAll(async () => {
  site = await startSite();
  mirela = await site.as('mirela');
  const built = pathToFileURL(path.join(import.meta.dirname, '../../dist/changes-thread.js')).href;
  large = new LargeChanges({ isLarge: async () => Promise.resolve(true) }, new Thread(built, site.deps.settings));
});
afterAll(async () => {
  await large.stop();
  await site.stop();
});

async function actorOf(client: Client): Promise<SignedIn> {
  const { personId } = await client.call('me', {});
  const actor = await maybeActor(site.deps.db, personId, new Date());
  if (!actor) throw new Error('nobody');
  return actor;
}
const move = (intoId: number): Change => ({ kind: 'move-groups', groupIds: [gullhaven], intoId });

test('it looks the same, is applied once for a request, waits for the lock, and can be undone', async () => {
  const actor = await actorOf(mirela);
  const look = await large.ask('look', { actor, change: move(elsewhere) });
  expect(look).toEqual(await mirela.call('look', { body: { change: move(elsewhere) } }));

  const waits = lockTotals.waits;
  const asked = { actorId: actor.personId, change: move(elsewhere), digest: look?.digest ?? '', requestId: randomUUID() };
  const [first, second] = [await large.ask('apply', asked), await large.ask('apply', asked)];
  expect(first).toEqual(second);
  expect(lockTotals.waits).toBe(waits + 2);
  const parentOf = async (): Promise<number | null | undefined> =>
    (await mirela.call('tree', {})).groups.find(({ id }) => id === gullhaven)?.parentId;
  expect(await parentOf()).toBe(elsewhere);

  const undo: Change = { kind: 'undo', changeId: first?.changeId ?? 0 };
  const back = await large.ask('look', { actor, change: undo });
  await large.ask('apply', { ...asked, change: undo, digest: back?.digest ?? '', requestId: randomUUID() });
  expect(await parentOf()).toBe(northReach);
});

test('what is refused is refused in the same words, with the look that holds now', async () => {
  const actor = await actorOf(mirela);
  const asked = { change: move(elsewhere), digest: 'another', requestId: randomUUID() };
  const look = await mirela.call('look', { body: { change: move(elsewhere) } });
  await expect(large.ask('apply', { ...asked, actorId: actor.personId })).rejects.toMatchObject({
    code: 'effects-differ',
    details: { look },
  });
  const ottoline = await site.as('ottoline');
  expect((await ottoline.send('look', { body: { change: move(elsewhere) } })).status).toBe(404);
  await expect(large.ask('look', { actor: await actorOf(ottoline), change: move(elsewhere) })).rejects.toMatchObject({ code: 'not-found' });
});

test('large is what names many people, or moves branches, or may have done so; the rest is worked out where it is asked', async () => {
  const add = (count: number): Change => ({
    kind: 'add-members',
    groupId: gullhaven,
    personIds: Array.from({ length: count }, (_, index) => index + 1),
    firstDay: null,
    lastDay: null,
  });
  expect([add(199), add(200), move(elsewhere)].map(mayBeLarge)).toEqual([false, true, true]);
  expect(await large.ask('look', { actor: await actorOf(mirela), change: add(2) })).toBeNull();
});
