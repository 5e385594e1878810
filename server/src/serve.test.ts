import { setTimeout as pause } from 'node:timers/promises';
import { startSite } from './testing/site.ts';

/* A server that stops lets go of all it holds: nothing of it keeps the process alive. */

/** What keeps the process alive, by kind. */
function held(): Map<string, number> {
  const counts = new Map<string, number>();
  for (const kind of process.getActiveResourcesInfo()) counts.set(kind, (counts.get(kind) ?? 0) + 1);
  return counts;
}
const moreThan = (before: ReadonlyMap<string, number>): string[] =>
  [...held()].flatMap(([kind, count]) => (count > (before.get(kind) ?? 0) ? [kind] : []));

/** Connections of the caller linger for a moment after the last answer. */
const mostPauses = 50;

test('after pages, a past day, a file, a job and a stream that stayed open, nothing is left when it has stopped', async () => {
  const before = held();
  const site = await startSite();
  const mirela = await site.as('mirela');
  const { today } = await mirela.call('me', {});
  const yesterday = new Date(Date.parse(today) - 86_400_000).toISOString().slice(0, 10);
  await Promise.all([mirela.call('tree', {}), mirela.call('progress', { params: { groupId: 1 }, query: { day: yesterday } })]);
  await mirela.call('progressLearnersFile', { params: { groupId: 3 }, query: {} });
  const job = { file: 'progressWorkbook' as const, query: { view: 'groups' }, requestId: crypto.randomUUID() };
  await mirela.call('startFile', { params: { groupId: 3 }, body: job });
  const stream = await mirela.send('live');
  expect(stream.status).toBe(200);
  // It is seen while it runs, so that what is not seen afterwards means something.
  expect(moreThan(before)).not.toEqual([]);

  await site.stop();
  let left = moreThan(before);
  for (let pauses = 0; left.length > 0 && pauses < mostPauses; pauses++) {
    await pause(200);
    left = moreThan(before);
  }
  expect(left).toEqual([]);
});
